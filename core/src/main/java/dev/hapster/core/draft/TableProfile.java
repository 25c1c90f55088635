package dev.hapster.core.draft;

import com.dynatrace.hash4j.hashing.Hashing;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.draft.column.ColumnProfile;
import dev.hapster.core.draft.column.TypeFinder;
import dev.hapster.core.draft.column.UniqueValues;
import dev.hapster.core.draft.reading.Reading;
import dev.hapster.core.read.Formats;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.open.SourceContent;
import dev.hapster.core.run.open.SourceStream.SourceException;
import dev.hapster.core.shape.Binding;
import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.Channels;
import java.nio.channels.SeekableByteChannel;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.LongUnaryOperator;

/** What the values of one file are like, column by column. Not thread-safe. */
final class TableProfile {

    /** Rows of which it is kept which values stand together, to find keys of several columns. */
    static final int MOST_TOGETHER = 20_000;

    /** Bytes of a piece from the middle or the end of a large file. */
    private static final int PIECE = 1 << 19;

    /** Room for the values of a file that are held against each other, of eight bytes each. */
    private static final int ROOM = 1 << 21;

    /** By the folded name of its header. */
    final Map<String, ColumnProfile> columns = new LinkedHashMap<>();
    /** Hashes of the values that stand together, row by row; of a value that is nothing it is 0. */
    final Map<String, long[]> together = new HashMap<>();

    int kept;
    long rows;
    boolean whole = true;
    final Found found;
    private final List<String> names;
    private final int keep;

    private TableProfile(Found found, List<String> names, int keep) {
        this.found = found;
        this.names = names;
        this.keep = keep;
        UniqueValues.Room room = new UniqueValues.Room(ROOM);
        for (String name : names) {
            columns.put(Binding.fold(name), new ColumnProfile(line -> place(line), room));
        }
    }

    private String place(long line) {
        return found.name() + (line > 0 ? ":" + line : line == 0 ? "" : line == -1 ? " (middle)" : " (end)");
    }

    /**
     * Reads rows of a file.
     *
     * @param headers the columns of its group, for files that do not name theirs
     * @param most rows that are read; {@link Long#MAX_VALUE} for all
     * @param keep rows of which it is kept which values stand together
     */
    static TableProfile of(Found found, List<String> headers, Opener opener, long most, int keep)
            throws IOException, FileRejectedException {
        Reading reading = found.reading().orElseThrow();
        List<String> names = reading.headed() || reading.width() != headers.size() ? FileGroup.names(reading) : headers;
        Read read = exact(reading, names);
        TableProfile profile = new TableProfile(found, names, keep);
        profile.fills = read.get(ReadSection.FILL_SHORT);
        try (SourceContent content = opener.content(found.file());
                RecordReader reader =
                        Formats.open(content, read, found.file().sheet(), Optional.empty(), most, members(names))) {
            profile.add(reader, most, line -> line);
        } catch (SourceException gone) {
            throw new FileRejectedException(gone.reason());
        }
        if (!profile.whole) {
            profile.pieces(opener, read, most / 2);
        }
        return profile;
    }

    /** The decimal mark that the values of the file prove; 0 where they prove none, or both. */
    char decimal() {
        char proven = 0;
        for (ColumnProfile column : columns.values()) {
            char mark = TypeFinder.provenDecimal(column);
            if (mark != 0 && proven != 0 && mark != proven) {
                return 0;
            }
            proven = mark == 0 ? proven : mark;
        }
        return proven;
    }

    private static List<String> members(List<String> names) {
        return names.stream().filter(name -> name.matches(".*\\[\\d+].*")).toList();
    }

    /** The file's own settings; where its header does not serve, the names are given. */
    static Read exact(Reading reading, List<String> names) {
        Read read = reading.read();
        if (!read.as().mayHaveHeader() || FileGroup.serves(reading)) {
            return read;
        }
        int above = read.get(ReadSection.LINES_ABOVE) + (reading.headed() ? 1 : 0);
        return read.with(ReadSection.LINES_ABOVE, above).with(ReadSection.NAMES, names);
    }

    /** Whether rows that are too short are filled up. */
    private boolean fills;

    private void add(RecordReader reader, long most, LongUnaryOperator lines)
            throws IOException, FileRejectedException {
        Header header = reader.header();
        List<String> present = header.names();
        ColumnProfile[] targets = new ColumnProfile[present.size()];
        long[][] kepts = new long[present.size()][];
        for (int i = 0; i < targets.length; i++) {
            String key = Binding.fold(present.get(i));
            targets[i] = columns.get(key);
            kepts[i] = targets[i] == null || keep == 0 ? null : together.computeIfAbsent(key, any -> new long[keep]);
        }
        RawBatch batch = RecordReader.batchFor(header);
        long read = 0;
        while (reader.next(batch)) {
            for (int row = 0; row < batch.rows; row++) {
                if (batch.fields[row] > batch.width
                        || batch.misquoted[row]
                        || (batch.fields[row] < batch.width && !fills)) {
                    continue; // such a row is rejected, whatever its values are
                }
                if (read == most) {
                    whole = false;
                    return;
                }
                read++;
                rows++;
                add(batch, row, targets, lines.applyAsLong(batch.line[row]));
                if (kept < keep) {
                    keep(batch, row, kepts);
                }
            }
        }
    }

    /** Gives the values of a row to the profiles of their columns; null where a column is not looked at. */
    static void add(RawBatch batch, int row, ColumnProfile[] targets, long line) {
        for (int i = 0; i < targets.length; i++) {
            if (targets[i] != null) {
                int at = row * batch.width + i;
                byte kind = batch.kinds == null ? RawBatch.TEXT : batch.kinds[at];
                targets[i].add(batch.bytes, batch.from[at], batch.to[at], kind, line);
            }
        }
    }

    private void keep(RawBatch batch, int row, long[][] kepts) {
        for (int i = 0; i < kepts.length; i++) {
            if (kepts[i] != null && !batch.isBlank(row, i)) {
                int at = row * batch.width + i;
                kepts[i][kept] =
                        Hashing.xxh3_64().hashBytesToLong(batch.bytes, batch.from[at], batch.to[at] - batch.from[at])
                                | 1;
            }
        }
        kept++;
    }

    /** Rows from the middle and the end of a large text file. */
    private void pieces(Opener opener, Read read, long most) throws IOException, FileRejectedException {
        boolean lines = read.as() == Format.DELIMITED || read.as() == Format.FIXED || read.as() == Format.LINES;
        if (!lines || read.encoding().name().startsWith("UTF-16")) {
            return;
        }
        Read within = read.as() == Format.DELIMITED ? read.with(ReadSection.NAMES, names) : read;
        within = within.with(ReadSection.LINES_ABOVE, 0).with(ReadSection.LINES_BELOW, 0);
        try (SourceContent content = opener.content(found.file());
                SeekableByteChannel file = content.seekable()) {
            long size = file.size();
            for (int part = 1; part <= 2; part++) {
                long from = part == 1 ? size / 2 : Math.max(0, size - PIECE);
                byte[] bytes = lines(file, from);
                long mark = -part;
                try (RecordReader reader = Formats.open(
                        new Piece(content.name(), bytes), within, Optional.empty(), Optional.empty(), most)) {
                    add(reader, most, line -> mark);
                } catch (FileRejectedException halfACharacter) {
                    continue; // the piece begins or ends within one
                }
            }
        }
    }

    /** Whole lines behind a place. */
    private static byte[] lines(SeekableByteChannel file, long from) throws IOException {
        file.position(from);
        byte[] bytes = Channels.newInputStream(file).readNBytes(PIECE);
        int start = 0;
        while (start < bytes.length && bytes[start] != '\n') {
            start++;
        }
        int end = bytes.length;
        while (end > start && bytes[end - 1] != '\n') {
            end--;
        }
        return Arrays.copyOfRange(
                bytes, Math.min(start + 1, bytes.length), Math.max(Math.min(start + 1, bytes.length), end));
    }

    private record Piece(String name, byte[] bytes) implements Content {
        @Override
        public InputStream stream() {
            return new java.io.ByteArrayInputStream(bytes);
        }

        @Override
        public SeekableByteChannel seekable() {
            throw new IllegalStateException("Pieces are text");
        }
    }
}
