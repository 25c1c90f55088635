package dev.hapster.core.draft;

import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.draft.reading.Evidence;
import dev.hapster.core.draft.reading.ReadChoice;
import dev.hapster.core.draft.reading.Reading;
import dev.hapster.core.draft.reading.TextReading;
import dev.hapster.core.draft.reading.WorkbookReading;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Finder;
import dev.hapster.core.find.Finding;
import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.read.Formats;
import dev.hapster.core.read.Signature;
import dev.hapster.core.read.bytes.Archive;
import dev.hapster.core.read.preview.Peek;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.open.SourceContent;
import dev.hapster.core.run.open.SourceStream.SourceException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Future;
import java.util.function.BiConsumer;

/** Lists the files that a draft is asked about, and finds out how each is read. */
final class FileLook {

    private static final int DEPTH = 4;
    private static final int AHEAD = 8;
    private static final int MOST_FILES = 20_000;
    private static final int MOST_ENTRIES = 2_000;
    private static final int LOOKED = 1_000;
    private static final int HEAD = 12;
    private static final int WIDEST = 300;

    private final Finder finder;
    private final Opener opener;
    private final ExecutorService workers;

    FileLook(Finder finder, Opener opener, ExecutorService workers) {
        this.finder = finder;
        this.opener = opener;
        this.workers = workers;
    }

    /**
     * What lies where a draft is asked to look.
     *
     * @param found what was asked for
     * @param beside names of files in the same folders that were not asked for
     */
    record All(List<Found> found, List<Candidate> beside) {}

    /**
     * Looks at all files.
     *
     * @param choice what people decided of how text files are read
     * @throws IOException with a sentence for people, where a folder cannot be searched
     */
    All at(List<Path> paths, ReadChoice choice) throws IOException {
        List<Candidate> asked = new ArrayList<>();
        List<Candidate> beside = new ArrayList<>();
        List<Path> folders = new ArrayList<>();
        for (Path path : paths.stream()
                .distinct()
                .sorted(Comparator.comparing(Path::toString))
                .toList()) {
            boolean isFile = Files.isRegularFile(path);
            if (!isFile && !Files.isDirectory(path)) {
                throw new IOException("There is no file and no folder " + path);
            }
            Path folder = isFile ? path.getParent() : path;
            boolean known = folders.contains(folder);
            List<Candidate> listed = known ? List.of() : list(folder, isFile ? 0 : DEPTH);
            if (isFile && known) {
                beside.stream().filter(one -> one.path().equals(path)).toList().forEach(asked::add);
                beside.removeIf(one -> one.path().equals(path));
                continue;
            }
            folders.add(folder);
            for (Candidate one : listed) {
                (isFile && !one.path().equals(path) ? beside : asked).add(one);
            }
        }
        asked.sort(Comparator.comparing((Candidate one) -> one.path().toString()));
        List<Found> found = new ArrayList<>();
        each(asked, one -> look(one, folderOf(one, folders), choice), (one, some) -> found.addAll(some));
        return new All(found, beside);
    }

    private static Path folderOf(Candidate file, List<Path> folders) {
        return folders.stream()
                .filter(file.path()::startsWith)
                .max(Comparator.comparing(Path::getNameCount))
                .orElseThrow();
    }

    /** The first lines or rows of a file as they stand there, cut where they are long. */
    List<String> head(Found found) throws IOException {
        Read read = found.reading().orElseThrow().read();
        try (SourceContent content = opener.content(found.file())) {
            return Peek.of(content, false, read, found.file().sheet(), 1, HEAD).lines().stream()
                    .map(Peek.Line::text)
                    .map(text -> text.length() > WIDEST ? text.substring(0, WIDEST) + "…" : text)
                    .toList();
        }
    }

    /** Whether all that a file holds is of the kind of a group. */
    boolean isLike(Candidate file, FileGroup group, ReadChoice choice) throws IOException {
        List<Found> held = look(file, group.files().get(0).folder(), choice);
        return held.stream()
                .anyMatch(one -> one.reading().isPresent()
                        && FileGroup.of(List.of(group.files().get(0), one)).size() == 1);
    }

    /** What is done with one file, on a worker. */
    interface Work<F, T> {
        T of(F file) throws IOException;
    }

    /**
     * Works on all files on the workers, and takes the outcomes in their order on this thread. Only a few files are
     * ahead, since their outcomes may be large.
     */
    <F, T> void each(List<F> files, Work<F, T> work, BiConsumer<F, T> taker) throws IOException {
        Deque<Future<T>> ahead = new ArrayDeque<>();
        try {
            for (int next = 0, taken = 0; taken < files.size(); taken++) {
                for (; next < files.size() && ahead.size() < AHEAD; next++) {
                    F file = files.get(next);
                    ahead.add(workers.submit(() -> work.of(file)));
                }
                taker.accept(files.get(taken), ahead.remove().get());
            }
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new IOException("The service is shutting down", stopped);
        } catch (ExecutionException wrong) {
            if (wrong.getCause() instanceof IOException told) {
                throw told;
            }
            throw new IOException("A file could not be looked at: " + wrong.getCause(), wrong.getCause());
        } finally {
            ahead.forEach(one -> one.cancel(true));
        }
    }

    private List<Candidate> list(Path folder, int depth) throws IOException {
        Place place = new Place(
                folder.toString(), depth, List.of(new FindRule.Take(List.of(NamePattern.of("**")))), Optional.empty());
        Finding finding = finder.find(List.of(place));
        for (Finding.Trouble trouble : finding.troubles()) {
            if (trouble.grave()) {
                throw new IOException(trouble.what() + (trouble.hint().isEmpty() ? "" : ". " + trouble.hint()));
            }
        }
        List<Candidate> taken = finding.taken();
        if (taken.size() > MOST_FILES) {
            throw new IOException(folder + " holds more than " + MOST_FILES
                    + " files; name a folder further down, or some of the files");
        }
        return taken;
    }

    /** A file, or what lies within it. */
    private List<Found> look(Candidate file, Path folder, ReadChoice choice) throws IOException {
        try (SourceContent content = opener.content(file)) {
            Signature signature = Signature.of(content);
            if (signature == Signature.ZIP) {
                return entries(file, folder, choice);
            }
            if (signature == Signature.XLSX || signature == Signature.XLS) {
                List<Found> sheets = new ArrayList<>();
                for (String sheet : Formats.sheets(content)) {
                    sheets.add(one(inside(file, Optional.empty(), Optional.of(sheet)), folder, signature, choice));
                }
                return sheets;
            }
            return List.of(one(file, folder, signature, choice));
        } catch (FileRejectedException wrong) {
            return List.of(
                    new Found(file, folder, Optional.empty(), wrong.reason().sentence()));
        } catch (SourceException wrong) {
            return List.of(
                    new Found(file, folder, Optional.empty(), wrong.reason().sentence()));
        }
    }

    private List<Found> entries(Candidate file, Path folder, ReadChoice choice) throws IOException, SourceException {
        List<Found> found = new ArrayList<>();
        List<Archive.Entry> entries = Archive.entries(opener.roots().open(file.path()));
        if (entries.size() > MOST_ENTRIES) {
            return List.of(new Found(
                    file, folder, Optional.empty(), "is an archive with more than " + MOST_ENTRIES + " entries"));
        }
        for (Archive.Entry entry : entries) {
            Candidate inside = inside(file, Optional.of(entry.name()), Optional.empty());
            try (SourceContent content = opener.content(inside)) {
                found.add(one(inside, folder, Signature.of(content), choice));
            } catch (FileRejectedException wrong) {
                found.add(new Found(
                        inside, folder, Optional.empty(), wrong.reason().sentence()));
            }
        }
        return found;
    }

    private static Candidate inside(Candidate file, Optional<String> entry, Optional<String> sheet) {
        return new Candidate(
                file.place(),
                file.path(),
                file.relative()
                        + entry.map(name -> NamePattern.INSIDE + name).orElse("")
                        + sheet.map(name -> "!" + name).orElse(""),
                file.size(),
                file.modified(),
                file.birth(),
                true,
                file.rule(),
                false,
                Optional.empty(),
                file.waiting(),
                entry,
                sheet,
                Optional.empty(),
                Optional.empty());
    }

    private Found one(Candidate file, Path folder, Signature signature, ReadChoice choice) throws IOException {
        try (SourceContent content = opener.content(file)) {
            return new Found(file, folder, Optional.of(reading(file, content, signature, choice)), "");
        } catch (FileRejectedException wrong) {
            return new Found(file, folder, Optional.empty(), wrong.reason().sentence());
        } catch (SourceException wrong) {
            return new Found(file, folder, Optional.empty(), wrong.reason().sentence());
        }
    }

    private static Reading reading(Candidate file, SourceContent content, Signature signature, ReadChoice choice)
            throws IOException, FileRejectedException {
        if (file.waiting().isPresent() && !file.waiting().get().young()) {
            throw new FileRejectedException(dev.hapster.core.reason.Reasons.damaged(
                    "is not complete: it " + file.waiting().get().sentence()));
        }
        if (file.sheet().isPresent()) {
            return WorkbookReading.of(content, file.sheet().get());
        }
        if (signature == Signature.PARQUET) {
            Read read = Read.USUAL.with(ReadSection.AS, Format.PARQUET);
            try (RecordReader reader = Formats.open(content, read, Optional.empty(), Optional.empty(), LOOKED)) {
                List<String> names = reader.header().names();
                return new Reading(
                        read,
                        names,
                        names.size(),
                        List.of(new Evidence("as", "parquet", "it begins with the mark of Parquet")),
                        List.of(),
                        true,
                        true,
                        List.of());
            }
        }
        if (signature != Signature.TEXT) {
            throw new FileRejectedException(dev.hapster.core.reason.Reasons.damaged(
                    "is " + signature.noun() + ", which Hapster does not read"));
        }
        return TextReading.of(content, choice);
    }
}
