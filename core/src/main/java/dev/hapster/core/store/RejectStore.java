package dev.hapster.core.store;

import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import de.siegmar.fastcsv.writer.CsvWriter;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.row.RefusedRow;
import dev.hapster.core.row.RefusedRow.Fault;
import java.io.IOException;
import java.io.OutputStream;
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
import java.util.function.LongPredicate;
import java.util.function.Predicate;
import java.util.stream.Stream;

/**
 * The rejects of each run in one CSV file (RFC 4180, UTF-8), {@code rejects/run-14.csv}: a line for each fault, so that a
 * row with two faults has two lines, and a line for each rejected file.
 *
 * <p>While a run goes on, each file's rejects stand in a file of their own under {@code rejects/run-14/}, whole before the
 * file is committed; at the end they are put together. Thread-safe but for {@link FileRejects}.
 */
public final class RejectStore {

    public static final List<String> COLUMNS = List.of("run", "job", "file", "path", "line", "fault", "column", "value", "code", "reason", "original");

    private final Path rejects;

    /** @param store the workspace's folder {@code store} */
    public RejectStore(Path store) throws IOException {
        rejects = Files.createDirectories(store.resolve("rejects"));
    }

    /** Where the rejects of a run lie once it has ended; the file exists even where nothing was rejected. */
    public Path path(long run) {
        return rejects.resolve("run-" + run + ".csv");
    }

    private Path pieces(long run) {
        return rejects.resolve("run-" + run);
    }

    /**
     * Opens the rejects of one file of a run. Nothing is written until there is something to reject.
     *
     * @param ordinal number of the file within the run
     */
    public FileRejects open(long run, String job, int ordinal, String file, String path) {
        return new FileRejects(run, job, pieces(run).resolve(ordinal + ".csv"), file, path);
    }

    /**
     * Puts the rejects of a run together and removes the pieces. Safe to call again after a crash.
     *
     * @param committed tells of a file's number whether the catalogue knows of its result; pieces of others are dropped
     */
    public void merge(long run, LongPredicate committed) throws IOException {
        Path target = path(run);
        Path pieces = pieces(run);
        if (Files.exists(target) && !Files.exists(pieces)) {
            return;
        }
        Path draft = rejects.resolve("run-" + run + ".csv.tmp");
        try (OutputStream out = Files.newOutputStream(draft)) {
            out.write((String.join(",", COLUMNS) + "\r\n").getBytes(StandardCharsets.UTF_8));
            for (Path piece : sorted(pieces)) {
                if (committed.test(number(piece))) {
                    Files.copy(piece, out);
                }
            }
        }
        PartStore.force(draft);
        Files.move(draft, target, StandardCopyOption.ATOMIC_MOVE);
        for (Path piece : sorted(pieces)) {
            Files.delete(piece);
        }
        Files.deleteIfExists(pieces);
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
     * @param line     physical line, or 0 where a whole file was rejected
     * @param fault    which fault of the row this is, such as {@code 1 of 2}
     */
    public record Reject(long run, String job, String file, String path, long line, String fault, String column, String value,
            String code, String reason, String original) {
    }

    /** Reads a run's rejects, some of them: those that pass the filter, from an offset on. */
    public List<Reject> read(long run, Predicate<Reject> filter, long offset, int limit) throws IOException {
        if (!Files.exists(path(run))) {
            return List.of();
        }
        try (CsvReader<CsvRecord> csv = CsvReader.builder().maxBufferSize(64 << 20).ofCsvRecord(path(run)); Stream<CsvRecord> lines = csv.stream()) {
            return lines.skip(1).map(RejectStore::reject).filter(filter).skip(offset).limit(limit).toList();
        } catch (UncheckedIOException wrong) {
            throw wrong.getCause();
        }
    }

    private static Reject reject(CsvRecord line) {
        return new Reject(Long.parseLong(line.getField(0)), line.getField(1), line.getField(2), line.getField(3),
                line.getField(4).isEmpty() ? 0 : Long.parseLong(line.getField(4)), line.getField(5), line.getField(6), line.getField(7),
                line.getField(8), line.getField(9), line.getField(10));
    }

    /** The rejects of one file while it is read. Counts what it writes, independently of the reader. Not thread-safe. */
    public static final class FileRejects implements AutoCloseable {
        private final String run;
        private final String job;
        private final Path target;
        private final Path draft;
        private final String file;
        private final String path;
        private CsvWriter csv;
        private long rows;

        private FileRejects(long run, String job, Path target, String file, String path) {
            this.run = Long.toString(run);
            this.job = job;
            this.target = target;
            draft = target.resolveSibling(target.getFileName() + ".tmp");
            this.file = file;
            this.path = path;
        }

        /** Rows written so far; a row with two faults is one row. */
        public long rows() {
            return rows;
        }

        public void row(RefusedRow refused) {
            int count = refused.faults().size();
            for (int i = 0; i < count; i++) {
                Fault fault = refused.faults().get(i);
                write(Long.toString(refused.line()), (i + 1) + " of " + count, fault.column(), fault.value(), fault.reason(), refused.original());
            }
            rows++;
        }

        /** The whole file is rejected: what was written of its rows is forgotten. */
        public void file(Reason reason) throws IOException {
            close();
            rows = 0;
            write("", "", "", "", reason, "");
        }

        private void write(String line, String fault, String column, String value, Reason reason, String original) {
            try {
                if (csv == null) {
                    Files.createDirectories(draft.getParent());
                    csv = CsvWriter.builder().build(draft, StandardCharsets.UTF_8, StandardOpenOption.CREATE,
                            StandardOpenOption.TRUNCATE_EXISTING, StandardOpenOption.WRITE);
                }
            } catch (IOException wrong) {
                throw new UncheckedIOException(wrong);
            }
            csv.writeRecord(run, job, file, path, line, fault, column, value, reason.code().code(), reason.sentence(), original);
        }

        /** Makes the rejects of this file durable. To be called before its result is committed. */
        public void finish() throws IOException {
            if (csv != null) {
                csv.close();
                csv = null;
                PartStore.force(draft);
                Files.move(draft, target, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
            }
        }

        /** Drops what was not finished. */
        @Override
        public void close() throws IOException {
            if (csv != null) {
                csv.close();
                csv = null;
                Files.deleteIfExists(draft);
            }
        }
    }
}
