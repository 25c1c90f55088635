package dev.hapster.core.read.workbook;

import dev.hapster.core.definition.read.Range;
import dev.hapster.core.pattern.CellName;
import dev.hapster.core.read.bytes.Archive;
import dev.hapster.core.read.bytes.EntryInput;
import dev.hapster.core.read.bytes.Unpacked.DamagedException;
import dev.hapster.core.read.bytes.Utf8Buffer;
import dev.hapster.core.read.workbook.CellTexts.Style;
import dev.hapster.core.row.RawBatch;
import java.io.Closeable;
import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.SeekableByteChannel;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;
import org.apache.commons.compress.archivers.zip.ZipArchiveEntry;
import org.apache.commons.compress.archivers.zip.ZipFile;

/**
 * An xlsx workbook (ECMA-376, ISO/IEC 29500, strict and transitional): its sheets, and the cells of one of them as a
 * stream. Only the texts that cells share are held in memory. Not thread-safe.
 */
public final class XlsxBook implements Closeable {

    /** Bytes that a piece of a workbook may unpack to, however small it is. */
    private static final long FREE = 200_000_000L;

    private static final int MOST_SHEETS = 10_000;

    /** A sheet, and the piece of the archive that holds it. */
    private record SheetPart(String name, String part) {}

    private final ZipFile zip;
    private final List<SheetPart> sheets = new ArrayList<>();
    private String sharedPart;
    private String stylesPart;
    private boolean from1904;

    /** @param file closed with the workbook, and where there is none */
    public XlsxBook(SeekableByteChannel file) throws IOException {
        try {
            zip = Archive.index(file);
        } catch (IOException | IllegalArgumentException damaged) {
            throw new DamagedException(
                    "begins like an xlsx workbook and cannot be opened: it was cut off or damaged ("
                            + damaged.getMessage() + ")",
                    damaged);
        }
        boolean whole = false;
        try {
            index();
            whole = true;
        } finally {
            if (!whole) {
                zip.close();
            }
        }
    }

    /** Sheets that hold cells, in the order of the workbook. */
    public List<String> sheets() {
        return sheets.stream().map(SheetPart::name).toList();
    }

    private void index() throws IOException {
        String workbook =
                related("", "/officeDocument").values().stream().findFirst().orElse("xl/workbook.xml");
        Map<String, String> worksheets = related(workbook, "/worksheet");
        sharedPart = related(workbook, "/sharedStrings").values().stream()
                .findFirst()
                .orElse(null);
        stylesPart = related(workbook, "/styles").values().stream().findFirst().orElse(null);
        elements(workbook, (name, xml) -> {
            if (name.equals("workbookPr")) {
                String epoch = attribute(xml, "date1904");
                from1904 = "1".equals(epoch) || "true".equals(epoch);
            } else if (name.equals("sheet")) {
                String part = worksheets.get(attribute(xml, "id"));
                if (part != null && sheets.size() < MOST_SHEETS) {
                    String title = attribute(xml, "name");
                    sheets.add(new SheetPart(title == null ? "" : title, part));
                }
            }
        });
    }

    private interface OnElement {
        void at(String name, XMLStreamReader xml) throws IOException, XMLStreamException;
    }

    private void elements(String part, OnElement each) throws IOException {
        try (InputStream in = open(part)) {
            XMLStreamReader xml = Xml.open(in);
            while (xml.hasNext()) {
                if (xml.next() == XMLStreamConstants.START_ELEMENT) {
                    each.at(xml.getLocalName(), xml);
                }
            }
        } catch (XMLStreamException wrong) {
            throw damaged(part, wrong);
        }
    }

    /** The pieces to which another one refers in a certain sense, by the id of the reference. */
    private Map<String, String> related(String part, String type) throws IOException {
        String folder = part.substring(0, part.lastIndexOf('/') + 1);
        String references = folder + "_rels/" + part.substring(folder.length()) + ".rels";
        Map<String, String> found = new java.util.LinkedHashMap<>();
        if (zip.getEntry(references) == null) {
            return found;
        }
        elements(references, (name, xml) -> {
            String target = attribute(xml, "Target");
            if (name.equals("Relationship")
                    && String.valueOf(attribute(xml, "Type")).endsWith(type)
                    && target != null
                    && !"External".equals(attribute(xml, "TargetMode"))) {
                String path = target.startsWith("/")
                        ? target.substring(1)
                        : Path.of("/" + folder)
                                .resolve(target)
                                .normalize()
                                .toString()
                                .substring(1);
                found.put(String.valueOf(attribute(xml, "Id")), path);
            }
        });
        return found;
    }

    private static String attribute(XMLStreamReader xml, String name) {
        for (int i = 0; i < xml.getAttributeCount(); i++) {
            if (xml.getAttributeLocalName(i).equals(name)) {
                return xml.getAttributeValue(i);
            }
        }
        return null;
    }

    private InputStream open(String part) throws IOException {
        ZipArchiveEntry entry = zip.getEntry(part);
        if (entry == null) {
            throw new DamagedException("is an xlsx workbook without its piece " + part, null);
        }
        InputStream in;
        try {
            in = zip.getInputStream(entry);
        } catch (IOException | IllegalArgumentException wrong) {
            throw damaged(part, wrong);
        }
        return new EntryInput(in, "is an xlsx workbook with the piece " + part, entry.getCompressedSize(), FREE, () -> {
            // the workbook is closed by its owner
        });
    }

    private static DamagedException damaged(String part, Exception wrong) {
        if (wrong instanceof XMLStreamException xml && xml.getNestedException() instanceof DamagedException told) {
            return told;
        }
        return new DamagedException(
                "is an xlsx workbook whose piece " + part + " is damaged ("
                        + String.valueOf(wrong.getMessage()).replaceAll("\\s+", " ") + ")",
                wrong);
    }

    private SharedTexts texts() throws IOException {
        SharedTexts texts = new SharedTexts();
        if (sharedPart == null || zip.getEntry(sharedPart) == null) {
            return texts;
        }
        try (InputStream in = open(sharedPart)) {
            XMLStreamReader xml = Xml.open(in);
            Utf8Buffer text = new Utf8Buffer();
            boolean inside = false;
            int phonetic = 0;
            while (xml.hasNext()) {
                switch (xml.next()) {
                    case XMLStreamConstants.START_ELEMENT -> {
                        String name = xml.getLocalName();
                        if (name.equals("si")) {
                            text.used = 0;
                        } else if (name.equals("rPh")) {
                            phonetic++;
                        }
                        inside = name.equals("t") && phonetic == 0;
                    }
                    case XMLStreamConstants.CHARACTERS, XMLStreamConstants.CDATA, XMLStreamConstants.SPACE -> {
                        if (inside) {
                            text.append(xml.getTextCharacters(), xml.getTextStart(), xml.getTextLength());
                        }
                    }
                    case XMLStreamConstants.END_ELEMENT -> {
                        String name = xml.getLocalName();
                        inside = false;
                        if (name.equals("rPh")) {
                            phonetic--;
                        } else if (name.equals("si")) {
                            unescape(text);
                            texts.append(text.bytes, 0, text.used);
                            texts.end();
                        }
                    }
                    default -> {
                        // comments and instructions say nothing here
                    }
                }
            }
            return texts;
        } catch (XMLStreamException wrong) {
            throw damaged(sharedPart, wrong);
        }
    }

    /** Characters that XML cannot hold stand in workbooks as _x000D_ (ECMA-376 part 1, 22.9.2.19). */
    private static void unescape(Utf8Buffer text) {
        int out = 0;
        boolean changed = false;
        for (int at = 0; at < text.used; at++) {
            if (text.bytes[at] == '_' && at + 6 < text.used && text.bytes[at + 1] == 'x' && text.bytes[at + 6] == '_') {
                int code = 0;
                for (int i = at + 2; i < at + 6 && code >= 0; i++) {
                    int digit = Character.digit(text.bytes[i], 16);
                    code = digit < 0 ? -1 : code * 16 + digit;
                }
                if (code >= 0 && (code < 0x20 || code == '_')) {
                    text.bytes[out++] = (byte) code;
                    at += 6;
                    changed = true;
                    continue;
                }
            }
            text.bytes[out++] = text.bytes[at];
        }
        text.used = changed ? out : text.used;
    }

    private Style[] styles() throws IOException {
        if (stylesPart == null || zip.getEntry(stylesPart) == null) {
            return new Style[0];
        }
        Map<Integer, String> codes = new HashMap<>();
        List<Integer> formats = new ArrayList<>();
        boolean[] inCells = {false};
        elements(stylesPart, (name, xml) -> {
            switch (name) {
                case "numFmt" ->
                    codes.put(integer(attribute(xml, "numFmtId")), String.valueOf(attribute(xml, "formatCode")));
                case "cellXfs" -> inCells[0] = true;
                case "cellStyles", "cellStyleXfs", "dxfs" -> inCells[0] = false;
                case "xf" -> {
                    if (inCells[0]) {
                        formats.add(integer(attribute(xml, "numFmtId")));
                    }
                }
                default -> {
                    // fonts, fills and borders
                }
            }
        });
        return CellTexts.styles(formats, codes);
    }

    private static int integer(String text) {
        try {
            return text == null ? 0 : Integer.parseInt(text);
        } catch (NumberFormatException none) {
            return 0;
        }
    }

    /** @return empty where the workbook has no such sheet */
    public Optional<Grid> grid(String sheet) throws IOException {
        Optional<SheetPart> part =
                sheets.stream().filter(one -> one.name.equals(sheet)).findFirst();
        return part.isPresent() ? Optional.of(new Cells(part.get().part)) : Optional.empty();
    }

    /** Parses {@code B3:G200} or {@code B3}; null where it is neither. */
    static Range range(String text) {
        String[] ends = String.valueOf(text).replace("$", "").split(":", -1);
        Optional<CellName> first = cell(ends[0]);
        Optional<CellName> last = ends.length == 2 ? cell(ends[1]) : first;
        return first.isEmpty() || last.isEmpty() || ends.length > 2
                ? null
                : new Range(
                        first.get().row(),
                        last.get().row(),
                        first.get().column(),
                        last.get().column());
    }

    private static Optional<CellName> cell(String text) {
        return CellName.of(text).filter(name -> name.row() > 0 && name.column() > 0);
    }

    /** The cells of one sheet, as its piece of the archive is unpacked. */
    private final class Cells implements Grid {
        private final String part;
        private final InputStream in;
        private final XMLStreamReader xml;
        private final SharedTexts texts;
        private final Style[] styles;
        private final Utf8Buffer value = new Utf8Buffer();
        private long number;
        private boolean ended;

        Cells(String part) throws IOException {
            this.part = part;
            texts = texts();
            styles = styles();
            in = open(part);
            try {
                xml = Xml.open(in);
            } catch (XMLStreamException wrong) {
                in.close();
                throw damaged(part, wrong);
            }
        }

        @Override
        public boolean next(GridRow row) throws IOException {
            try {
                while (!ended && xml.hasNext()) {
                    int event = xml.next();
                    if (event == XMLStreamConstants.START_ELEMENT
                            && xml.getLocalName().equals("row")) {
                        String r = attribute(xml, "r");
                        long given = r == null ? number + 1 : integer(r);
                        number = given > number ? given : number + 1;
                        row.clear(number);
                        cells(row);
                        if (row.width > 0) {
                            return true;
                        }
                    } else if (event == XMLStreamConstants.END_ELEMENT
                            && xml.getLocalName().equals("sheetData")) {
                        ended = true;
                    }
                }
                return false;
            } catch (XMLStreamException wrong) {
                throw damaged(part, wrong);
            }
        }

        private void cells(GridRow row) throws XMLStreamException, IOException {
            int column = -1;
            int depth = 0;
            while (true) {
                int event = xml.next();
                if (event == XMLStreamConstants.START_ELEMENT) {
                    if (depth == 0 && xml.getLocalName().equals("c")) {
                        column = cell(row, column + 1);
                    } else {
                        depth++;
                    }
                } else if (event == XMLStreamConstants.END_ELEMENT) {
                    if (depth-- == 0) {
                        return;
                    }
                } else if (event == XMLStreamConstants.END_DOCUMENT) {
                    return;
                }
            }
        }

        /** Reads a cell, up to its end; returns its column. */
        private int cell(GridRow row, int next) throws XMLStreamException, IOException {
            int column = next;
            char type = 'n';
            int style = -1;
            for (int i = 0; i < xml.getAttributeCount(); i++) {
                String name = xml.getAttributeLocalName(i);
                if (name.length() == 1) {
                    String text = xml.getAttributeValue(i);
                    switch (name.charAt(0)) {
                        case 'r' -> column = column(text, next);
                        case 's' -> style = integer(text);
                        case 't' ->
                            type = text.equals("s")
                                    ? 's'
                                    : text.equals("b")
                                            ? 'b'
                                            : text.equals("e")
                                                    ? 'e'
                                                    : text.equals("d")
                                                            ? 'd'
                                                            : text.equals("str")
                                                                    ? 't'
                                                                    : text.equals("inlineStr") ? 't' : 'n';
                        default -> {
                            // nothing that a value depends on
                        }
                    }
                }
            }
            if (column < 0 || column >= Grid.MOST_COLUMNS) {
                throw new DamagedException(
                        "is an xlsx workbook with a cell in row " + number
                                + " beyond the last column that there can be",
                        null);
            }
            boolean valued = false;
            boolean formula = false;
            boolean takes = false;
            int phonetic = 0;
            int depth = 0;
            value.used = 0;
            while (true) {
                int event = xml.next();
                if (event == XMLStreamConstants.START_ELEMENT) {
                    depth++;
                    String name = xml.getLocalName();
                    boolean isValue =
                            name.length() == 1 && (name.charAt(0) == 'v' || (name.charAt(0) == 't' && phonetic == 0));
                    formula |= name.length() == 1 && name.charAt(0) == 'f';
                    phonetic += name.equals("rPh") ? 1 : 0;
                    takes = isValue;
                    valued |= isValue;
                } else if (event == XMLStreamConstants.END_ELEMENT) {
                    takes = false;
                    if (depth-- == 0) {
                        break;
                    }
                    phonetic -= xml.getLocalName().equals("rPh") ? 1 : 0;
                } else if (takes
                        && (event == XMLStreamConstants.CHARACTERS
                                || event == XMLStreamConstants.CDATA
                                || event == XMLStreamConstants.SPACE)) {
                    value.append(xml.getTextCharacters(), xml.getTextStart(), xml.getTextLength());
                } else if (event == XMLStreamConstants.END_DOCUMENT) {
                    break;
                }
            }
            boolean uncalculated = formula && value.used == 0 && type != 't'; // <f>A1*2</f><v></v>
            if (valued && !uncalculated) {
                put(row, column, type, style >= 0 && style < styles.length ? styles[style] : Style.PLAIN);
            } else if (formula) {
                row.fault(column, "", "holds a formula whose value was not stored");
            }
            return column;
        }

        private int column(String address, int fallback) {
            int column = CellName.column(address);
            return column == 0 ? fallback : column - 1;
        }

        private void put(GridRow row, int column, char type, Style style) throws IOException {
            switch (type) {
                case 's' -> {
                    int text = number(value);
                    if (text < 0 || text >= texts.size()) {
                        throw new DamagedException(
                                "is an xlsx workbook with a cell in row " + number
                                        + " that refers to a text that is not there",
                                null);
                    }
                    row.set(column, RawBatch.TEXT, texts.bytes, texts.from(text), texts.to(text) - texts.from(text));
                }
                case 't' -> {
                    unescape(value);
                    row.set(column, RawBatch.TEXT, value.bytes, 0, value.used);
                }
                case 'b' -> row.set(column, RawBatch.TRUTH, value.used > 0 && value.bytes[0] == '1' ? "true" : "false");
                case 'e' -> {
                    String error = new String(value.bytes, 0, value.used, java.nio.charset.StandardCharsets.UTF_8);
                    row.fault(column, error, "holds the error " + error);
                }
                case 'd' -> row.set(column, RawBatch.MOMENT, value.bytes, 0, value.used);
                default -> numeric(row, column, style);
            }
        }

        private void numeric(GridRow row, int column, Style style) {
            if (value.used == 0) {
                return;
            }
            if (style.shown() == CellTexts.Shown.NUMBER && CellTexts.isPlain(value.bytes, 0, value.used)) {
                row.set(column, RawBatch.BINARY, value.bytes, 0, value.used);
                return;
            }
            String text = new String(value.bytes, 0, value.used, java.nio.charset.StandardCharsets.UTF_8).strip();
            try {
                CellTexts.number(row, column, Double.parseDouble(text), style, from1904);
            } catch (NumberFormatException none) {
                row.fault(
                        column, text, "should hold a number and holds " + dev.hapster.core.reason.Reasons.quote(text));
            }
        }

        private static int number(Utf8Buffer digits) {
            int number = 0;
            for (int i = 0; i < digits.used; i++) {
                int digit = digits.bytes[i] - '0';
                if (digit < 0 || digit > 9 || number > 200_000_000) {
                    return -1;
                }
                number = number * 10 + digit;
            }
            return digits.used == 0 ? -1 : number;
        }

        @Override
        public List<Range> merged() throws IOException {
            List<Range> areas = new ArrayList<>();
            elements(part, (name, one) -> {
                Range area = name.equals("mergeCell") ? range(attribute(one, "ref")) : null;
                if (area != null) {
                    areas.add(area);
                }
            });
            areas.sort(Comparator.comparingInt(Range::firstRow));
            return areas;
        }

        @Override
        public Optional<List<Table>> tables() throws IOException {
            List<Table> tables = new ArrayList<>();
            for (String table : related(part, "/table").values()) {
                elements(table, (name, one) -> {
                    Range all = name.equals("table") ? range(attribute(one, "ref")) : null;
                    if (all != null) {
                        String title = attribute(one, "displayName") != null
                                ? attribute(one, "displayName")
                                : attribute(one, "name");
                        int totals = integer(attribute(one, "totalsRowCount"));
                        tables.add(new Table(
                                String.valueOf(title),
                                new Range(all.firstRow(), all.lastRow() - totals, all.firstColumn(), all.lastColumn()),
                                !"0".equals(attribute(one, "headerRowCount"))));
                    }
                });
            }
            return Optional.of(tables);
        }

        @Override
        public void close() throws IOException {
            in.close();
        }
    }

    @Override
    public void close() throws IOException {
        zip.close();
    }
}
