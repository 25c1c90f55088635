package dev.hapster.core.query;

import com.dynatrace.hash4j.hashing.HashStream128;
import com.dynatrace.hash4j.hashing.Hashing;
import dev.hapster.core.definition.FilePattern;
import dev.hapster.core.query.filter.Filter;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.part.Parts;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.write.RowStyle;
import dev.hapster.core.query.write.RowWriter;
import java.io.BufferedOutputStream;
import java.io.Closeable;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.zip.Deflater;
import org.apache.commons.compress.archivers.zip.ZipArchiveEntry;
import org.apache.commons.compress.archivers.zip.ZipArchiveOutputStream;

/** An export to several files, of which the values of each row say which one it goes to. Not thread-safe. */
public final class SplitExport {

    /** How many files there may be. */
    public static final int MOST_FILES = 10_000;

    private static final int REMEMBERED = 50_000;

    private final RowExport export;
    private final FilePattern pattern;
    private final List<Field> pieces;
    private final Map<List<Comparable<?>>, String> paths = new HashMap<>();

    SplitExport(RowExport export, FilePattern pattern, List<Field> pieces) {
        this.export = export;
        this.pattern = pattern;
        this.pieces = List.copyOf(pieces);
    }

    /**
     * One of the files.
     *
     * @param rows how many it gets
     * @param content a short name for which rows they are: as long as it is the same, so are they
     */
    public record Target(long rows, String content) {}

    private static final class Gathered {
        private final HashStream128 content = Hashing.xxh3_128().hashStream();
        private int lastPart = -1;
        private long rows;
    }

    /**
     * The files that there will be, by their paths.
     *
     * @throws QueryException where there would be too many
     */
    public Map<String, Target> targets() throws IOException, QueryException {
        Map<String, Gathered> all = new TreeMap<>();
        if (pieces.isEmpty()) {
            all.put(pattern.toString(), new Gathered());
        }
        List<PartFile> parts = export.parts().all();
        for (int part = 0; part < parts.size(); part++) {
            gather(parts.get(part), part, all);
            if (all.size() > MOST_FILES) {
                throw new QueryException("That would be more than " + MOST_FILES
                        + " files. Split by columns with fewer values, or narrow it with a condition");
            }
        }
        Map<String, Target> targets = new TreeMap<>();
        all.forEach((path, one) -> targets.put(
                path, new Target(one.rows, one.content.putLong(one.rows).get().toString())));
        return targets;
    }

    private void gather(PartFile part, int number, Map<String, Gathered> all) throws IOException {
        byte[] identity = part.identity();
        if (pieces.isEmpty() && export.where().isAlways()) {
            add(all.get(pattern.toString()), number, identity, part.rows());
            return;
        }
        List<Field> fields = new ArrayList<>(pieces);
        fields.addAll(export.where().fields());
        try (PartReader reader = part.read(fields)) {
            Filter filter = new Filter(export.where(), pieces.size());
            for (int rows = reader.next(); rows > 0; rows = reader.next()) {
                int selected = filter.select(reader, rows);
                for (int i = 0; i < selected; i++) {
                    String path = path(Parts.values(reader, filter.selected()[i], pieces.size()));
                    add(all.computeIfAbsent(path, fresh -> new Gathered()), number, identity, 1);
                }
                if (all.size() > MOST_FILES) {
                    return; // said by the caller
                }
            }
        }
    }

    private static void add(Gathered target, int part, byte[] identity, long rows) {
        if (target.lastPart != part) {
            target.content.putByteArray(identity);
            target.lastPart = part;
        }
        target.rows += rows;
    }

    private String path(List<Comparable<?>> values) {
        String known = paths.get(values);
        if (known != null) {
            return known;
        }
        if (paths.size() > REMEMBERED) {
            paths.clear();
        }
        String path = pattern.path(values);
        paths.put(new ArrayList<>(values), path);
        return path;
    }

    /**
     * Writes some of the files at once.
     *
     * @param writers by path; those of other files are passed over
     * @param scratch folder for files of rows that are sorted; they are gone at the end
     */
    public void write(Map<String, RowWriter> writers, Path scratch) throws IOException {
        for (RowWriter writer : writers.values()) {
            writer.begin(export.written());
        }
        export.each(
                pieces,
                scratch,
                pieces.isEmpty() ? export.into(writers.values().iterator().next()) : new Spreading(writers));
        for (RowWriter writer : writers.values()) {
            writer.finish();
        }
    }

    /** Files that are written at once on their way into an archive. */
    private static final int AT_ONCE = 64;

    /**
     * Writes all files into a ZIP archive, in the order of their paths.
     *
     * @param targets what {@link #targets()} found
     * @param title name of the sheets of workbooks
     * @param scratch folder for files on their way; they are gone at the end
     * @return how many rows there were
     */
    public long zip(
            Map<String, Target> targets, OutputStream out, String format, String title, RowStyle style, Path scratch)
            throws IOException {
        Path folder = Files.createTempDirectory(scratch, "split-");
        try (ZipArchiveOutputStream zip = new ZipArchiveOutputStream(out)) {
            zip.setLevel(Deflater.BEST_SPEED);
            List<String> paths = List.copyOf(targets.keySet());
            for (int from = 0; from < paths.size(); from += AT_ONCE) {
                List<String> some = paths.subList(from, Math.min(paths.size(), from + AT_ONCE));
                draft(some, folder, format, title, style, scratch);
                for (int i = 0; i < some.size(); i++) {
                    zip.putArchiveEntry(new ZipArchiveEntry(some.get(i)));
                    Files.copy(folder.resolve(Integer.toString(i)), zip);
                    zip.closeArchiveEntry();
                }
            }
        } finally {
            for (int i = 0; i < AT_ONCE; i++) {
                Files.deleteIfExists(folder.resolve(Integer.toString(i)));
            }
            Files.delete(folder);
        }
        return targets.values().stream().mapToLong(Target::rows).sum();
    }

    /** Writes files under their numbers. */
    private void draft(List<String> some, Path folder, String format, String title, RowStyle style, Path scratch)
            throws IOException {
        List<Closeable> open = new ArrayList<>();
        try {
            Map<String, RowWriter> writers = new LinkedHashMap<>();
            for (int i = 0; i < some.size(); i++) {
                OutputStream out =
                        new BufferedOutputStream(Files.newOutputStream(folder.resolve(Integer.toString(i))), 1 << 16);
                open.add(out);
                RowWriter writer = RowWriter.of(format, out, title, style).orElseThrow();
                open.add(writer);
                writers.put(some.get(i), writer);
            }
            write(writers, scratch);
        } finally {
            for (int i = open.size() - 1; i >= 0; i--) {
                open.get(i).close();
            }
        }
    }

    /** Gives each row to the writer of its file. */
    private final class Spreading implements RowExport.Sink {
        private final Map<String, Share> shares = new HashMap<>();
        private final int columns = export.written().size();

        /** Rows of a batch that are of one file. */
        private static final class Share {
            private final RowWriter writer;
            private int[] rows = new int[64];
            private int count;

            Share(RowWriter writer) {
                this.writer = writer;
            }

            void add(int row) {
                if (count == rows.length) {
                    rows = Arrays.copyOf(rows, 2 * count);
                }
                rows[count++] = row;
            }
        }

        Spreading(Map<String, RowWriter> writers) {
            writers.forEach((path, writer) -> shares.put(path, new Share(writer)));
        }

        @Override
        public void row(List<Comparable<?>> values) throws IOException {
            Share share = shares.get(path(values.subList(columns, values.size())));
            if (share != null) {
                share.writer.row(values.subList(0, columns));
            }
        }

        @Override
        public void batch(PartReader reader, int[] rows, int count) throws IOException {
            List<Comparable<?>> values = new ArrayList<>();
            for (int i = 0; i < count; i++) {
                values.clear();
                for (int piece = 0; piece < pieces.size(); piece++) {
                    values.add(reader.value(columns + piece, rows[i]));
                }
                Share share = shares.get(path(values));
                if (share != null) {
                    share.add(rows[i]);
                }
            }
            for (Share share : shares.values()) {
                if (share.count > 0) {
                    share.writer.batch(reader, share.rows, share.count, columns);
                    share.count = 0;
                }
            }
        }
    }
}
