package dev.hapster.core.read;

import dev.hapster.core.pattern.CellName;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;

/** Writes xlsx workbooks piece by piece, so that each of them can be as odd as a test wants. */
final class MiniBook {

    private static final String MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
    private static final String OFFICE = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
    private static final String PACKAGE = "http://schemas.openxmlformats.org/package/2006/relationships";

    private final Map<String, String> parts = new LinkedHashMap<>();
    private final StringBuilder sheets = new StringBuilder();
    private final StringBuilder relations = new StringBuilder();
    private String before = "";
    private int count;

    /** Dates count from 1904. */
    MiniBook from1904() {
        before = "<workbookPr date1904=\"1\"/>";
        return this;
    }

    /** @param formats codes of number formats; style i + 1 has the i-th, style 0 has none */
    MiniBook styles(String... formats) {
        StringBuilder codes = new StringBuilder();
        StringBuilder cells = new StringBuilder("<xf numFmtId=\"0\"/>");
        for (int i = 0; i < formats.length; i++) {
            codes.append("<numFmt numFmtId=\"")
                    .append(200 + i)
                    .append("\" formatCode=\"")
                    .append(formats[i].replace("\"", "&quot;"))
                    .append("\"/>");
            cells.append("<xf numFmtId=\"").append(200 + i).append("\"/>");
        }
        parts.put(
                "xl/styles.xml",
                "<styleSheet xmlns=\"" + MAIN + "\"><numFmts>" + codes
                        + "</numFmts><cellStyleXfs><xf numFmtId=\"14\"/></cellStyleXfs><cellXfs>" + cells
                        + "</cellXfs></styleSheet>");
        relation("styles", "styles.xml");
        return this;
    }

    /** @param items as in {@code <si>…</si>} */
    MiniBook texts(String... items) {
        parts.put(
                "xl/sharedStrings.xml",
                "<sst xmlns=\"" + MAIN + "\"><si>" + String.join("</si><si>", items) + "</si></sst>");
        relation("sharedStrings", "sharedStrings.xml");
        return this;
    }

    /**
     * @param rows as they stand in {@code sheetData}
     * @param behind what stands behind it
     */
    MiniBook sheet(String name, String rows, String behind) {
        count++;
        sheets.append("<sheet name=\"")
                .append(name)
                .append("\" sheetId=\"")
                .append(count)
                .append("\" r:id=\"s")
                .append(count)
                .append("\"/>");
        relations
                .append("<Relationship Id=\"s")
                .append(count)
                .append("\" Type=\"")
                .append(OFFICE)
                .append("/worksheet\" Target=\"/xl/worksheets/sheet")
                .append(count)
                .append(".xml\"/>");
        parts.put(
                "xl/worksheets/sheet" + count + ".xml",
                "<worksheet xmlns=\"" + MAIN + "\"><sheetData>" + rows + "</sheetData>" + behind + "</worksheet>");
        return this;
    }

    MiniBook table(String name, String ref, String attributes) {
        parts.put(
                "xl/worksheets/_rels/sheet" + count + ".xml.rels",
                "<Relationships xmlns=\"" + PACKAGE + "\"><Relationship Id=\"t\" Type=\"" + OFFICE
                        + "/table\" Target=\"../tables/table1.xml\"/></Relationships>");
        parts.put(
                "xl/tables/table1.xml",
                "<table xmlns=\"" + MAIN + "\" id=\"1\" name=\"" + name + "\" displayName=\"" + name + "\" ref=\"" + ref
                        + "\" " + attributes + "/>");
        return this;
    }

    private void relation(String type, String target) {
        relations
                .append("<Relationship Id=\"")
                .append(type)
                .append("\" Type=\"")
                .append(OFFICE)
                .append('/')
                .append(type)
                .append("\" Target=\"")
                .append(target)
                .append("\"/>");
    }

    Path write(Path file) throws IOException {
        parts.put(
                "_rels/.rels",
                "<Relationships xmlns=\"" + PACKAGE + "\"><Relationship Id=\"w\" Type=\"" + OFFICE
                        + "/officeDocument\" Target=\"xl/workbook.xml\"/></Relationships>");
        parts.put(
                "[Content_Types].xml",
                "<Types xmlns=\"http://schemas.openxmlformats.org/package/2006/content-types\"/>");
        parts.put(
                "xl/workbook.xml",
                "<workbook xmlns=\"" + MAIN + "\" xmlns:r=\"" + OFFICE + "\">" + before + "<sheets>" + sheets
                        + "</sheets></workbook>");
        parts.put(
                "xl/_rels/workbook.xml.rels",
                "<Relationships xmlns=\"" + PACKAGE + "\">" + relations + "</Relationships>");
        try (ZipOutputStream zip = new ZipOutputStream(Files.newOutputStream(file))) {
            for (Map.Entry<String, String> part : parts.entrySet()) {
                zip.putNextEntry(new ZipEntry(part.getKey()));
                zip.write(("<?xml version=\"1.0\" encoding=\"UTF-8\"?>" + part.getValue())
                        .getBytes(StandardCharsets.UTF_8));
            }
        }
        return file;
    }

    /**
     * Cells of one row: numbers as they are, {@code 'text} inline, {@code s:2} a shared text, {@code e:#N/A} an error,
     * {@code b:1} a truth, {@code 3@45} a number with a style.
     */
    static String row(int number, String... cells) {
        StringBuilder row = new StringBuilder("<row r=\"" + number + "\">");
        for (int i = 0; i < cells.length; i++) {
            String cell = cells[i];
            String at = "<c r=\"" + CellName.letters(i + 1) + number + "\"";
            if (cell.startsWith("'")) {
                row.append(at)
                        .append(" t=\"inlineStr\"><is><t>")
                        .append(cell.substring(1))
                        .append("</t></is></c>");
            } else if (cell.startsWith("<")) {
                row.append(at).append(">").append(cell).append("</c>");
            } else if (cell.indexOf(':') == 1) {
                row.append(at)
                        .append(" t=\"")
                        .append(cell.charAt(0))
                        .append("\"><v>")
                        .append(cell.substring(2))
                        .append("</v></c>");
            } else if (cell.indexOf('@') > 0) {
                row.append(at)
                        .append(" s=\"")
                        .append(cell, 0, cell.indexOf('@'))
                        .append("\"><v>")
                        .append(cell.substring(cell.indexOf('@') + 1))
                        .append("</v></c>");
            } else if (!cell.isEmpty()) {
                row.append(at).append("><v>").append(cell).append("</v></c>");
            }
        }
        return row.append("</row>").toString();
    }
}
