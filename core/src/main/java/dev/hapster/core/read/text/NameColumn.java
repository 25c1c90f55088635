package dev.hapster.core.read.text;

import dev.hapster.core.definition.NameList;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.read.bytes.Archive;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.read.workbook.Grid;
import dev.hapster.core.read.workbook.GridRow;
import dev.hapster.core.read.workbook.XlsBook;
import dev.hapster.core.read.workbook.XlsxBook;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.function.BiConsumer;
import org.apache.commons.compress.archivers.zip.ZipArchiveEntry;
import org.apache.commons.compress.archivers.zip.ZipFile;
import org.apache.commons.compress.utils.SeekableInMemoryByteChannel;

/**
 * Reads a short column of names: the lines of a text, or one column of a delimited file or a workbook (xlsx, xls), told
 * apart by their bytes. The first row of a workbook's sheet that holds anything names its columns.
 */
public final class NameColumn {

    private static final int MOST_BYTES = 16_000_000;
    private static final long MOST_INFLATED = 256_000_000;
    private static final int MOST_NAMES = 100_000;
    private static final String SEPARATORS = ",;\t|";

    private NameColumn() {}

    /**
     * @param names gets each name with its line (or row), counted from 1; blank ones are skipped
     * @throws IOException with a sentence for people, where no names can be had
     */
    public static void read(InputStream in, NameList list, BiConsumer<Long, String> names) throws IOException {
        byte[] file = in.readNBytes(MOST_BYTES + 1);
        if (file.length > MOST_BYTES) {
            throw new IOException(
                    "it has more than " + Reasons.grouped(MOST_BYTES) + " bytes; a list of names has no more");
        }
        Counting counting = new Counting(names);
        byte[] start = Arrays.copyOf(file, 4);
        try {
            if (start[0] == 'P' && start[1] == 'K' && start[2] == 3 && start[3] == 4) {
                xlsx(file, list, counting);
            } else if ((start[0] & 0xff) == 0xd0 && (start[1] & 0xff) == 0xcf) {
                xls(file, list, counting);
            } else if (list.column().isPresent()) {
                delimited(file, list, list.column().get(), counting);
            } else {
                lines(file, list, counting);
            }
        } catch (FileRejectedException wrong) {
            throw new IOException("it " + wrong.reason().sentence(), wrong);
        }
    }

    /** Passes names on, up to the most there may be. */
    private static final class Counting {
        private final BiConsumer<Long, String> names;
        private int count;

        Counting(BiConsumer<Long, String> names) {
            this.names = names;
        }

        void add(long line, String text) throws IOException {
            String name = text.strip();
            if (name.isEmpty()) {
                return;
            }
            if (++count > MOST_NAMES) {
                throw new IOException("it holds more than " + MOST_NAMES + " names");
            }
            names.accept(line, name);
        }
    }

    private static void lines(byte[] file, NameList list, Counting names) throws IOException, FileRejectedException {
        Read rules = Read.USUAL.with(ReadSection.AS, Format.LINES).with(ReadSection.ENCODING, List.of(list.encoding()));
        try (InputStream in = new ByteArrayInputStream(file)) {
            DelimitedReader reader = new DelimitedReader(in, rules);
            column(reader, 0, names, RecordReader.batchFor(reader.header()));
        }
    }

    private static void column(DelimitedReader reader, int field, Counting names, RawBatch raw)
            throws IOException, FileRejectedException {
        while (reader.next(raw)) {
            for (int row = 0; row < raw.rows; row++) {
                if (raw.fields[row] == raw.width) {
                    names.add(raw.line[row], raw.text(row, field));
                } else {
                    throw new IOException(
                            "line " + raw.line[row] + " has " + raw.fields[row] + " fields, its header " + raw.width);
                }
            }
        }
    }

    private static void delimited(byte[] file, NameList list, String column, Counting names)
            throws IOException, FileRejectedException {
        List<String> seen = List.of();
        String tried = list.separator().map(String::valueOf).orElse(SEPARATORS);
        for (int i = 0; i < tried.length(); i++) {
            char separator = tried.charAt(i);
            try (InputStream in = new ByteArrayInputStream(file)) {
                DelimitedReader reader = new DelimitedReader(
                        in,
                        Read.USUAL
                                .with(ReadSection.SEPARATOR, List.of(String.valueOf(separator)))
                                .with(ReadSection.ENCODING, List.of(list.encoding())));
                Header header = reader.header();
                int field = find(column, header.names());
                if (field >= 0) {
                    column(reader, field, names, RecordReader.batchFor(header));
                    return;
                }
                seen = header.names().size() > seen.size() ? header.names() : seen;
            }
        }
        throw lacks(column, seen);
    }

    private static int find(String column, List<String> names) {
        int exact = names.indexOf(column);
        for (int i = 0; exact < 0 && i < names.size(); i++) {
            exact = names.get(i).strip().equalsIgnoreCase(column.strip()) ? i : -1;
        }
        return exact;
    }

    private static IOException lacks(String column, List<String> names) {
        return new IOException(
                "it has no column '" + column + "'; it has " + (names.isEmpty() ? "none" : String.join(", ", names)));
    }

    private static IOException noSheet(String sheet, List<String> names) {
        return new IOException("it has no sheet '" + sheet + "'; it has " + String.join(", ", names));
    }

    /** The name of a sheet that is named, or counted from 1. */
    private static String sheet(NameList list, List<String> names) throws IOException {
        if (names.isEmpty()) {
            throw new IOException("the workbook has no sheets");
        }
        if (list.sheet().isEmpty()) {
            return names.get(0);
        }
        String wanted = list.sheet().get();
        int named = names.indexOf(wanted);
        if (named < 0 && wanted.matches("[1-9][0-9]{0,4}") && Integer.parseInt(wanted) <= names.size()) {
            return names.get(Integer.parseInt(wanted) - 1);
        }
        if (named < 0) {
            throw noSheet(wanted, names);
        }
        return wanted;
    }

    private static String column(NameList list) throws IOException {
        return list.column()
                .orElseThrow(() -> new IOException(
                        "it is a workbook; name the column that holds the names with `list: {file: …, column: …}`"));
    }

    private static void xlsx(byte[] file, NameList list, Counting names) throws IOException, FileRejectedException {
        refuseBombs(file);
        try (XlsxBook book = new XlsxBook(new SeekableInMemoryByteChannel(file));
                Grid grid = book.grid(sheet(list, book.sheets())).orElseThrow()) {
            cells(grid, column(list), names);
        } catch (Unpacked.DamagedException wrong) {
            throw new IOException("it " + wrong.getMessage(), wrong);
        }
    }

    private static void xls(byte[] file, NameList list, Counting names) throws IOException, FileRejectedException {
        try (XlsBook book = new XlsBook(new SeekableInMemoryByteChannel(file));
                Grid grid = book.grid(sheet(list, book.sheets())).orElseThrow()) {
            cells(grid, column(list), names);
        } catch (Unpacked.DamagedException wrong) {
            throw new IOException("it " + wrong.getMessage(), wrong);
        }
    }

    /** Reads one column of a sheet, of which the first row that holds anything names the columns. */
    private static void cells(Grid grid, String column, Counting names) throws IOException, FileRejectedException {
        GridRow row = new GridRow();
        int field = -1;
        while (grid.next(row)) {
            if (field >= 0) {
                names.add(row.number, row.text(field));
                continue;
            }
            List<String> texts = new ArrayList<>();
            for (int i = 0; i < row.width; i++) {
                texts.add(row.text(i));
            }
            if (texts.stream().anyMatch(text -> !text.isBlank())) {
                field = find(column, texts);
                if (field < 0) {
                    throw lacks(column, texts);
                }
            }
        }
    }

    /** A workbook is a zip archive, and a small one may unpack to very much. */
    private static void refuseBombs(byte[] file) throws IOException {
        long inflated = 0;
        try (ZipFile zip = Archive.index(new SeekableInMemoryByteChannel(file))) {
            for (ZipArchiveEntry entry : Collections.list(zip.getEntries())) {
                try (InputStream in = zip.getInputStream(entry)) {
                    inflated += in.skip(MOST_INFLATED - inflated + 1);
                }
                if (inflated > MOST_INFLATED) {
                    throw new IOException("it unpacks to more than " + MOST_INFLATED + " bytes");
                }
            }
        }
    }
}
