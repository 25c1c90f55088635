package dev.hapster.core.read.text;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.definition.NameList;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.apache.poi.hssf.usermodel.HSSFWorkbook;
import org.apache.poi.ss.usermodel.Sheet;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class NameColumnTest {

    @TempDir
    private Path folder;

    private List<String> read(byte[] bytes, String column, String sheet) throws IOException {
        List<String> names = new ArrayList<>();
        NameColumn.read(
                new ByteArrayInputStream(bytes),
                new NameList(
                        "list",
                        Optional.ofNullable(column),
                        Optional.empty(),
                        StandardCharsets.UTF_8,
                        Optional.ofNullable(sheet),
                        true),
                (line, name) -> names.add(line + " " + name));
        return names;
    }

    private static byte[] text(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }

    @Test
    void eachLineOfATextIsAName() throws IOException {
        assertThat(read(text("\ufeffa.csv\r\n\r\n  b, \"c\".csv  \r\nä.csv"), null, null))
                .containsExactly("1 a.csv", "3 b, \"c\".csv", "4 ä.csv");
    }

    @Test
    void aColumnOfADelimitedFileIsFoundUnderAnyUsualSeparator() throws IOException {
        assertThat(read(text("Nr;File\n1;a.csv\n2;\"b;c.csv\"\n3;\n"), "File", null))
                .containsExactly("2 a.csv", "3 b;c.csv");
        assertThat(read(text("file\tnr\na.csv\t1\n"), "File", null)).containsExactly("2 a.csv");
        assertThatThrownBy(() -> read(text("Nr;Name\n1;a\n"), "File", null))
                .hasMessage("it has no column 'File'; it has Nr, Name");
        assertThatThrownBy(() -> read(text("Nr,File\n1\n"), "File", null))
                .hasMessage("line 2 has 1 fields, its header 2");
        assertThatThrownBy(() -> read(new byte[] {'a', (byte) 0xff, '\n'}, null, null))
                .hasMessageStartingWith("it is not UTF-8: byte 0xFF at line 1");
    }

    @Test
    void aColumnOfAWorkbookIsFound() throws IOException {
        Path file = folder.resolve("book.xlsx");
        try (OutputStream out = Files.newOutputStream(file);
                Workbook book = new Workbook(out, "test", "1.0")) {
            book.newWorksheet("Notes").value(0, 0, "nothing here");
            Worksheet sheet = book.newWorksheet("Wanted");
            sheet.value(2, 1, "File");
            sheet.value(3, 1, "a.csv");
            sheet.value(5, 1, 2026);
            sheet.value(3, 0, 1);
        }
        byte[] bytes = Files.readAllBytes(file);
        assertThat(read(bytes, "File", "Wanted")).containsExactly("4 a.csv", "6 2026");
        assertThat(read(bytes, "File", "2")).hasSize(2);
        assertThatThrownBy(() -> read(bytes, "File", "Wnted"))
                .hasMessage("it has no sheet 'Wnted'; it has Notes, Wanted");
        assertThatThrownBy(() -> read(bytes, null, null)).hasMessageContaining("name the column");
        assertThatThrownBy(() -> read(java.util.Arrays.copyOf(bytes, bytes.length / 2), "File", null))
                .isInstanceOf(IOException.class);
    }

    @Test
    void soIsOneOfAnOldWorkbook() throws IOException {
        try (OutputStream out = Files.newOutputStream(folder.resolve("book.xls"));
                HSSFWorkbook book = new HSSFWorkbook()) {
            Sheet sheet = book.createSheet("Wanted");
            sheet.createRow(1).createCell(0).setCellValue("File");
            sheet.createRow(2).createCell(0).setCellValue("a.csv");
            book.write(out);
        }
        assertThat(read(Files.readAllBytes(folder.resolve("book.xls")), "file", null))
                .containsExactly("3 a.csv");
    }

    @Test
    void anArchiveThatUnpacksToTooMuchIsRefused() throws IOException {
        Path bomb = folder.resolve("bomb.xlsx");
        try (ZipOutputStream zip = new ZipOutputStream(Files.newOutputStream(bomb))) {
            zip.putNextEntry(new ZipEntry("xl/workbook.xml"));
            byte[] block = new byte[1 << 20];
            for (int i = 0; i < 300; i++) {
                zip.write(block);
            }
        }
        assertThatThrownBy(() -> read(Files.readAllBytes(bomb), "File", null))
                .hasMessageStartingWith("it unpacks to more than");
    }
}
