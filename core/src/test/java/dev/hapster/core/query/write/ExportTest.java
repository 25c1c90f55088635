package dev.hapster.core.query.write;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.NamedCsvRecord;
import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.DatasetQuery.Selection;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.store.PartOrigin;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.StringReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import javax.xml.XMLConstants;
import javax.xml.transform.stream.StreamSource;
import javax.xml.validation.SchemaFactory;
import org.apache.poi.ss.usermodel.CellType;
import org.apache.poi.ss.usermodel.DateUtil;
import org.apache.poi.xssf.usermodel.XSSFRow;
import org.apache.poi.xssf.usermodel.XSSFSheet;
import org.apache.poi.xssf.usermodel.XSSFWorkbook;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.dhatim.fastexcel.reader.Row;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.TestInstance.Lifecycle;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Files for others, named, nested and written as they want them. */
@TestInstance(Lifecycle.PER_CLASS)
class ExportTest {

    private static final String TABLE = "lab,value,day,at,note\n"
            + "North,1.50,2026-03-01,2026-03-01 08:05:00,=1+1\n"
            + "East,-2.25,,,\"Größe < 5 & \"\"µ\"\"\"\n"
            + "East,,2026-12-31,2026-12-31 23:59:59.5,a\u0001b\n";

    private DatasetQuery query;
    private Path scratch;

    @BeforeAll
    void rows(@TempDir Path folder) throws Exception {
        scratch = folder;
        DatasetDef dataset = TestJobs.dataset(
                "{name: lab, type: text}",
                "{name: value, type: \"decimal(9,2)\"}",
                "{name: day, type: date}",
                "{name: at, type: timestamp}",
                "{name: note, type: text}");
        Path file = folder.resolve("1.parquet");
        TestJobs.part(file, dataset, new PartOrigin("f.csv", "/f.csv", 1, Instant.EPOCH), TABLE);
        query = new DatasetQuery(dataset, List.of(new PartFile(file, 3)));
    }

    private byte[] bytes(String format, RowStyle style, String where, String... columns) throws Exception {
        style.check();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        Selection selection =
                new Selection(List.of(columns), false, where.isEmpty() ? List.of() : List.of(where), List.of());
        query.export(selection, names -> RowWriter.limits(format, style, names), false)
                .to(RowWriter.of(format, out, "x", style).orElseThrow(), scratch);
        return out.toByteArray();
    }

    private String text(String format, RowStyle style, String where, String... columns) throws Exception {
        return new String(bytes(format, style, where, columns), style.encoding());
    }

    private static RowStyle style(char separator, String encoding, char decimal, String dates, boolean safe)
            throws QueryException {
        return new RowStyle(
                separator,
                RowStyle.encoding(encoding),
                decimal,
                Optional.of(dates),
                Optional.of(dates + " HH:mm"),
                false,
                true,
                safe,
                "rows",
                "row");
    }

    @Test
    void csvIsWrittenAsOthersWantIt() throws Exception {
        RowStyle style = style(';', "windows-1252", ',', "dd.MM.yyyy", true);
        assertThat(text("csv", style, "", "lab as Labor", "value as Wert", "day as Tag", "at as Zeit"))
                .isEqualTo("Labor;Wert;Tag;Zeit\r\nNorth;1,50;01.03.2026;01.03.2026 08:05\r\nEast;-2,25;;\r\n"
                        + "East;;31.12.2026;31.12.2026 23:59\r\n");
        assertThat(text("csv", style, "note ~ g", "note", "value"))
                .isEqualTo("note;value\r\n\"Größe < 5 & \"\"µ\"\"\";-2,25\r\n");
        assertThat(text("csv", style, "lab = North", "note", "value")).isEqualTo("note;value\r\n'=1+1;1,50\r\n");
        assertThat(text("csv", RowStyle.USUAL, "lab = North", "note", "day")).endsWith("=1+1,2026-03-01\r\n");
        assertThatThrownBy(() -> bytes("csv", style(';', "US-ASCII", '.', "yyyy", false), "", "note"))
                .isInstanceOf(QueryException.class)
                .hasMessageContaining("note in f.csv:3 has U+00F6");
        assertThat(text("csv", style(';', "US-ASCII", '.', "yyyy", false), "lab = North", "note"))
                .contains("=1+1");
    }

    @Test
    void pointsInNamesMakeAStructure() throws Exception {
        String[] columns = {"lab as site.name", "value as result.value", "day as result.day", "at as site.seen"};
        assertThat(text("json", RowStyle.USUAL, "value is filled", columns))
                .isEqualTo(
                        """
                        [
                        {"site":{"name":"North","seen":"2026-03-01T08:05:00"},"result":{"value":1.50,"day":"2026-03-01"}},
                        {"site":{"name":"East","seen":null},"result":{"value":-2.25,"day":null}}
                        ]
                        """);
        assertThat(text("json", RowStyle.USUAL, "lab = nowhere")).isEqualTo("[\n]\n");
        assertThat(text("json_lines", RowStyle.USUAL, "lab = North", columns))
                .startsWith("{\"site\":{\"name\":\"North\"");
    }

    @Test
    void othersReadCsvAsItIsMeant() throws Exception {
        try (CsvReader<NamedCsvRecord> read = CsvReader.builder().ofNamedCsvRecord(text("csv", RowStyle.USUAL, ""))) {
            assertThat(read.stream().map(record -> record.getFieldsAsMap().toString()))
                    .containsExactly(
                            "{lab=North, value=1.50, day=2026-03-01, at=2026-03-01T08:05:00, note==1+1}",
                            "{lab=East, value=-2.25, day=, at=, note=Größe < 5 & \"µ\"}",
                            "{lab=East, value=, day=2026-12-31, at=2026-12-31T23:59:59.5, note=a\u0001b}");
        }
    }

    /** Two readers that have nothing in common with each other, or with ours. */
    @Test
    void othersReadAWorkbookAsItIsMeant() throws Exception {
        byte[] book = bytes("xlsx", RowStyle.USUAL, "");
        try (XSSFWorkbook poi = new XSSFWorkbook(new ByteArrayInputStream(book))) {
            XSSFSheet sheet = poi.getSheet("x");
            assertThat(poi.getNumberOfSheets()).isEqualTo(1);
            assertThat(sheet.getLastRowNum()).isEqualTo(3);
            assertThat(sheet.getPaneInformation().isFreezePane()).isTrue();
            assertThat(sheet.getPaneInformation().getHorizontalSplitPosition()).isEqualTo((short) 1);
            XSSFRow north = sheet.getRow(1);
            assertThat(sheet.getRow(0).getCell(1).getStringCellValue()).isEqualTo("value");
            assertThat(north.getCell(1).getNumericCellValue()).isEqualTo(1.5);
            assertThat(DateUtil.isCellDateFormatted(north.getCell(2))).isTrue();
            assertThat(north.getCell(2).getLocalDateTimeCellValue()).isEqualTo("2026-03-01T00:00");
            assertThat(north.getCell(3).getLocalDateTimeCellValue()).isEqualTo("2026-03-01T08:05");
            assertThat(north.getCell(4).getCellType()).isEqualTo(CellType.STRING);
            assertThat(north.getCell(4).getStringCellValue()).isEqualTo("=1+1");
            assertThat(sheet.getRow(2).getCell(4).getStringCellValue()).isEqualTo("Größe < 5 & \"µ\"");
            assertThat(sheet.getRow(3).getCell(1)).isNull();
            assertThat(sheet.getRow(3).getCell(3).getLocalDateTimeCellValue()).isEqualTo("2026-12-31T23:59:59.500");
        }
        try (ReadableWorkbook other = new ReadableWorkbook(new ByteArrayInputStream(book));
                Stream<Row> rows = other.getFirstSheet().openStream()) {
            List<Row> all = rows.toList();
            assertThat(all).hasSize(4);
            assertThat(all.get(1).getCellAsNumber(1).orElseThrow()).isEqualByComparingTo("1.5");
            assertThat(all.get(1).getCellAsDate(3).orElseThrow()).isEqualTo("2026-03-01T08:05");
            assertThat(all.get(1).getCellAsString(4)).contains("=1+1");
            assertThat(all.get(2).getCellAsDate(2)).isEmpty();
        }
    }

    @Test
    void rowsAreGroupedUnderWhatTheyHaveInCommon() throws Exception {
        String[] columns = {"lab as site.name", "value as site.samples[].value", "day as site.samples[].day"};
        assertThat(text("json", RowStyle.USUAL, "", columns))
                .isEqualTo(
                        """
                        [
                        {"site":{"name":"East","samples":[{"value":-2.25,"day":null},{"value":null,"day":"2026-12-31"}]}},
                        {"site":{"name":"North","samples":[{"value":1.50,"day":"2026-03-01"}]}}
                        ]
                        """);
        assertThat(text("json_lines", RowStyle.USUAL, "", "value as values[]", "lab"))
                .isEqualTo("{\"lab\":\"East\",\"values\":[-2.25,null]}\n{\"lab\":\"North\",\"values\":[1.50]}\n");
        assertThat(text("json", RowStyle.USUAL, "", "lab as labs[].lab", "value as labs[].days[].value", "day as all"))
                .isEqualTo(
                        """
                        [
                        {"all":"2026-03-01","labs":[{"lab":"North","days":[{"value":1.50}]}]},
                        {"all":"2026-12-31","labs":[{"lab":"East","days":[{"value":null}]}]},
                        {"all":null,"labs":[{"lab":"East","days":[{"value":-2.25}]}]}
                        ]
                        """);
        assertThat(text("json", RowStyle.USUAL, "", "lab as labs[].lab", "value as labs[].found[].value"))
                .as("one of all rows, with two labs, of which one has two")
                .isEqualTo("[\n{\"labs\":[{\"lab\":\"East\",\"found\":[{\"value\":-2.25},{\"value\":null}]},"
                        + "{\"lab\":\"North\",\"found\":[{\"value\":1.50}]}]}\n]\n");
        assertThat(text(
                        "xml",
                        RowStyle.USUAL,
                        "",
                        "lab as @lab",
                        "value as found.sample[].@value",
                        "day as found.sample[].day"))
                .endsWith(
                        """
                        <rows>
                        <row lab="East"><found><sample value="-2.25"/><sample><day>2026-12-31</day></sample></found></row>
                        <row lab="North"><found><sample value="1.50"><day>2026-03-01</day></sample></found></row>
                        </rows>
                        """);
        assertThat(text("json", RowStyle.USUAL, "lab = nowhere", columns)).isEqualTo("[\n]\n");
        assertThat(text("csv", RowStyle.USUAL, "lab = North", "value as a[].b")).startsWith("a[].b");
    }

    @Test
    void xmlIsValidByASchemaMadeForIt() throws Exception {
        String schema =
                """
                <xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema">
                  <xs:element name="samples"><xs:complexType><xs:sequence>
                    <xs:element name="sample" maxOccurs="unbounded"><xs:complexType>
                      <xs:sequence>
                        <xs:element name="result" minOccurs="0"><xs:complexType><xs:sequence>
                          <xs:element name="value" type="xs:decimal" minOccurs="0"/>
                          <xs:element name="day" type="xs:date" minOccurs="0"/>
                        </xs:sequence></xs:complexType></xs:element>
                        <xs:element name="at" type="xs:dateTime" minOccurs="0"/>
                        <xs:element name="note" type="xs:string" minOccurs="0"/>
                      </xs:sequence>
                      <xs:attribute name="lab" use="required"/>
                    </xs:complexType></xs:element>
                  </xs:sequence></xs:complexType></xs:element>
                </xs:schema>
                """;
        RowStyle usual = RowStyle.USUAL;
        RowStyle style = new RowStyle(
                ',',
                StandardCharsets.UTF_8,
                '.',
                Optional.empty(),
                Optional.empty(),
                false,
                true,
                false,
                "samples",
                "sample");
        String[] columns = {"value as result.value", "day as result.day", "at", "note", "lab as @lab"};
        byte[] xml = bytes("xml", style, "value is filled", columns);
        SchemaFactory.newInstance(XMLConstants.W3C_XML_SCHEMA_NS_URI)
                .newSchema(new StreamSource(new StringReader(schema)))
                .newValidator()
                .validate(new StreamSource(new ByteArrayInputStream(xml)));
        assertThat(new String(xml, StandardCharsets.UTF_8))
                .contains(
                        "<sample lab=\"North\"><result><value>1.50</value><day>2026-03-01</day></result>",
                        "<sample lab=\"East\"><result><value>-2.25</value></result><note>Größe &lt; 5 &amp; \"µ\"</note>");
        assertThatThrownBy(() -> bytes("xml", usual, ""))
                .hasMessageContaining("note in f.csv:4 has U+0001 in \"a\\u0001b\"");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '#',
            value = {
                "xml # lab as Sample No # 'Sample No' cannot be the name of an element",
                "xml # lab as @a.b # cannot be the name of an attribute",
                "json # lab as a,value as a.b # 'a.b' lies in another column",
                "json # lab as a..b # has no name before or behind a point",
                "json # lab as a[].b,value as c[].d # are lists beside each other",
                "json # lab as a[].b,value as a.c # lies in another column, or twice in the same place",
                "xml # lab as @a[],value # of which there is one in an element",
                "csv # lab as a,value as a # Two columns would be called \"a\"",
                "csv # lab as value,value # Two columns would be called \"value\"",
                "csv # labb as a # There is no column 'labb'. Did you mean 'lab'?",
            })
    void namesThatCannotBeAreSaidBeforeTheFirstByte(String format, String columns, String message) {
        assertThatThrownBy(() -> bytes(format, RowStyle.USUAL, "lab = North", columns.split(",")))
                .isInstanceOf(QueryException.class)
                .hasMessageContaining(message);
    }

    @Test
    void whatCannotBeAWayToWriteIsSaid() {
        UnaryOperator<RowStyle> decimal = style -> new RowStyle(
                style.separator(),
                style.encoding(),
                'x',
                style.dates(),
                style.timestamps(),
                false,
                true,
                false,
                "a",
                "b");
        assertThatThrownBy(() -> decimal.apply(RowStyle.USUAL).check()).hasMessageContaining("a point or a comma");
        assertThatThrownBy(() -> style('"', "UTF-8", '.', "yyyy", false).check())
                .hasMessageContaining("separator");
        assertThatThrownBy(() -> style(';', "UTF-9", '.', "yyyy", false))
                .hasMessageContaining("'UTF-9' is no encoding");
        assertThatThrownBy(() -> style(';', "UTF-8", '.', "HH:mm", false).check())
                .hasMessageContaining("\"HH:mm\" is not a pattern for dates");
        assertThatThrownBy(() -> style(';', "UTF-8", '.', "bogus{", false).check())
                .hasMessageContaining("is not a pattern for dates");
    }
}
