package dev.hapster.core.read;

import static dev.hapster.core.read.MiniBook.row;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.hapster.core.read.Contents.All;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.ReasonCode;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.apache.poi.hssf.record.crypto.Biff8EncryptionKey;
import org.apache.poi.hssf.usermodel.HSSFWorkbook;
import org.apache.poi.poifs.crypt.EncryptionInfo;
import org.apache.poi.poifs.crypt.EncryptionMode;
import org.apache.poi.poifs.crypt.Encryptor;
import org.apache.poi.poifs.filesystem.POIFSFileSystem;
import org.apache.poi.ss.usermodel.CellStyle;
import org.apache.poi.ss.usermodel.FormulaError;
import org.apache.poi.ss.usermodel.Row;
import org.apache.poi.ss.usermodel.Sheet;
import org.apache.poi.ss.usermodel.Workbook;
import org.apache.poi.ss.util.CellRangeAddress;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Workbooks, new and old. */
class WorkbookTest {

    @TempDir
    private Path folder;

    private static List<String> cells(String... cells) {
        return Arrays.asList(cells);
    }

    private All read(MiniBook book, String rules, String sheet) throws Exception {
        return Contents.read(book.write(folder.resolve("a.xlsx")), Contents.rules("as: workbook" + rules), sheet);
    }

    private static FileRejectedException refusal(Path file, String rules, String sheet) {
        return catchThrowableOfType(
                FileRejectedException.class, () -> Contents.read(file, Contents.rules("as: workbook" + rules), sheet));
    }

    @Test
    void cellsAreWhatPeopleSee() throws Exception {
        MiniBook book = new MiniBook()
                .styles("dd.mm.yyyy", "yyyy-mm-dd hh:mm", "hh:mm", "00000", "0.00 \"d\"", "[h]:mm")
                .texts(
                        "<t>no</t>",
                        "<r><t>Tr\u00fc</t></r><r><t>bung</t></r><rPh><t>x</t></rPh>",
                        "<t xml:space=\"preserve\"> a_x000D_b </t>")
                .sheet(
                        "Mar",
                        row(1, "s:0", "'when", "'value")
                                + row(2, "'007", "1@46082", "s:1")
                                + row(3, "4@42", "2@46082.520833333336", "s:2")
                                + row(4, "5.0", "3@0.75", "0.30000000000000004")
                                + row(5, "1E-3", "6@1.25", "b:1")
                                + row(7, "1e+20", "5@12.5", "123456789012345"),
                        "");
        All all = read(book, "", "Mar");
        assertThat(all.names()).containsExactly("no", "when", "value");
        assertThat(all.rows())
                .containsExactly(
                        cells("007", "2026-03-01", "Tr\u00fcbung"),
                        cells("00042", "2026-03-01T12:30:00", " a\rb "),
                        cells("5", "18:00:00", "0.30000000000000004"),
                        cells("0.001", "1.25", "true"),
                        cells("100000000000000000000", "12.5", "123456789012345"));
        assertThat(all.lines()).containsExactly(2L, 3L, 4L, 5L, 7L);
        assertThat(all.originals().get(0)).isEqualTo("007\t2026-03-01\tTr\u00fcbung");
        All old = read(
                new MiniBook()
                        .from1904()
                        .styles("yyyy-mm-dd")
                        .sheet("a", row(1, "'d") + row(2, "1@0") + row(3, "1@44620"), ""),
                "",
                "a");
        assertThat(old.rows()).containsExactly(cells("1904-01-01"), cells("2026-03-01"));
    }

    @Test
    void errorsAndLostFormulasAreNamedWithTheirCell() throws Exception {
        All all = read(
                new MiniBook()
                        .sheet(
                                "Mar",
                                row(3, "'no", "'value")
                                        + row(17, "1", "e:#DIV/0!")
                                        + row(18, "2", "<f>A17*2</f>")
                                        + row(19, "3", "<f>A17*2</f><v>6</v>", "'stray")
                                        + row(20, "4", "<f>A17*2</f><v></v>"),
                                ""),
                "",
                "Mar");
        assertThat(all.rows()).containsExactly(cells("1", "#DIV/0!"), cells("2", ""), cells("3", "6"), cells("4", ""));
        assertThat(all.marks())
                .containsExactly(
                        "0:1:the cell Mar!B17 holds the error #DIV/0!",
                        "1:1:the cell Mar!B18 holds a formula whose value was not stored",
                        "2:-1:the cell Mar!C19 holds \"stray\" in a column without a header",
                        "3:1:the cell Mar!B20 holds a formula whose value was not stored");
    }

    @Test
    void rowsAreFoundByRangeTableFirstRowAndEnd() throws Exception {
        String rows = row(1, "'Harbour laboratory")
                + row(3, "", "'no", "'value", "", "'comment")
                + row(4, "", "1", "0.5")
                + row(5, "", "", "")
                + row(6, "", "2", "0.6")
                + row(7, "", "'Total", "1.1");
        MiniBook book = new MiniBook().sheet("Mar", rows, "").table("Samples", "B3:C7", "totalsRowCount=\"1\"");
        assertThat(read(book, ", lines_above: 2, ends_at: Total", "Mar").names())
                .containsExactly("no", "value", "comment");
        assertThat(read(book, ", header_contains: val, lines_below: 1", "Mar").rows())
                .containsExactly(cells("1", "0.5", null), cells("2", "0.6", null));
        assertThat(read(book, ", range: \"B3:C6\"", "Mar").rows())
                .containsExactly(cells("1", "0.5"), cells("2", "0.6"));
        assertThat(read(book, ", range: \"C4:C6\", names: [v]", "Mar").rows())
                .containsExactly(cells("0.5"), cells("0.6"));
        assertThat(read(book, ", table: samples", "Mar").rows()).containsExactly(cells("1", "0.5"), cells("2", "0.6"));
        assertThat(refusal(folder.resolve("a.xlsx"), ", table: Sample", "Mar")
                        .reason()
                        .sentence())
                .isEqualTo("has no table \"Sample\"; it has Samples");
        assertThat(refusal(folder.resolve("a.xlsx"), "", "Apr").reason().sentence())
                .isEqualTo("has no sheet \"Apr\" any more; it has Mar");
        assertThat(refusal(folder.resolve("a.xlsx"), ", lines_above: 9", "Mar")
                        .reason()
                        .sentence())
                .isEqualTo("is a sheet that holds nothing below its first 9 rows");
    }

    @Test
    void mergedCellsAreReadAsDeclared() throws Exception {
        String rows = row(1, "'station", "'value") + row(2, "'VS-012", "1") + row(3, "", "2") + row(4, "'VS-013", "3");
        MiniBook book = new MiniBook().sheet("a", rows, "<mergeCells><mergeCell ref=\"A2:A3\"/></mergeCells>");
        assertThat(read(book, "", "a").rows())
                .containsExactly(cells("VS-012", "1"), cells(null, "2"), cells("VS-013", "3"));
        assertThat(read(book, ", merged: repeat", "a").rows())
                .containsExactly(cells("VS-012", "1"), cells("VS-012", "2"), cells("VS-013", "3"));
    }

    @Test
    void oldWorkbooksAreReadTheSame() throws Exception {
        Path file = folder.resolve("old.xls");
        try (Workbook book = new HSSFWorkbook()) {
            book.createSheet("Notes").createRow(0).createCell(0).setCellValue("nothing here");
            Sheet sheet = book.createSheet("Mar");
            CellStyle date = book.createCellStyle();
            date.setDataFormat(book.createDataFormat().getFormat("dd.mm.yyyy hh:mm"));
            Row header = sheet.createRow(2);
            List.of("no", "when", "value", "ok", "sum")
                    .forEach(name -> header.createCell(Math.max(0, header.getLastCellNum()))
                            .setCellValue(name));
            for (int i = 0; i < 3; i++) {
                Row row = sheet.createRow(3 + i);
                row.createCell(0).setCellValue(i == 0 ? "007" : "N\u00e4chster");
                row.createCell(1).setCellValue(LocalDateTime.of(2026, 3, 1, 12, 30));
                row.getCell(1).setCellStyle(date);
                row.createCell(2).setCellValue(i == 0 ? 5 : 0.1);
                row.createCell(3).setCellValue(i == 0);
                row.createCell(4).setCellFormula(i == 2 ? "1/0" : "C" + (4 + i) + "*2");
            }
            book.getCreationHelper().createFormulaEvaluator().evaluateAll();
            sheet.addMergedRegion(new CellRangeAddress(4, 5, 0, 0));
            sheet.getRow(5).getCell(0).setBlank();
            sheet.getRow(5).createCell(4).setCellErrorValue(FormulaError.DIV0.getCode());
            book.createSheet("Apr").createRow(0).createCell(0).setCellValue("no");
            try (OutputStream out = Files.newOutputStream(file)) {
                book.write(out);
            }
        }
        assertThat(Formats.sheets(Contents.of(file))).containsExactly("Notes", "Mar", "Apr");
        All all = Contents.read(file, Contents.rules("as: workbook, lines_above: 2, merged: repeat"), "Mar");
        assertThat(all.names()).containsExactly("no", "when", "value", "ok", "sum");
        assertThat(all.rows())
                .containsExactly(
                        cells("007", "2026-03-01T12:30:00", "5", "true", "10"),
                        cells("N\u00e4chster", "2026-03-01T12:30:00", "0.1", "false", "0.2"),
                        cells("N\u00e4chster", "2026-03-01T12:30:00", "0.1", "false", "#DIV/0!"));
        assertThat(all.marks()).containsExactly("2:4:the cell Mar!E6 holds the error #DIV/0!");
        assertThat(all.lines()).containsExactly(4L, 5L, 6L);
    }

    @Test
    void encryptedCutAndHugeOnesAreRefused() throws Exception {
        new MiniBook().sheet("a", row(1, "'x"), "").write(folder.resolve("plain.xlsx"));
        Path locked = folder.resolve("locked.xlsx");
        try (POIFSFileSystem files = new POIFSFileSystem()) {
            Encryptor encryptor = new EncryptionInfo(EncryptionMode.agile).getEncryptor();
            encryptor.confirmPassword("Vessa");
            try (OutputStream out = encryptor.getDataStream(files)) {
                Files.copy(folder.resolve("plain.xlsx"), out);
            }
            try (OutputStream out = Files.newOutputStream(locked)) {
                files.writeFilesystem(out);
            }
        }
        assertThat(refusal(locked, "", "a").reason().sentence())
                .isEqualTo("is an encrypted workbook; it cannot be read without its password");
        Path old = folder.resolve("locked.xls");
        Biff8EncryptionKey.setCurrentUserPassword("Vessa");
        try (HSSFWorkbook book = new HSSFWorkbook();
                OutputStream out = Files.newOutputStream(old)) {
            book.createSheet("a").createRow(0).createCell(0).setCellValue("x");
            book.write(out);
        } finally {
            Biff8EncryptionKey.setCurrentUserPassword(null);
        }
        assertThat(refusal(old, "", "a").reason().code()).isEqualTo(ReasonCode.FILE_ENCRYPTED);
        byte[] whole = Files.readAllBytes(folder.resolve("plain.xlsx"));
        Path cut = Files.write(folder.resolve("cut.xlsx"), Arrays.copyOf(whole, whole.length / 2));
        assertThat(refusal(cut, "", "a").reason().code()).isEqualTo(ReasonCode.FILE_DAMAGED);
        Path wide = new MiniBook()
                .sheet(
                        "a",
                        row(
                                1,
                                IntStream.range(0, 16_384)
                                        .mapToObj(i -> "'c" + i)
                                        .toArray(String[]::new)),
                        "")
                .write(folder.resolve("wide.xlsx"));
        assertThat(refusal(wide, "", "a").reason().sentence()).isEqualTo("has more than 10 000 columns in its header");
    }

    @Test
    void damageAnywhereIsAReasonAndNothingElse() throws Exception {
        MiniBook book = new MiniBook()
                .styles("dd.mm.yyyy")
                .texts("<t>no</t>")
                .sheet("a", row(1, "s:0", "'d") + row(2, "1", "1@46082") + row(3, "2", "e:#N/A"), "")
                .table("T", "A1:B3", "");
        byte[] xlsx = Files.readAllBytes(book.write(folder.resolve("whole.xlsx")));
        Path file = folder.resolve("fuzzed");
        Random random = new Random(7);
        for (int i = 0; i < 1_000; i++) {
            byte[] bytes = xlsx.clone();
            for (int change = 0; change <= random.nextInt(4); change++) {
                bytes[random.nextInt(bytes.length)] = (byte) random.nextInt(256);
            }
            Files.write(file, random.nextInt(8) == 0 ? Arrays.copyOf(bytes, random.nextInt(bytes.length)) : bytes);
            try {
                Contents.read(file, Contents.rules("as: workbook"), null);
            } catch (FileRejectedException told) {
                assertThat(told.reason().sentence()).isNotBlank();
            }
        }
    }
}
