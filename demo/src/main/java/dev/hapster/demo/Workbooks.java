package dev.hapster.demo;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.security.GeneralSecurityException;
import java.time.Instant;
import java.time.LocalDateTime;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import org.apache.poi.hssf.usermodel.HSSFWorkbook;
import org.apache.poi.poifs.crypt.EncryptionInfo;
import org.apache.poi.poifs.crypt.EncryptionMode;
import org.apache.poi.poifs.crypt.Encryptor;
import org.apache.poi.poifs.filesystem.POIFSFileSystem;
import org.apache.poi.ss.usermodel.CellStyle;
import org.apache.poi.ss.usermodel.FormulaError;
import org.apache.poi.ss.usermodel.Row;
import org.apache.poi.ss.usermodel.Sheet;
import org.apache.poi.ss.util.CellRangeAddress;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;

/**
 * The workbooks of the harbour laboratory: a sheet a month, stations merged over their samples, a sheet of notes, an
 * old one, a locked one.
 */
final class Workbooks {

    private static final List<String> COLUMNS = List.of("Station", "Sample", "Taken", "Parameter", "Result", "Unit");
    private static final int HEADER = 3;
    private static final String PASSWORD = "Vessa";

    private final Path folder;
    private final Instant arrived;

    Workbooks(Path folder, Instant arrived) {
        this.folder = folder;
        this.arrived = arrived;
    }

    void write() throws IOException {
        Files.createDirectories(folder);
        fresh();
        old();
        locked();
        Files.write(folder.resolve("~$harbour-2026.xlsx"), new byte[165]); // somebody has the workbook open
        for (String name :
                List.of("harbour-2026.xlsx", "harbour-2025.xls", "harbour-2024.xlsx", "~$harbour-2026.xlsx")) {
            Files.setLastModifiedTime(folder.resolve(name), FileTime.from(arrived));
        }
    }

    private void fresh() throws IOException {
        try (OutputStream out = Files.newOutputStream(folder.resolve("harbour-2026.xlsx"));
                Workbook book = new Workbook(out, "Hapster demo", "1.0")) {
            for (int month = 1; month <= 4; month++) {
                Worksheet sheet = book.newWorksheet(String.format(Locale.ROOT, "2026-%02d", month));
                Random random = new Random(5000 + month);
                sheet.value(0, 0, "Harbour laboratory, river Vessa");
                sheet.value(1, 0, "Samples of the month");
                for (int column = 0; column < COLUMNS.size(); column++) {
                    sheet.value(HEADER, column, COLUMNS.get(column));
                    sheet.width(column, 16);
                }
                for (int i = 0; i < 120; i++) {
                    Measurement m = Measurement.draw(random, LocalDateTime.of(2026, month, 1, 7, 0), i);
                    int row = HEADER + 1 + i;
                    if (i % 4 == 0) {
                        sheet.value(row, 0, m.stationCode());
                        sheet.range(row, 0, row + 3, 0).merge();
                    }
                    sheet.value(
                            row,
                            1,
                            String.format(Locale.ROOT, "%04d", month * 1000 + i)); // a text, and its zeros count
                    sheet.value(row, 2, m.taken());
                    sheet.style(row, 2).format("dd.mm.yyyy hh:mm").set();
                    sheet.value(row, 3, m.parameter());
                    result(sheet, row, i, m);
                    sheet.value(row, 5, m.unit());
                }
            }
            Worksheet notes = book.newWorksheet("Notes");
            notes.value(0, 0, "The pump at VS-007 was changed on the third of March.");
            notes.value(1, 0, "Ask Tilda before changing anything in the sheets of closed months.");
        }
    }

    private static void result(Worksheet sheet, int row, int i, Measurement m) {
        if (i % 47 == 12) {
            sheet.value(row, 4, "<0.05");
        } else if (i == 77) {
            sheet.formula(row, 4, "E" + row + "/0"); // calculated by nobody: it has no value
        } else if (i % 31 != 5) {
            sheet.value(row, 4, Double.parseDouble(m.valueText()));
        }
    }

    private void old() throws IOException {
        try (HSSFWorkbook book = new HSSFWorkbook();
                OutputStream out = Files.newOutputStream(folder.resolve("harbour-2025.xls"))) {
            CellStyle date = book.createCellStyle();
            date.setDataFormat(book.createDataFormat().getFormat("dd.mm.yyyy hh:mm"));
            for (int month = 11; month <= 12; month++) {
                Sheet sheet = book.createSheet("2025-" + month);
                Random random = new Random(6000 + month);
                sheet.createRow(0).createCell(0).setCellValue("Harbour laboratory, river Vessa");
                Row header = sheet.createRow(HEADER);
                COLUMNS.forEach(name -> header.createCell(COLUMNS.indexOf(name)).setCellValue(name));
                for (int i = 0; i < 80; i++) {
                    Measurement m = Measurement.draw(random, LocalDateTime.of(2025, month, 1, 7, 0), i);
                    Row row = sheet.createRow(HEADER + 1 + i);
                    if (i % 4 == 0) {
                        row.createCell(0).setCellValue(m.stationCode());
                        sheet.addMergedRegion(new CellRangeAddress(row.getRowNum(), row.getRowNum() + 3, 0, 0));
                    }
                    row.createCell(1).setCellValue(String.format(Locale.ROOT, "%05d", month * 1000 + i));
                    row.createCell(2).setCellValue(m.taken());
                    row.getCell(2).setCellStyle(date);
                    row.createCell(3).setCellValue(m.parameter());
                    if (i == 33) {
                        row.createCell(4).setCellErrorValue(FormulaError.DIV0.getCode());
                    } else {
                        row.createCell(4).setCellValue(Double.parseDouble(m.valueText()));
                    }
                    row.createCell(5).setCellValue(m.unit());
                }
            }
            book.createSheet("Notes").createRow(0).createCell(0).setCellValue("Closed. Tilda");
            book.write(out);
        }
    }

    private void locked() throws IOException {
        try (POIFSFileSystem files = new POIFSFileSystem();
                OutputStream out = Files.newOutputStream(folder.resolve("harbour-2024.xlsx"))) {
            Encryptor encryptor = new EncryptionInfo(EncryptionMode.agile).getEncryptor();
            encryptor.confirmPassword(PASSWORD, new byte[16], new byte[16], new byte[16], new byte[16], new byte[64]);
            try (OutputStream secret = encryptor.getDataStream(files)) {
                secret.write("what lies behind a password".getBytes(java.nio.charset.StandardCharsets.UTF_8));
            }
            files.writeFilesystem(out);
        } catch (GeneralSecurityException wrong) {
            throw new IOException("The locked workbook cannot be written: " + wrong.getMessage(), wrong);
        }
    }
}
