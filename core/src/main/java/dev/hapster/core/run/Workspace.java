package dev.hapster.core.run;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.DefinitionException;
import dev.hapster.core.definition.Definitions;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.Problem;
import java.io.IOException;
import java.nio.charset.CharacterCodingException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * A folder with definitions. The files are the truth: they are read anew each time. Thread-safe.
 */
public final class Workspace {

    private static final String SUFFIX = ".yaml";
    private static final long MOST_BYTES = 1_000_000;

    private final Path folder;

    public Workspace(Path folder) {
        this.folder = folder.toAbsolutePath().normalize();
    }

    public Path folder() {
        return folder;
    }

    /** The folder in which Hapster keeps what is its own. */
    public Path store() {
        return folder.resolve("store");
    }

    public Set<String> jobs() throws IOException {
        return names("jobs");
    }

    public Set<String> datasets() throws IOException {
        return names("datasets");
    }

    private Set<String> names(String kind) throws IOException {
        Set<String> names = new TreeSet<>();
        Path of = folder.resolve(kind);
        if (Files.isDirectory(of)) {
            try (DirectoryStream<Path> files = Files.newDirectoryStream(of, "*" + SUFFIX)) {
                for (Path file : files) {
                    String name = file.getFileName().toString();
                    names.add(name.substring(0, name.length() - SUFFIX.length()));
                }
            }
        }
        return names;
    }

    public DatasetDef dataset(String name) throws IOException, DefinitionException, UnknownNameException {
        if (!datasets().contains(name)) {
            throw new UnknownNameException("dataset", name, datasets());
        }
        String file = "datasets/" + name + SUFFIX;
        return Definitions.dataset(file, text(file));
    }

    /** The job, checked against its dataset. Mistakes of the dataset's file are reported with those of the job's. */
    public JobDef job(String name) throws IOException, DefinitionException, UnknownNameException {
        String text = jobText(name);
        String file = "jobs/" + name + SUFFIX;
        Set<String> known = datasets();
        List<Problem> ofDataset = new java.util.ArrayList<>();
        try {
            JobDef job = Definitions.job(file, text, dataset -> quietly(dataset, known, ofDataset), known);
            if (!ofDataset.isEmpty()) {
                throw new DefinitionException(ofDataset);
            }
            return job;
        } catch (DefinitionException wrong) {
            List<Problem> all = new java.util.ArrayList<>(wrong.problems());
            ofDataset.stream().filter(problem -> !all.contains(problem)).forEach(all::add);
            throw new DefinitionException(all);
        }
    }

    private Optional<DatasetDef> quietly(String dataset, Set<String> known, List<Problem> problems) {
        if (!known.contains(dataset)) {
            return Optional.empty();
        }
        try {
            return Optional.of(dataset(dataset));
        } catch (DefinitionException wrong) {
            problems.addAll(wrong.problems());
        } catch (IOException | UnknownNameException wrong) {
            problems.add(new Problem("datasets/" + dataset + SUFFIX, 0, 0, "cannot be read: " + wrong.getMessage(), ""));
        }
        return Optional.empty();
    }

    /** The text of a job's file, also where it has mistakes. */
    public String jobText(String name) throws IOException, DefinitionException, UnknownNameException {
        if (!jobs().contains(name)) {
            throw new UnknownNameException("job", name, jobs());
        }
        return text("jobs/" + name + SUFFIX);
    }

    private String text(String file) throws IOException, DefinitionException {
        Path path = folder.resolve(file);
        if (Files.size(path) > MOST_BYTES) {
            throw new DefinitionException(List.of(new Problem(file, 0, 0, "the file is larger than 1 MB", "A definition is a small text; is this the right file?")));
        }
        try {
            return Files.readString(path);
        } catch (CharacterCodingException wrong) {
            throw new DefinitionException(List.of(new Problem(file, 0, 0, "the file is not UTF-8 text", "Save it as UTF-8")));
        }
    }
}
