package dev.hapster.core.read.workbook;

import dev.hapster.core.definition.read.Range;
import dev.hapster.core.read.bytes.Unpacked.DamagedException;
import dev.hapster.core.read.bytes.WatchedChannel;
import dev.hapster.core.read.workbook.CellTexts.Style;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.Closeable;
import java.io.IOException;
import java.nio.channels.Channels;
import java.nio.channels.SeekableByteChannel;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.apache.poi.EncryptedDocumentException;
import org.apache.poi.hssf.record.BOFRecord;
import org.apache.poi.hssf.record.BoolErrRecord;
import org.apache.poi.hssf.record.BoundSheetRecord;
import org.apache.poi.hssf.record.CellRecord;
import org.apache.poi.hssf.record.DateWindow1904Record;
import org.apache.poi.hssf.record.EOFRecord;
import org.apache.poi.hssf.record.ExtendedFormatRecord;
import org.apache.poi.hssf.record.FormatRecord;
import org.apache.poi.hssf.record.FormulaRecord;
import org.apache.poi.hssf.record.LabelRecord;
import org.apache.poi.hssf.record.LabelSSTRecord;
import org.apache.poi.hssf.record.MergeCellsRecord;
import org.apache.poi.hssf.record.NumberRecord;
import org.apache.poi.hssf.record.Record;
import org.apache.poi.hssf.record.RecordFactoryInputStream;
import org.apache.poi.hssf.record.SSTRecord;
import org.apache.poi.hssf.record.StringRecord;
import org.apache.poi.poifs.filesystem.DirectoryNode;
import org.apache.poi.poifs.filesystem.POIFSFileSystem;
import org.apache.poi.ss.usermodel.CellType;
import org.apache.poi.ss.usermodel.FormulaError;
import org.apache.poi.ss.util.CellRangeAddress;

/** An xls workbook (MS-XLS, BIFF8), read as the stream of records that it is. Not thread-safe. */
public final class XlsBook implements Closeable {

    private final POIFSFileSystem files;
    private final List<BoundSheetRecord> bound = new ArrayList<>();
    private final List<Integer> formats = new ArrayList<>();
    private final Map<Integer, String> codes = new HashMap<>();
    private SSTRecord texts;
    private boolean from1904;

    /** @param file closed with the workbook, and where there is none */
    public XlsBook(SeekableByteChannel file) throws IOException, FileRejectedException {
        try {
            files = documents(file);
        } catch (IOException | RuntimeException wrong) {
            throw damaged(wrong);
        }
        boolean whole = false;
        try {
            index();
            whole = true;
        } catch (EncryptedDocumentException wrong) {
            throw new FileRejectedException(Reasons.encrypted("workbook"));
        } catch (IOException | RuntimeException wrong) {
            throw damaged(wrong);
        } finally {
            if (!whole) {
                files.close();
            }
        }
    }

    /** The documents in a file of the kind that xls workbooks are. Closing them closes the file. */
    public static POIFSFileSystem documents(SeekableByteChannel file) throws IOException {
        boolean whole = false;
        try {
            POIFSFileSystem documents = file instanceof WatchedChannel watched
                    ? new POIFSFileSystem(watched.file(), true)
                    : new POIFSFileSystem(Channels.newInputStream(file));
            whole = true;
            return documents;
        } finally {
            if (!whole) {
                file.close();
            }
        }
    }

    static DamagedException damaged(Exception wrong) {
        return wrong instanceof DamagedException told
                ? told
                : new DamagedException(
                        "is an xls workbook that cannot be read: it was cut off or damaged ("
                                + String.valueOf(wrong.getMessage()).replaceAll("\\s+", " ") + ")",
                        wrong);
    }

    private RecordFactoryInputStream records() throws IOException {
        DirectoryNode root = files.getRoot();
        if (!root.hasEntryCaseInsensitive("Workbook")) {
            throw new DamagedException("is a workbook of a program from before 1997; save it as xlsx", null);
        }
        return new RecordFactoryInputStream(
                root.createDocumentInputStream(root.getEntryCaseInsensitive("Workbook")), true);
    }

    private void index() throws IOException {
        RecordFactoryInputStream records = records();
        for (Record record = records.nextRecord();
                record != null && !(record instanceof EOFRecord);
                record = records.nextRecord()) {
            if (record instanceof BoundSheetRecord sheet) {
                bound.add(sheet);
            } else if (record instanceof SSTRecord shared) {
                texts = shared;
            } else if (record instanceof FormatRecord format) {
                codes.put(format.getIndexCode(), format.getFormatString());
            } else if (record instanceof ExtendedFormatRecord cell) {
                formats.add((int) cell.getFormatIndex());
            } else if (record instanceof DateWindow1904Record window) {
                from1904 = window.getWindowing() == 1;
            }
        }
    }

    /** Names in the order of the workbook, also of hidden ones. */
    public List<String> sheets() {
        return bound.stream().map(BoundSheetRecord::getSheetname).toList();
    }

    /** @return empty where the workbook has no such sheet */
    public Optional<Grid> grid(String sheet) throws IOException {
        Optional<BoundSheetRecord> wanted =
                bound.stream().filter(one -> one.getSheetname().equals(sheet)).findFirst();
        return wanted.isPresent() ? Optional.of(new Cells(wanted.get())) : Optional.empty();
    }

    /** The cells of one sheet. */
    private final class Cells implements Grid {
        private final BoundSheetRecord sheet;
        private final Style[] styles = CellTexts.styles(formats, codes);
        private final List<Range> merged = new ArrayList<>();
        private RecordFactoryInputStream records;
        private Record held;
        private boolean ended;

        Cells(BoundSheetRecord sheet) throws IOException {
            this.sheet = sheet;
            start();
        }

        /** Goes to the beginning of the sheet. */
        private void start() throws IOException {
            try {
                records = records();
                int before = (int) bound.stream()
                        .filter(one -> one.getPositionOfBof() < sheet.getPositionOfBof())
                        .count();
                int seen = -1;
                int depth = 0;
                for (Record record = records.nextRecord(); record != null; record = records.nextRecord()) {
                    if (record instanceof BOFRecord) {
                        if (depth++ == 0 && seen++ == before) {
                            return;
                        }
                    } else if (record instanceof EOFRecord) {
                        depth--;
                    }
                }
                ended = true;
            } catch (RuntimeException wrong) {
                throw damaged(wrong);
            }
        }

        @Override
        public boolean next(GridRow row) throws IOException {
            try {
                int depth = 0;
                boolean begun = false;
                while (!ended) {
                    Record record = held != null ? held : records.nextRecord();
                    held = null;
                    if (record == null || (record instanceof EOFRecord && depth == 0)) {
                        ended = true;
                    } else if (record instanceof BOFRecord) {
                        depth++; // a chart within the sheet
                    } else if (record instanceof EOFRecord) {
                        depth--;
                    } else if (depth == 0 && record instanceof MergeCellsRecord areas) {
                        for (int i = 0; i < areas.getNumAreas(); i++) {
                            CellRangeAddress area = areas.getAreaAt(i);
                            merged.add(new Range(
                                    area.getFirstRow() + 1,
                                    area.getLastRow() + 1,
                                    area.getFirstColumn() + 1,
                                    area.getLastColumn() + 1));
                        }
                    } else if (depth == 0 && isCell(record)) {
                        int at = ((org.apache.poi.hssf.record.CellValueRecordInterface) record).getRow();
                        if (begun && at + 1 != row.number) {
                            held = record;
                            return true;
                        }
                        if (!begun) {
                            row.clear(at + 1L);
                            begun = true;
                        }
                        cell(row, record);
                    }
                }
                return begun;
            } catch (RuntimeException wrong) {
                throw damaged(wrong);
            }
        }

        private static boolean isCell(Record record) {
            return record instanceof CellRecord || record instanceof LabelRecord;
        }

        private void cell(GridRow row, Record record) {
            if (record instanceof LabelRecord label) {
                row.set(label.getColumn(), RawBatch.TEXT, label.getValue());
                return;
            }
            CellRecord cell = (CellRecord) record;
            int column = cell.getColumn();
            int index = cell.getXFIndex();
            Style style = index >= 0 && index < styles.length ? styles[index] : Style.PLAIN;
            if (record instanceof NumberRecord number) {
                CellTexts.number(row, column, number.getValue(), style, from1904);
            } else if (record instanceof LabelSSTRecord label && texts != null) {
                row.set(
                        column,
                        RawBatch.TEXT,
                        texts.getString(label.getSSTIndex()).getString());
            } else if (record instanceof BoolErrRecord one) {
                if (one.isBoolean()) {
                    row.set(column, RawBatch.TRUTH, String.valueOf(one.getBooleanValue()));
                } else {
                    error(row, column, one.getErrorValue());
                }
            } else if (record instanceof FormulaRecord formula) {
                formula(row, column, formula, style);
            }
        }

        private void formula(GridRow row, int column, FormulaRecord formula, Style style) {
            CellType type = formula.getCachedResultTypeEnum();
            if (type == CellType.STRING) {
                Record next = records.nextRecord();
                while (next != null
                        && !(next instanceof StringRecord)
                        && !isCell(next)
                        && !(next instanceof EOFRecord)) {
                    next = records.nextRecord(); // shared formulas and arrays stand between
                }
                if (next instanceof StringRecord text) {
                    row.set(column, RawBatch.TEXT, text.getString());
                } else {
                    held = next;
                }
            } else if (type == CellType.BOOLEAN) {
                row.set(column, RawBatch.TRUTH, String.valueOf(formula.getCachedBooleanValue()));
            } else if (type == CellType.ERROR) {
                error(row, column, (byte) formula.getCachedErrorValue());
            } else {
                CellTexts.number(row, column, formula.getValue(), style, from1904);
            }
        }

        private static void error(GridRow row, int column, byte code) {
            String error =
                    FormulaError.isValidCode(code) ? FormulaError.forInt(code).getString() : "#" + (code & 0xff);
            row.fault(column, error, "holds the error " + error);
        }

        @Override
        public List<Range> merged() throws IOException {
            GridRow row = new GridRow();
            merged.clear();
            while (next(row)) {
                row.clear(0);
            }
            List<Range> areas = new ArrayList<>(merged);
            ended = false;
            held = null;
            start();
            areas.sort(Comparator.comparingInt(Range::firstRow));
            return areas;
        }

        @Override
        public Optional<List<Table>> tables() {
            return Optional.empty();
        }

        @Override
        public void close() {
            // the workbook's file is closed by the workbook
        }
    }

    @Override
    public void close() throws IOException {
        files.close();
    }
}
