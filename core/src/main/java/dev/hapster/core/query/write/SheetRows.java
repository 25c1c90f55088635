package dev.hapster.core.query.write;

import com.fasterxml.aalto.stax.InputFactoryImpl;
import com.fasterxml.aalto.stax.OutputFactoryImpl;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.QueryException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.math.BigDecimal;
import java.nio.channels.SeekableByteChannel;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import javax.xml.namespace.QName;
import javax.xml.stream.XMLEventReader;
import javax.xml.stream.XMLEventWriter;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;
import javax.xml.stream.events.Attribute;
import javax.xml.stream.events.StartElement;
import javax.xml.stream.events.XMLEvent;
import org.apache.commons.compress.archivers.zip.Zip64Mode;
import org.apache.commons.compress.archivers.zip.ZipArchiveEntry;
import org.apache.commons.compress.archivers.zip.ZipArchiveOutputStream;

/**
 * Rows in one sheet of a workbook that is there: in place of what the sheet has, or below its last row. All else in the
 * workbook stays as it is. Not thread-safe.
 */
final class SheetRows implements RowWriter {

    private static final int MOST_ROWS = 1_048_576;
    private static final int MEASURED = 200;
    private static final int WIDEST = 60;
    private static final String MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
    private static final LocalDate DAY_ZERO = LocalDate.of(1899, 12, 30);
    private static final double NANOS_PER_DAY = 86_400e9;

    /** What a sheet says of cells that are no longer there. */
    private static final Set<String> OF_CELLS =
            Set.of("mergeCells", "autoFilter", "sortState", "hyperlinks", "ignoredErrors", "phoneticPr");

    private final SheetBook book;
    private final boolean below;
    private final ZipArchiveOutputStream zip;
    private final List<XMLEvent> tail = new ArrayList<>();
    private final List<List<Comparable<?>>> first = new ArrayList<>();
    private List<Field> fields = List.of();
    private XMLEventWriter events;
    private XMLStreamWriter xml;
    private String prefix = "";
    private boolean begun;
    private int rows;

    /**
     * @param workbook as it is; closed with this
     * @param out where it is written anew
     * @param below whether the rows go below the last one; otherwise they take the place of all
     * @throws QueryException where it cannot be written into
     */
    SheetRows(SeekableByteChannel workbook, OutputStream out, String sheet, boolean below)
            throws IOException, QueryException {
        book = new SheetBook(workbook, sheet);
        this.below = below && book.isThere();
        zip = new ZipArchiveOutputStream(out);
        zip.setUseZip64(Zip64Mode.AsNeeded);
    }

    private interface Writing {
        void write() throws XMLStreamException, IOException;
    }

    private static void write(Writing writing) throws IOException {
        try {
            writing.write();
        } catch (XMLStreamException wrong) {
            throw wrong.getCause() instanceof IOException io
                    ? io
                    : new IOException("The sheet cannot be written into: " + wrong.getMessage(), wrong);
        }
    }

    @Override
    public void begin(List<Field> wanted) throws IOException {
        fields = List.copyOf(wanted);
        book.copyOthers(zip);
        zip.putArchiveEntry(new ZipArchiveEntry(book.part()));
        if (book.isThere()) {
            write(this::copyHead);
            begun = true;
        }
    }

    /** Writes the sheet up to where rows go, and keeps what comes behind them. */
    private void copyHead() throws XMLStreamException, IOException {
        OutputFactoryImpl factory = new OutputFactoryImpl();
        xml = factory.createXMLStreamWriter(zip, StandardCharsets.UTF_8.name());
        events = factory.createXMLEventWriter(xml);
        InputFactoryImpl input = new InputFactoryImpl();
        input.setProperty(XMLInputFactory.SUPPORT_DTD, false);
        input.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
        try (InputStream in = book.sheet()) {
            XMLEventReader reader = input.createXMLEventReader(in);
            boolean behind = false;
            boolean data = false;
            while (reader.hasNext()) {
                XMLEvent event = reader.nextEvent();
                String name = event.isStartElement()
                        ? event.asStartElement().getName().getLocalPart()
                        : event.isEndElement() ? event.asEndElement().getName().getLocalPart() : "";
                if (event.isStartElement() && (name.equals("tableParts") || name.equals("pivotTableDefinition"))) {
                    throw new IOException("The sheet has a table, of which the rows cannot be replaced here. Name "
                            + "another sheet, and let the table look at that");
                }
                if (event.isStartElement() && (name.equals("dimension") || (!below && OF_CELLS.contains(name)))) {
                    skip(reader);
                } else if (event.isStartElement() && name.equals("sheetData")) {
                    prefix = event.asStartElement().getName().getPrefix();
                    events.add(event);
                    data = true;
                    if (!below) {
                        skip(reader);
                        behind = true;
                    }
                } else if (event.isEndElement() && name.equals("sheetData")) {
                    behind = true;
                } else if (behind) {
                    tail.add(event);
                } else {
                    if (event.isStartElement() && name.equals("row")) {
                        rows = Math.max(rows + 1, number(event.asStartElement()));
                    }
                    events.add(event);
                }
            }
            if (!data) {
                throw new IOException("The sheet has no place for rows");
            }
        }
        if (rows == 0) {
            header();
        }
    }

    private static int number(StartElement row) throws IOException {
        Attribute number = row.getAttributeByName(new QName("r"));
        try {
            return number == null ? 0 : Integer.parseInt(number.getValue());
        } catch (NumberFormatException wrong) {
            throw new IOException("The sheet has a row with the number '" + number.getValue() + "'", wrong);
        }
    }

    private static void skip(XMLEventReader reader) throws XMLStreamException {
        for (int depth = 1; depth > 0; ) {
            XMLEvent event = reader.nextEvent();
            depth += event.isStartElement() ? 1 : event.isEndElement() ? -1 : 0;
        }
    }

    /** Begins a sheet that is not there yet, with columns as wide as the first values need. */
    private void beginNew() throws XMLStreamException, IOException {
        xml = new OutputFactoryImpl().createXMLStreamWriter(zip, StandardCharsets.UTF_8.name());
        xml.writeStartDocument("UTF-8", "1.0");
        xml.writeStartElement("worksheet");
        xml.writeDefaultNamespace(MAIN);
        xml.writeStartElement("sheetViews");
        xml.writeStartElement("sheetView");
        xml.writeAttribute("workbookViewId", "0");
        xml.writeEmptyElement("pane");
        xml.writeAttribute("ySplit", "1");
        xml.writeAttribute("topLeftCell", "A2");
        xml.writeAttribute("activePane", "bottomLeft");
        xml.writeAttribute("state", "frozen");
        xml.writeEndElement();
        xml.writeEndElement();
        xml.writeStartElement("cols");
        for (int i = 0; i < fields.size(); i++) {
            int width = fields.get(i).name().length();
            for (List<Comparable<?>> row : first) {
                width = Math.max(
                        width,
                        row.get(i) == null
                                ? 0
                                : Math.min(WIDEST, row.get(i).toString().length()));
            }
            xml.writeEmptyElement("col");
            xml.writeAttribute("min", Integer.toString(i + 1));
            xml.writeAttribute("max", Integer.toString(i + 1));
            xml.writeAttribute("width", Integer.toString(width + 2));
            xml.writeAttribute("customWidth", "1");
        }
        xml.writeEndElement();
        xml.writeStartElement("sheetData");
        header();
        begun = true;
        for (List<Comparable<?>> row : first) {
            cells(row);
        }
        first.clear();
    }

    private void header() throws XMLStreamException, IOException {
        startRow();
        for (Field field : fields) {
            text(field.name(), book.formats().header());
        }
        xml.writeEndElement();
    }

    private void start(String name) throws XMLStreamException {
        if (prefix.isEmpty()) {
            xml.writeStartElement(name);
        } else {
            xml.writeStartElement(prefix, name, MAIN);
        }
    }

    private int column;

    private void startRow() throws XMLStreamException, IOException {
        if (rows == MOST_ROWS) {
            throw new IOException("A sheet has " + MOST_ROWS + " rows at most, and these would be more. Choose fewer "
                    + "with a condition, or write a workbook of its own, which has as many sheets as it takes");
        }
        start("row");
        xml.writeAttribute("r", Integer.toString(++rows));
        column = 0;
    }

    private void startCell(int style, String type) throws XMLStreamException {
        start("c");
        xml.writeAttribute("r", letters(column++) + rows);
        if (style > 0) {
            xml.writeAttribute("s", Integer.toString(style));
        }
        if (!type.isEmpty()) {
            xml.writeAttribute("t", type);
        }
    }

    private static String letters(int column) {
        String letters = "";
        for (int rest = column; rest >= 0; rest = rest / 26 - 1) {
            letters = (char) ('A' + rest % 26) + letters;
        }
        return letters;
    }

    private void number(String number, int style, String type) throws XMLStreamException {
        startCell(style, type);
        start("v");
        xml.writeCharacters(number);
        xml.writeEndElement();
        xml.writeEndElement();
    }

    private void text(String text, int style) throws XMLStreamException {
        startCell(style, "inlineStr");
        start("is");
        start("t");
        xml.writeAttribute("xml", "http://www.w3.org/XML/1998/namespace", "space", "preserve");
        xml.writeCharacters(XlsxRows.written(text));
        xml.writeEndElement();
        xml.writeEndElement();
        xml.writeEndElement();
    }

    @Override
    public void row(List<Comparable<?>> values) throws IOException {
        if (begun) {
            write(() -> cells(values));
            return;
        }
        first.add(new ArrayList<>(values));
        if (first.size() == MEASURED) {
            write(this::beginNew);
        }
    }

    private void cells(List<Comparable<?>> values) throws XMLStreamException, IOException {
        startRow();
        for (Comparable<?> value : values) {
            if (value == null) {
                column++;
            } else if (value instanceof Boolean truth) {
                number(truth ? "1" : "0", 0, "b");
            } else if (XlsxRows.isNumber(value)) {
                number(value instanceof BigDecimal exact ? exact.toPlainString() : value.toString(), 0, "");
            } else if (value instanceof LocalDate day && XlsxRows.isDay(day)) {
                number(Long.toString(days(day)), book.formats().day(), "");
            } else if (value instanceof LocalDateTime moment && XlsxRows.isMoment(moment)) {
                double time = moment.toLocalTime().toNanoOfDay() / NANOS_PER_DAY;
                number(
                        Double.toString(days(moment.toLocalDate()) + time),
                        book.formats().moment(),
                        "");
            } else {
                text(XlsxRows.text(value, fields.get(column).name(), rows), 0);
            }
        }
        xml.writeEndElement();
    }

    private static long days(LocalDate day) {
        return day.toEpochDay() - DAY_ZERO.toEpochDay();
    }

    @Override
    public void finish() throws IOException {
        write(() -> {
            if (!begun) {
                beginNew();
            }
            if (events == null) {
                xml.writeEndDocument();
            } else {
                xml.writeEndElement();
                for (XMLEvent event : tail) {
                    events.add(event);
                }
            }
            xml.flush();
        });
        zip.closeArchiveEntry();
        zip.finish();
    }

    @Override
    public void close() throws IOException {
        book.close();
    }
}
