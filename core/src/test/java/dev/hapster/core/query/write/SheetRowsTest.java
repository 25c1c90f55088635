package dev.hapster.core.query.write;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.QueryException;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.apache.commons.compress.utils.SeekableInMemoryByteChannel;
import org.apache.poi.ss.usermodel.BorderStyle;
import org.apache.poi.ss.usermodel.CellStyle;
import org.apache.poi.ss.usermodel.DateUtil;
import org.apache.poi.ss.usermodel.FormulaEvaluator;
import org.apache.poi.ss.util.CellRangeAddress;
import org.apache.poi.xssf.usermodel.XSSFSheet;
import org.apache.poi.xssf.usermodel.XSSFWorkbook;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Rows in one sheet of a workbook of others, as two other readers see it. */
class SheetRowsTest {

    private static final List<Field> FIELDS = List.of(
            new Field("lab", ColumnType.of(ColumnType.Kind.TEXT)),
            new Field("value", ColumnType.parse("decimal(9,2)").orElseThrow()),
            new Field("day", ColumnType.of(ColumnType.Kind.DATE)),
            new Field("at", ColumnType.of(ColumnType.Kind.TIMESTAMP)));

    private static final List<List<Comparable<?>>> ROWS = List.of(
            Arrays.asList("=1 <&> \u0001", new BigDecimal("1.50"), LocalDate.of(2026, 3, 1), null),
            Arrays.asList(" spaces ", null, null, LocalDateTime.of(2026, 3, 1, 6, 0)));

    /** A report of somebody: data, merged and coloured, and a sheet that adds it up. */
    private static byte[] report() throws IOException {
        try (XSSFWorkbook book = new XSSFWorkbook()) {
            XSSFSheet data = book.createSheet("Data");
            CellStyle framed = book.createCellStyle();
            framed.setBorderBottom(BorderStyle.THICK);
            for (int i = 0; i < 5; i++) {
                data.createRow(i).createCell(0).setCellValue("old " + i);
                data.getRow(i).createCell(1).setCellValue(100);
                data.getRow(i).getCell(0).setCellStyle(framed);
            }
            data.addMergedRegion(new CellRangeAddress(0, 0, 0, 1));
            data.setColumnWidth(0, 9000);
            XSSFSheet sum = book.createSheet("Sum");
            sum.createRow(0).createCell(0).setCellFormula("SUM(Data!B:B)");
            sum.getRow(0).getCell(0).setCellStyle(framed);
            book.createName().setNameName("all");
            book.getName("all").setRefersToFormula("Data!$A$1:$B$99");
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            book.write(out);
            return out.toByteArray();
        }
    }

    private static byte[] written(byte[] book, String sheet, boolean below) throws IOException, QueryException {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (RowWriter writer = RowWriter.intoSheet(new SeekableInMemoryByteChannel(book.clone()), out, sheet, below)) {
            writer.begin(FIELDS);
            for (List<Comparable<?>> row : ROWS) {
                writer.row(row);
            }
            writer.finish();
        }
        return out.toByteArray();
    }

    private static Map<String, List<Byte>> parts(byte[] book) throws IOException {
        Map<String, List<Byte>> parts = new TreeMap<>();
        try (ZipInputStream zip = new ZipInputStream(new ByteArrayInputStream(book))) {
            for (ZipEntry entry = zip.getNextEntry(); entry != null; entry = zip.getNextEntry()) {
                List<Byte> bytes = new ArrayList<>();
                for (byte one : zip.readAllBytes()) {
                    bytes.add(one);
                }
                parts.put(entry.getName(), bytes);
            }
        }
        return parts;
    }

    @Test
    void aSheetIsReplacedAndAllElseStays() throws Exception {
        byte[] before = report();
        byte[] after = written(before, "data", false);
        Map<String, List<Byte>> parts = parts(after);
        assertThat(parts.keySet()).isEqualTo(parts(before).keySet());
        parts(before).forEach((name, bytes) -> {
            if (!name.matches(".*(sheet1|styles|workbook|workbook.xml.rels|\\[Content_Types])\\.?x?m?l?")) {
                assertThat(parts.get(name)).as(name).isEqualTo(bytes);
            }
        });
        try (XSSFWorkbook book = new XSSFWorkbook(new ByteArrayInputStream(after))) {
            XSSFSheet data = book.getSheet("Data");
            assertThat(data.getLastRowNum()).isEqualTo(2);
            assertThat(data.getNumMergedRegions()).isZero();
            assertThat(data.getColumnWidth(0)).isEqualTo(9000);
            assertThat(data.getRow(0).getCell(3).getStringCellValue()).isEqualTo("at");
            assertThat(data.getRow(1).getCell(0).getStringCellValue()).isEqualTo("=1 <&> \u0001");
            assertThat(data.getRow(1).getCell(1).getNumericCellValue()).isEqualTo(1.5);
            assertThat(DateUtil.isCellDateFormatted(data.getRow(1).getCell(2))).isTrue();
            assertThat(data.getRow(1).getCell(2).getLocalDateTimeCellValue()).isEqualTo("2026-03-01T00:00");
            assertThat(data.getRow(2).getCell(0).getStringCellValue()).isEqualTo(" spaces ");
            assertThat(data.getRow(2).getCell(1)).isNull();
            assertThat(data.getRow(2).getCell(3).getLocalDateTimeCellValue()).isEqualTo("2026-03-01T06:00");
            assertThat(book.getForceFormulaRecalculation()).isTrue();
            assertThat(book.getName("all").getRefersToFormula()).isEqualTo("Data!$A$1:$B$99");
            assertThat(book.getSheet("Sum").getRow(0).getCell(0).getCellStyle().getBorderBottom())
                    .isEqualTo(BorderStyle.THICK);
            FormulaEvaluator formulas = book.getCreationHelper().createFormulaEvaluator();
            assertThat(formulas.evaluate(book.getSheet("Sum").getRow(0).getCell(0))
                            .getNumberValue())
                    .isEqualTo(1.5);
        }
        try (ReadableWorkbook other = new ReadableWorkbook(new ByteArrayInputStream(after))) {
            assertThat(other.getFirstSheet().read()).hasSize(3);
        }
        assertThat(parts(written(after, "Data", false)).keySet()).isEqualTo(parts.keySet());
    }

    @Test
    void rowsGoBelowTheLastOne() throws Exception {
        byte[] twice = written(written(report(), "Data", true), "Data", true);
        try (XSSFWorkbook book = new XSSFWorkbook(new ByteArrayInputStream(twice))) {
            XSSFSheet data = book.getSheet("Data");
            assertThat(data.getLastRowNum()).isEqualTo(8);
            assertThat(data.getRow(4).getCell(0).getStringCellValue()).isEqualTo("old 4");
            assertThat(data.getRow(0).getCell(0).getCellStyle().getBorderBottom())
                    .isEqualTo(BorderStyle.THICK);
            assertThat(data.getRow(5).getCell(0).getStringCellValue()).startsWith("=1");
            assertThat(data.getRow(8).getCell(0).getStringCellValue()).isEqualTo(" spaces ");
            assertThat(data.getNumMergedRegions()).isEqualTo(1);
        }
    }

    @ParameterizedTest
    @ValueSource(booleans = {true, false})
    void aSheetThatIsNotThereIsAdded(boolean below) throws Exception {
        byte[] after = written(written(report(), "New & more", below), "Empty", below);
        try (XSSFWorkbook book = new XSSFWorkbook(new ByteArrayInputStream(after))) {
            assertThat(book.getNumberOfSheets()).isEqualTo(4);
            XSSFSheet fresh = book.getSheet("New & more");
            assertThat(book.getSheetIndex(fresh)).isEqualTo(2);
            assertThat(fresh.getRow(0).getCell(1).getStringCellValue()).isEqualTo("value");
            assertThat(book.getFontAt(fresh.getRow(0).getCell(1).getCellStyle().getFontIndex())
                            .getBold())
                    .isTrue();
            assertThat(fresh.getPaneInformation().isFreezePane()).isTrue();
            assertThat(fresh.getLastRowNum()).isEqualTo(2);
            assertThat(book.getSheet("Data").getLastRowNum()).isEqualTo(4);
        }
    }

    @ParameterizedTest
    @CsvSource({
        "Data/x, cannot be called 'Data/x'",
        "'', cannot be called ''",
        "A name that is far too long for a sheet, 1 to 31 characters",
    })
    void namesThatNoSheetCanHaveAreSaid(String sheet, String said) {
        assertThatThrownBy(() -> written(report(), sheet, false))
                .isInstanceOf(QueryException.class)
                .hasMessageContaining(said);
    }

    @Test
    void whatIsNoWorkbookIsSaid() throws Exception {
        assertThatThrownBy(() -> written("id,value\n".getBytes(StandardCharsets.UTF_8), "Data", false))
                .isInstanceOf(QueryException.class)
                .hasMessageContaining("not a workbook");
        byte[] whole = report();
        for (int length = 0; length < whole.length; length += 97) {
            byte[] half = Arrays.copyOf(whole, length);
            assertThatThrownBy(() -> written(half, "Data", false)).isInstanceOf(QueryException.class);
        }
    }
}
