package dev.hapster.core.read;

import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.record.Bookmark;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.read.record.FilledRows;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.read.text.FixedReader;
import dev.hapster.core.read.tree.TreeReader;
import dev.hapster.core.read.workbook.Grid;
import dev.hapster.core.read.workbook.WorkbookReader;
import dev.hapster.core.read.workbook.XlsBook;
import dev.hapster.core.read.workbook.XlsxBook;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import java.io.Closeable;
import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.SeekableByteChannel;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * Opens files in the formats that there are. What a file is, its bytes say; what its name says otherwise is a reason to
 * reject it.
 */
public final class Formats {

    private Formats() {}

    /**
     * Opens a file.
     *
     * @param sheet the sheet to read; empty for what is not a workbook
     * @param shared the header that another file of the job has for all, where the job says so
     * @param most rows that are looked at where the columns are not declared at the top; all of them for a load
     * @throws FileRejectedException where the file is not what the job reads, or cannot be read at all
     */
    public static RecordReader open(
            Content content, Read rules, Optional<String> sheet, Optional<Header> shared, long most)
            throws IOException, FileRejectedException {
        return open(content, rules, sheet, shared, most, List.of());
    }

    /** @param members names of single members of arrays that are columns, such as {@code position[0]} */
    public static RecordReader open(
            Content content,
            Read rules,
            Optional<String> sheet,
            Optional<Header> shared,
            long most,
            Collection<String> members)
            throws IOException, FileRejectedException {
        Signature found = Signature.of(content);
        if (!found.suits(rules.as())) {
            if (found == Signature.TEXT && isEmpty(content)) {
                throw new FileRejectedException(Reasons.fileEmpty());
            }
            throw new FileRejectedException(Reasons.formatDiffers(
                    found.noun(), ending(content.name(), found), rules.as().noun(), found == Signature.ZIP));
        }
        try {
            Read one = Encodings.chosen(content, rules);
            RecordReader reader = new RejectingReader(reader(content, one, sheet, shared, most, members, found));
            return rules.get(ReadSection.SKIP_EMPTY) ? new FilledRows(reader) : reader;
        } catch (Unpacked.DamagedException damaged) {
            throw RejectingReader.rejected(damaged);
        }
    }

    private static RecordReader reader(
            Content content,
            Read rules,
            Optional<String> sheet,
            Optional<Header> shared,
            long most,
            Collection<String> members,
            Signature found)
            throws IOException, FileRejectedException {
        return switch (rules.as()) {
            case DELIMITED ->
                shared.isPresent()
                        ? new DelimitedReader(
                                content.stream(),
                                rules.with(ReadSection.NAMES, shared.get().names()),
                                shared.get().original())
                        : new DelimitedReader(content.stream(), rules);
            case LINES -> new DelimitedReader(content.stream(), rules);
            case FIXED -> new FixedReader(new DelimitedReader(content.stream(), rules), rules);
            case WORKBOOK -> {
                OpenSheet open = sheet(content.seekable(), found, sheet);
                yield new WorkbookReader(open.name(), open.book(), open.grid(), rules);
            }
            case JSON, JSON_LINES, XML, PARQUET -> new TreeReader(content, rules, most, members);
        };
    }

    /**
     * A reader of text that reads on from a place that another reader of the same file named.
     *
     * @param bytes the file's bytes from there on
     * @param header the file's header, as that reader gave it
     */
    public static RecordReader from(Bookmark place, InputStream bytes, Read rules, Header header)
            throws IOException, FileRejectedException {
        DelimitedReader lines = DelimitedReader.from(place, bytes, rules, header);
        RecordReader reader = new RejectingReader(rules.as() == Format.FIXED ? new FixedReader(lines, rules) : lines);
        return rules.get(ReadSection.SKIP_EMPTY) ? new FilledRows(reader) : reader;
    }

    private static boolean isEmpty(Content content) throws IOException, FileRejectedException {
        try (InputStream in = content.stream()) {
            return in.read() < 0;
        }
    }

    /** The ending of a name that promises something else than the file is; empty where it does not. */
    private static String ending(String name, Signature found) {
        int point = name.lastIndexOf('.');
        String ending = point < 0 ? "" : name.substring(point).toLowerCase(java.util.Locale.ROOT);
        boolean honest =
                switch (found) {
                    case XLSX -> List.of(".xlsx", ".xlsm", ".xltx").contains(ending);
                    case XLS -> ending.equals(".xls");
                    case PARQUET -> ending.equals(".parquet");
                    case ZIP -> ending.equals(".zip");
                    case PDF -> ending.equals(".pdf");
                    case TEXT -> !List.of(".xlsx", ".xls", ".parquet", ".zip").contains(ending);
                    default -> true;
                };
        return honest ? "" : ending;
    }

    /** A sheet of a workbook that is open; whoever asked for it closes the book. */
    record OpenSheet(String name, Closeable book, Grid grid) implements Closeable {
        @Override
        public void close() throws IOException {
            try (grid) {
                book.close();
            }
        }
    }

    /** The sheet of that name; the first one where none is named. */
    static OpenSheet sheet(Content content, Optional<String> sheet) throws IOException, FileRejectedException {
        return sheet(content.seekable(), Signature.of(content), sheet);
    }

    private static OpenSheet sheet(SeekableByteChannel file, Signature found, Optional<String> sheet)
            throws IOException, FileRejectedException {
        Closeable book = null;
        try {
            if (found == Signature.XLS) {
                XlsBook xls = new XlsBook(file);
                book = xls;
                String name = sheet.orElseGet(
                        () -> xls.sheets().isEmpty() ? "" : xls.sheets().get(0));
                Grid grid = xls.grid(name)
                        .orElseThrow(() -> new FileRejectedException(Reasons.sheetGone(name, xls.sheets())));
                return new OpenSheet(name, xls, grid);
            }
            XlsxBook xlsx = new XlsxBook(file);
            book = xlsx;
            String name = sheet.orElseGet(
                    () -> xlsx.sheets().isEmpty() ? "" : xlsx.sheets().get(0));
            Grid grid = xlsx.grid(name)
                    .orElseThrow(() -> new FileRejectedException(Reasons.sheetGone(name, xlsx.sheets())));
            return new OpenSheet(name, xlsx, grid);
        } catch (Unpacked.DamagedException wrong) {
            close(book);
            throw new FileRejectedException(Reasons.damaged(wrong.getMessage()));
        } catch (FileRejectedException | RuntimeException | IOException wrong) {
            close(book);
            throw wrong;
        }
    }

    private static void close(Closeable book) throws IOException {
        if (book != null) {
            book.close();
        }
    }

    /** The sheets of a workbook, in its order. */
    public static List<String> sheets(Content content) throws IOException, FileRejectedException {
        Signature found = Signature.of(content);
        try {
            if (found == Signature.XLS) {
                try (XlsBook book = new XlsBook(content.seekable())) {
                    return book.sheets();
                }
            }
            if (found == Signature.XLSX) {
                try (XlsxBook book = new XlsxBook(content.seekable())) {
                    return book.sheets();
                }
            }
        } catch (Unpacked.DamagedException wrong) {
            throw new FileRejectedException(Reasons.damaged(wrong.getMessage()));
        }
        throw new FileRejectedException(Reasons.formatDiffers(
                found.noun(), ending(content.name(), found), Format.WORKBOOK.noun(), found == Signature.ZIP));
    }
}
