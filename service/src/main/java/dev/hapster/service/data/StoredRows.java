package dev.hapster.service.data;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.hapster.core.catalogue.Part;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.part.Parts;
import dev.hapster.core.query.sorted.Rankings;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.store.DamagedPartException;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.Span;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.catalogue.StoredCatalogue;
import dev.hapster.service.runs.StoreCheck;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Asks the parts of a dataset. Thread-safe. */
@ApplicationScoped
public class StoredRows {

    private final Workspace workspace;
    private final StoredCatalogue records;
    private final PartStore parts;
    private final StoreCheck store;
    private final Rankings rankings = new Rankings();
    /** What questions need of a list of parts, as long as the catalogue gives the same list (and not an equal one). */
    private final Cache<List<Part>, Located> located =
            Caffeine.newBuilder().weakKeys().build();

    /** @param jobs by the number of the run that brought a part */
    private record Located(Parts parts, Map<Long, String> jobs) {}

    StoredRows(Workspace workspace, StoredCatalogue records, PartStore parts, StoreCheck store) {
        this.workspace = workspace;
        this.records = records;
        this.parts = parts;
        this.store = store;
    }

    /** A question to a dataset. */
    public interface Question<T> {
        T ask(DatasetQuery rows) throws IOException, QueryException;
    }

    /**
     * What was found.
     *
     * @param leftOut what is wrong with parts that were left out, a sentence each
     */
    public record Answer<T>(T found, List<String> leftOut) {}

    /**
     * Asks all parts of a dataset.
     *
     * @param partial whether parts that are missing or damaged are left out; otherwise there is no answer then
     * @throws DamagedPartException where a part is missing or damaged
     */
    public <T> Answer<T> ask(String dataset, boolean partial, Question<T> question)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        DatasetDef def = workspace.dataset(dataset);
        return parts.reading(() -> ask(dataset, def, partial, question));
    }

    /** A part with where its rows lie. */
    public record Placed(Part part, Span span) {}

    /** Where the rows of a dataset lie now. */
    public List<Placed> where(String dataset) {
        return records.parts(dataset).stream()
                .map(part -> new Placed(part, parts.span(part.name())))
                .toList();
    }

    /** A folder for files of an answer that do not outlive it. */
    public Path scratch() {
        return parts.staging();
    }

    /** Asks parts of which the names were asked for just now. */
    public <T> T reading(PartStore.Question<T, QueryException> question) throws IOException, QueryException {
        return parts.reading(question);
    }

    /** Writes an answer that reads parts, of which the names were asked for just now. */
    public long writing(PartStore.Question<Long, IOException> answer) throws IOException {
        return parts.reading(answer);
    }

    private <T> Answer<T> ask(String dataset, DatasetDef def, boolean partial, Question<T> question)
            throws IOException, QueryException {
        Map<Path, String> out = new LinkedHashMap<>();
        int changes = 0;
        while (true) {
            try {
                List<Part> counting = records.parts(dataset);
                Located known = out.isEmpty() ? located.get(counting, all -> locate(all, out)) : locate(counting, out);
                return new Answer<>(
                        question.ask(new DatasetQuery(def, known.parts(), rankings, known.jobs())),
                        List.copyOf(out.values()));
            } catch (DamagedPartException damaged) {
                if (isGone(damaged) && ++changes < MOST_CHANGES) {
                    continue; // its dataset was renamed, or the part let go of, since we asked for its name
                }
                String what = told(damaged);
                if (!partial || out.put(damaged.part(), what) != null) {
                    throw damaged;
                }
            }
        }
    }

    /** @param out files that are left out */
    private Located locate(List<Part> counting, Map<Path, String> out) {
        Map<Long, String> jobs = new HashMap<>();
        counting.forEach(part -> jobs.put(part.run(), part.job()));
        List<PartFile> files = counting.stream()
                .map(part -> new PartFile(
                        parts.span(part.name()),
                        part.job() + "\n" + part.source(),
                        part.arrival() + " " + part.content(),
                        part.rows(),
                        part.masked()))
                .filter(part -> !out.containsKey(part.path()))
                .toList();
        return new Located(new Parts(files), jobs);
    }

    /** How often the parts may become others while they are asked. */
    private static final int MOST_CHANGES = 10;

    /** Whether the catalogue does not know a part any more. */
    private boolean isGone(DamagedPartException damaged) {
        return known(damaged).isEmpty() && !Files.exists(damaged.part());
    }

    private List<Part> known(DamagedPartException damaged) {
        return records.datasets().stream()
                .flatMap(dataset -> records.parts(dataset).stream())
                .filter(part -> parts.path(part.name()).equals(damaged.part())
                        || parts.deletions(part.name()).equals(damaged.part()))
                .toList();
    }

    /** How large the parts of a dataset are, in bytes; of one that is missing nothing is known. */
    public long bytes(String dataset) {
        return records.parts(dataset).stream()
                .map(part -> parts.path(part.name()))
                .distinct()
                .mapToLong(file -> file.toFile().length())
                .sum();
    }

    /**
     * What is wrong with a part, the file that its rows are from, and what helps. From now on the health says it too.
     */
    public String told(DamagedPartException damaged) {
        if (isGone(damaged)) {
            return damaged.part().getFileName() + " is gone since the rows were asked for: others count now, or the "
                    + "dataset has another name. Ask again";
        }
        String what = damaged.getMessage() + StoreCheck.cure(known(damaged));
        store.met(what);
        return what;
    }
}
