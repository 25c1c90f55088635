package dev.hapster.core.store.reject;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import de.siegmar.fastcsv.writer.CsvWriter;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.row.RejectedRow;
import dev.hapster.core.row.RejectedRow.Fault;
import dev.hapster.core.row.SetAsideRow;
import dev.hapster.core.store.PartStore;
import java.io.IOException;
import java.io.OutputStream;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.LongPredicate;
import java.util.function.Predicate;
import java.util.stream.Stream;

/**
 * What each run rejected in one CSV file (RFC 4180, UTF-8), {@code rejects/run-14.csv}: a line for each fault, so that
 * a row with two faults has two lines, and a line for each rejected file; and what it set aside in another,
 * {@code aside/run-14.csv}.
 *
 * <p>While a run goes on, what concerns one file stands in a file of its own under {@code rejects/run-14/}, whole
 * before the file is committed; at the end they are put together. Thread-safe but for {@link FileRejects}.
 */
public final class RejectStore {

    public static final List<String> COLUMNS = List.of(
            "run",
            "job",
            "file",
            "path",
            "line",
            "fault",
            "column",
            "value",
            "code",
            "reason",
            "original",
            "row",
            "fields",
            "source");
    public static final List<String> ASIDE_COLUMNS =
            List.of("run", "job", "file", "path", "line", "rule", "original", "row", "fields", "source", "repeats");
    /** Columns of the file that stands beside a rejected file. */
    public static final List<String> BESIDE_COLUMNS =
            List.of("file", "line", "column", "value", "code", "reason", "original");

    private static final JsonFactory JSON = new JsonFactory();

    private final Book rejects;
    private final Book aside;

    /** @param store the workspace's folder {@code store} */
    public RejectStore(Path store) throws IOException {
        rejects = new Book(Files.createDirectories(store.resolve("rejects")), COLUMNS, true);
        aside = new Book(Files.createDirectories(store.resolve("aside")), ASIDE_COLUMNS, false);
    }

    /** Where the rejects of a run lie once it has ended; the file exists even where nothing was rejected. */
    public Path path(long run) {
        return rejects.path(run);
    }

    /** Where the rows lie that a run set aside, once it has ended; there is no such file where there are none. */
    public Path asidePath(long run) {
        return aside.path(run);
    }

    /**
     * Opens the rejects of one file of a run. Nothing is written until there is something to reject.
     *
     * @param ordinal number of the file within the run
     * @param path where it lies now
     * @param source its identity within the job, wherever it lies
     */
    public FileRejects open(long run, String job, int ordinal, String file, String path, String source) {
        return new FileRejects(
                run,
                job,
                rejects.pieces(run).resolve(ordinal + ".csv"),
                aside.pieces(run).resolve(ordinal + ".csv"),
                file,
                path,
                source);
    }

    /**
     * Puts the rejects of a run together and removes the pieces. Safe to call again after a crash.
     *
     * @param committed tells of a file's number whether the catalogue knows of its result; pieces of others are dropped
     */
    public void merge(long run, LongPredicate committed) throws IOException {
        rejects.merge(run, committed);
        aside.merge(run, committed);
    }

    /** Removes what a run rejected and set aside. */
    public void drop(long run) throws IOException {
        Files.deleteIfExists(path(run));
        Files.deleteIfExists(asidePath(run));
    }

    /** The files of one kind, one for each run. */
    private record Book(Path folder, List<String> columns, boolean always) {

        Path path(long run) {
            return folder.resolve("run-" + run + ".csv");
        }

        Path pieces(long run) {
            return folder.resolve("run-" + run);
        }

        void merge(long run, LongPredicate committed) throws IOException {
            Path target = path(run);
            Path pieces = pieces(run);
            if (!Files.exists(pieces) && (Files.exists(target) || !always)) {
                return;
            }
            Path draft = folder.resolve("run-" + run + ".csv.tmp");
            try (OutputStream out = Files.newOutputStream(draft)) {
                out.write((String.join(",", columns) + "\r\n").getBytes(StandardCharsets.UTF_8));
                for (Path piece : sorted(pieces)) {
                    if (committed.test(number(piece))) {
                        Files.copy(piece, out);
                    }
                }
            }
            PartStore.force(draft);
            CrashPoint.MERGE_WRITTEN.reached();
            Files.move(draft, target, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
            PartStore.force(folder);
            CrashPoint.MERGED.reached();
            for (Path piece : sorted(pieces)) {
                Files.delete(piece);
            }
            Files.deleteIfExists(pieces);
        }

        /** All lines that there are, of the pieces where they are not put together yet. */
        <T> List<T> read(long run, Function<CsvRecord, T> how, Predicate<T> filter, long offset, int limit)
                throws IOException {
            List<Path> files = Files.exists(path(run)) && !Files.exists(pieces(run))
                    ? List.of(path(run))
                    : sorted(pieces(run)).stream()
                            .filter(piece -> number(piece) >= 0)
                            .toList();
            List<T> found = new ArrayList<>();
            long[] passed = {0};
            for (Path file : files) {
                try (CsvReader<CsvRecord> csv =
                                CsvReader.builder().maxBufferSize(64 << 20).ofCsvRecord(file);
                        Stream<CsvRecord> lines = csv.stream()) {
                    lines.skip(file.equals(path(run)) ? 1 : 0)
                            .map(how)
                            .filter(filter)
                            .filter(line -> passed[0]++ >= offset)
                            .limit(limit - found.size())
                            .forEach(found::add);
                } catch (UncheckedIOException wrong) {
                    throw wrong.getCause();
                }
            }
            return found;
        }
    }

    private static List<Path> sorted(Path pieces) throws IOException {
        List<Path> found = new ArrayList<>();
        if (Files.isDirectory(pieces)) {
            try (DirectoryStream<Path> files = Files.newDirectoryStream(pieces)) {
                files.forEach(found::add);
            }
        }
        found.sort(Comparator.comparingLong(RejectStore::number));
        return found;
    }

    /** Numbers of the pieces are their names; a draft that was cut off has none and counts as -1. */
    private static long number(Path piece) {
        String name = piece.getFileName().toString();
        return name.matches("\\d{1,18}\\.csv") ? Long.parseLong(name.substring(0, name.length() - 4)) : -1;
    }

    /**
     * One line of a run's rejects file.
     *
     * @param line physical line, or 0 where a whole file was rejected
     * @param fault which fault of the row this is, such as {@code 1 of 2}
     * @param row which row of the file it is, counted from 1; 0 where a whole file was rejected
     * @param fields the row's values in the file's own columns
     * @param source identity of the file within the job; empty in files of earlier versions
     */
    public record Reject(
            long run,
            String job,
            String file,
            String path,
            long line,
            String fault,
            String column,
            String value,
            String code,
            String reason,
            String original,
            long row,
            List<String> fields,
            String source) {

        /**
         * Whether it is of a file. Where files lie changes, as when the workspace is moved, and what they are does not.
         *
         * @param identity of the file within the job
         * @param formerPath where it lay then, as far as is known
         */
        public boolean isOf(String identity, String formerPath) {
            return source.isEmpty() ? path.equals(formerPath) : source.equals(identity);
        }

        /** The same for a file or anything that lies in it: a sheet, or an entry of an archive. */
        public boolean isIn(String identity, String formerPath) {
            return isOf(identity, formerPath)
                    || (source.isEmpty() ? path.startsWith(formerPath + "!") : source.startsWith(identity + "!"));
        }
    }

    /**
     * One row that was set aside.
     *
     * @param rule the rule that left it out
     * @param fields the row's values in the file's own columns
     * @param source identity of the file within the job; empty in files of earlier versions
     * @param repeats what it repeats, as people say it; empty where it is not a repetition
     */
    public record Left(
            long run,
            String job,
            String file,
            String path,
            long line,
            String rule,
            String original,
            long row,
            List<String> fields,
            String source,
            String repeats) {

        /** Why it was set aside, in full. */
        public String words() {
            return repeats.isEmpty() ? rule : rule + " as " + repeats;
        }
    }

    /** Reads a run's rejects, some of them: those that pass the filter, from an offset on. */
    public List<Reject> read(long run, Predicate<Reject> filter, long offset, int limit) throws IOException {
        return rejects.read(run, RejectStore::reject, filter, offset, limit);
    }

    /** Shows every reject of a run, one after another. */
    public void each(long run, Consumer<Reject> to) throws IOException {
        read(
                run,
                reject -> {
                    to.accept(reject);
                    return false;
                },
                0,
                1);
    }

    /** The same for rows that were set aside. */
    public List<Left> readAside(long run, Predicate<Left> filter, long offset, int limit) throws IOException {
        return aside.read(run, RejectStore::left, filter, offset, limit);
    }

    private static Reject reject(CsvRecord line) {
        return new Reject(
                Long.parseLong(line.getField(0)),
                line.getField(1),
                line.getField(2),
                line.getField(3),
                number(line.getField(4)),
                line.getField(5),
                line.getField(6),
                line.getField(7),
                line.getField(8),
                line.getField(9),
                line.getField(10),
                optional(line, 11).map(RejectStore::number).orElse(0L),
                optional(line, 12).map(RejectStore::list).orElse(List.of()),
                optional(line, 13).orElse(""));
    }

    private static Left left(CsvRecord line) {
        return new Left(
                Long.parseLong(line.getField(0)),
                line.getField(1),
                line.getField(2),
                line.getField(3),
                number(line.getField(4)),
                line.getField(5),
                line.getField(6),
                number(line.getField(7)),
                list(line.getField(8)),
                optional(line, 9).orElse(""),
                optional(line, 10).orElse(""));
    }

    /** A column that files of earlier versions do not have. */
    private static Optional<String> optional(CsvRecord line, int column) {
        return column < line.getFieldCount() ? Optional.of(line.getField(column)) : Optional.empty();
    }

    private static long number(String text) {
        return text.isEmpty() ? 0 : Long.parseLong(text);
    }

    private static List<String> list(String json) {
        List<String> texts = new ArrayList<>();
        if (!json.isEmpty()) {
            try (JsonParser parser = JSON.createParser(json)) {
                parser.nextToken();
                while (parser.nextToken() != JsonToken.END_ARRAY) {
                    texts.add(parser.getText());
                }
            } catch (IOException wrong) {
                throw new UncheckedIOException(wrong);
            }
        }
        return texts;
    }

    private static String json(List<String> texts) {
        StringWriter out = new StringWriter();
        try (JsonGenerator json = JSON.createGenerator(out)) {
            json.writeStartArray();
            for (String text : texts) {
                json.writeString(text);
            }
            json.writeEndArray();
        } catch (IOException wrong) {
            throw new UncheckedIOException(wrong);
        }
        return out.toString();
    }

    /** A file of CSV that appears under its name whole, or not at all. */
    private static final class Draft {
        private final Path target;
        private final Path draft;
        private CsvWriter csv;
        private boolean sealed;

        Draft(Path target) {
            this.target = target;
            draft = target.resolveSibling(target.getFileName() + ".tmp");
        }

        void write(String... values) {
            try {
                if (csv == null) {
                    Files.createDirectories(draft.getParent());
                    csv = CsvWriter.builder()
                            .build(
                                    draft,
                                    StandardCharsets.UTF_8,
                                    StandardOpenOption.CREATE,
                                    StandardOpenOption.TRUNCATE_EXISTING,
                                    StandardOpenOption.WRITE);
                }
            } catch (IOException wrong) {
                throw new UncheckedIOException(wrong);
            }
            csv.writeRecord(values);
        }

        /** Nothing more is written; whether it is to count is not known yet. */
        void seal() throws IOException {
            if (csv != null) {
                csv.close();
                csv = null;
                sealed = true;
            }
        }

        void finish() throws IOException {
            seal();
            if (sealed) {
                sealed = false;
                PartStore.force(draft);
                CrashPoint.REJECTS_WRITTEN.reached();
                Files.move(draft, target, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
                PartStore.force(target.getParent());
                CrashPoint.REJECTS_NAMED.reached();
            }
        }

        void close() throws IOException {
            seal();
            if (sealed) {
                sealed = false;
                Files.deleteIfExists(draft);
            }
        }
    }

    /**
     * What is rejected and set aside of one file while it is read. Counts what it writes, independently of the reader.
     * Not thread-safe.
     */
    public static final class FileRejects implements AutoCloseable {
        private final String run;
        private final String job;
        private final Draft refused;
        private final Draft left;
        private final String file;
        private final String path;
        private final String source;
        private long rows;
        private long leftRows;

        private FileRejects(long run, String job, Path rejects, Path aside, String file, String path, String source) {
            this.run = Long.toString(run);
            this.job = job;
            refused = new Draft(rejects);
            left = new Draft(aside);
            this.file = file;
            this.path = path;
            this.source = source;
        }

        /** Rows rejected so far; a row with two faults is one row. */
        public long rows() {
            return rows;
        }

        /** Rows left out so far. */
        public long leftRows() {
            return leftRows;
        }

        public void row(RejectedRow row) {
            int count = row.faults().size();
            for (int i = 0; i < count; i++) {
                Fault fault = row.faults().get(i);
                refused.write(
                        run,
                        job,
                        file,
                        path,
                        Long.toString(row.line()),
                        (i + 1) + " of " + count,
                        fault.column(),
                        fault.value(),
                        fault.reason().code().code(),
                        fault.reason().sentence(),
                        row.original(),
                        Long.toString(row.number()),
                        i == 0 ? json(row.fields()) : "",
                        source);
            }
            rows++;
        }

        public void left(SetAsideRow row) {
            left.write(
                    run,
                    job,
                    file,
                    path,
                    Long.toString(row.line()),
                    row.rule(),
                    row.original(),
                    Long.toString(row.number()),
                    json(row.fields()),
                    source,
                    row.repeats());
            leftRows++;
        }

        /** The whole file is rejected; what was said of its rows so far stays where {@code keep} says so. */
        public void file(Reason reason, boolean keep) throws IOException {
            left.close();
            if (!keep) {
                refused.close();
            }
            rows = 0;
            leftRows = 0;
            refused.write(
                    run, job, file, path, "", "", "", "", reason.code().code(), reason.sentence(), "", "", "", source);
        }

        /** Begins anew: the file is read once more. */
        public void restart() throws IOException {
            close();
            rows = 0;
            leftRows = 0;
        }

        /** Nothing more is said of the file; what was said is kept, and does not count yet. */
        public void seal() throws IOException {
            left.seal();
            refused.seal();
        }

        /** Makes what was rejected and left out of this file durable. To be called before its result is committed. */
        public void finish() throws IOException {
            left.finish();
            refused.finish();
        }

        /** Drops what was not finished. */
        @Override
        public void close() throws IOException {
            left.close();
            refused.close();
        }
    }
}
