package dev.hapster.core.read;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.hapster.core.read.Contents.All;
import dev.hapster.core.read.tree.TreeReader;
import dev.hapster.core.reason.FileRejectedException;
import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.zip.GZIPOutputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Lines, fixed width, JSON and XML, and what a file is by its bytes. */
class FormatsTest {

    @TempDir
    private Path folder;

    private Path file(String name, String text) throws IOException {
        return Files.writeString(folder.resolve(name), text);
    }

    private static List<String> row(String... cells) {
        return Arrays.asList(cells);
    }

    private static String refusal(Path file, String rules) {
        return catchThrowableOfType(FileRejectedException.class, () -> Contents.read(file, rules))
                .reason()
                .sentence();
    }

    @Test
    void linesAreOneColumn() throws Exception {
        All all = Contents.read(file("a.txt", "\ufeffone, \"two\nthree\t|\n\nlast"), "as: lines");
        assertThat(all.names()).containsExactly("line");
        assertThat(all.rows()).containsExactly(row("one, \"two"), row("three\t|"), row("last"));
        assertThat(all.lines()).containsExactly(1L, 2L, 4L);
        assertThat(Contents.read(
                                file("b.txt", "# note\nx\n--\ny\n"),
                                "as: lines, comment: \"#\", ends_at: \"--\", names: [text]")
                        .rows())
                .containsExactly(row("x"));
    }

    @Test
    void fixedWidthCountsCharacters() throws Exception {
        String rules = "as: fixed, columns: {station: 1-6, name: 8-15, value: 16-}";
        assertThat(Contents.read(file("a.txt", "VS-012 M\u00fchle   0.5\nVS-013 \u00d6den       7\n"), rules)
                        .rows())
                .containsExactly(row("VS-012", "M\u00fchle", "0.5"), row("VS-013", "\u00d6den", "7"));
        String narrow = "as: fixed, columns: {station: 1-6, value: 7-9}";
        Path ragged = file("b.txt", "VS-012  1\nVS-013\nVS-014  2 x\n");
        assertThat(Contents.read(ragged, narrow).rows().get(1)).containsExactly("VS-013");
        All made = Contents.read(ragged, narrow + ", short_rows: fill, long_rows: cut");
        assertThat(made.rows()).containsExactly(row("VS-012", "1"), row("VS-013", ""), row("VS-014", "2"));
        assertThat(made.notes()).containsExactly("1 line that is too short filled up", "1 line that is too long cut");
    }

    @Test
    void rowsInWhichNoFieldHoldsAnythingAreReadOrSkipped() throws Exception {
        Path file = file("a.csv", "a;b\n;\n1;x\n \t;\"\"\n;;\n" + ";\n".repeat(20) + ";y\n\"\"z;\n;\n");
        assertThat(Contents.read(file, "separator: ;").rows()).hasSize(27);
        All filled = Contents.read(file, "separator: ;, empty_rows: skip");
        assertThat(filled.rows()).containsExactly(row("1", "x"), row("", ""), row("", "y"), row("", ""));
        assertThat(filled.lines()).containsExactly(3L, 5L, 26L, 27L);
        assertThat(filled.originals()).containsExactly("1;x", ";;", ";y", "\"\"z;");
        assertThat(filled.notes()).containsExactly("23 rows with nothing in them skipped");

        assertThat(Contents.read(
                                file("b.txt", "VS-1 1\n      \nVS-2 2\n"),
                                "as: fixed, columns: {station: 1-4, value: 5-6}, empty_rows: skip")
                        .rows())
                .containsExactly(row("VS-1", "1"), row("VS-2", "2"));
    }

    private static final String VISITS =
            """
            {"team": "A", "visits": [
              {"date": "2026-03-01", "site": {"code": "VS-012"}, "samples": [{"no": 1, "value": 0.50}, {"no": 2, "value": null}]},
              {"date": "2026-03-02", "samples": []},
              {"samples": [{"no": 3, "value": "<1", "ok": true}], "date": "2026-03-03", "site": {"code": "VS-013"}}],
             "river": "Vessa"}
            """;

    @Test
    void nestedListsBecomeRowsWithTheFieldsAboveThem() throws Exception {
        Path file = file("a.json", VISITS);
        All all = Contents.read(file, "as: json, rows: \"visits[].samples[]\"");
        assertThat(all.names())
                .containsExactly("team", "visits.date", "visits.site.code", "no", "value", "ok", "river");
        assertThat(all.rows())
                .containsExactly(
                        row("A", "2026-03-01", "VS-012", "1", "0.50", null, "Vessa"),
                        row("A", "2026-03-01", "VS-012", "2", null, null, "Vessa"),
                        row(
                                "A",
                                "2026-03-03",
                                "VS-013",
                                "3",
                                "<1",
                                "true",
                                "Vessa")); // what stands behind the rows is theirs too
        assertThat(all.lines()).as("two stand on one line").containsExactly(1L, 2L, 3L);
        assertThat(all.notes())
                .containsExactly(
                        "rows are named by their number, since several stand on one line",
                        "1 element above the rows holds none");
        assertThat(all.originals().get(2))
                .isEqualTo(
                        "{\"team\":\"A\",\"visits.date\":\"2026-03-03\",\"visits.site.code\":\"VS-013\",\"no\":3,\"value\":\"<1\",\"ok\":true,\"river\":\"Vessa\"}");
        assertThat(Contents.read(file, "as: json, rows: \"$.visits[*]\"").names())
                .containsExactly(
                        "team",
                        "visits.date".substring(7),
                        "site.code",
                        "samples.no",
                        "samples.value",
                        "samples.ok",
                        "river");
        assertThat(Contents.read(file, "as: json, rows: \"visits\"").marks())
                .contains("0:3:no has several values in one row");
        assertThat(refusal(file, "as: json, rows: visit"))
                .isEqualTo("has no rows at visit; it has team, visits.date, visits.site.code, visits.samples.no, "
                        + "visits.samples.value, visits.samples.ok, river");
    }

    @Test
    void jsonComesAsAListOneAfterAnotherOrByLines() throws Exception {
        for (String text : List.of(
                "[{\"a\": 1}, {\"a\": \"x\\u00fc\", \"b\": {\"c\": false}}]",
                "{\"a\": 1} {\"a\": \"x\u00fc\", \"b\": {\"c\": false}}")) {
            All all = Contents.read(file("a.json", text), "as: json");
            assertThat(all.names()).containsExactly("a", "b.c");
            assertThat(all.rows()).containsExactly(row("1", null), row("x\u00fc", "false"));
        }
        All lines = Contents.read(
                file("b.jsonl", "{\"a\": 1}\n{\"a\": 2,\n\n{\"a\": 3, \"tags\": [\"x\", \"y\"]}\n"), "as: json_lines");
        assertThat(lines.rows()).containsExactly(row("1", null), row(null, null), row("3", "x"));
        assertThat(lines.lines()).containsExactly(1L, 2L, 4L);
        assertThat(lines.marks())
                .hasSize(2)
                .anySatisfy(mark -> assertThat(mark).startsWith("1:-1:is not JSON: "))
                .contains("2:1:tags has several values in one row");
        assertThat(lines.originals().get(1)).isEqualTo("{\"a\": 2,");
        assertThat(Contents.read(
                                file("c.jsonl", "{\"id\": 7, \"v\": [{\"id\": 1}, {\"id\": 2}]}\n"),
                                "as: json_lines, rows: \"v[]\"")
                        .names())
                .containsExactly("$.id", "id");
        Files.write(folder.resolve("d.json"), "[{\"a\": \"Tr\u00fcbung\"}]".getBytes(Charset.forName("windows-1252")));
        assertThat(Contents.read(folder.resolve("d.json"), "as: json, encoding: windows-1252")
                        .rows())
                .containsExactly(row("Tr\u00fcbung"));
        assertThat(refusal(folder.resolve("d.json"), "as: json")).contains("a byte is not UTF-8");
        assertThat(refusal(file("e.json", "[{\"a\": 1},\n{\"a\": "), "as: json"))
                .startsWith("is not valid JSON from line 2, column");
        assertThat(refusal(file("f.json", "[]"), "as: json")).isEqualTo("holds no records");
        assertThat(refusal(file("g.json", "[".repeat(100_000)), "as: json"))
                .contains("is JSON beyond what Hapster reads");
    }

    @Test
    void manyCoresLearnTheColumnsOfJsonLinesInTheOrderOfTheFile() throws Exception {
        Random random = new Random(11);
        for (int round = 0; round < 30; round++) {
            StringBuilder text = new StringBuilder();
            int lines = 1 + random.nextInt(6_000);
            for (int line = 0; line < lines; line++) {
                int known = 2 + line / 200;
                String object = "{\"c" + random.nextInt(known) + "\": 1, \"d\": {\"e" + random.nextInt(known)
                        + "\": {\"f\": \"x\"}}, \"c" + random.nextInt(known) + "\": [2, 3]}";
                text.append(
                        switch (random.nextInt(60)) {
                            case 0 -> object.substring(0, random.nextInt(object.length()));
                            case 1 -> round % 3 == 0 ? "[" + object + ", {\"g\": null}]" : "";
                            default -> object;
                        });
                text.append(random.nextInt(90) == 0 ? "\n\n" : "\n");
            }
            Path file = file("many.jsonl", text.toString());
            List<List<String>> told = new ArrayList<>();
            for (long most : new long[] {Long.MAX_VALUE, Long.MAX_VALUE - 1}) { // the latter is for one core
                try (TreeReader reader =
                        new TreeReader(Contents.of(file), Contents.rules("as: json_lines"), most, Set.of())) {
                    List<String> all = new ArrayList<>(reader.header().names());
                    all.addAll(reader.notes());
                    told.add(all);
                }
            }
            assertThat(told.get(0)).isEqualTo(told.get(1)).hasSizeGreaterThan(2);
        }
        String wide = IntStream.range(0, 11_000)
                .mapToObj(i -> "{\"c" + i + "\": 1}\n")
                .collect(Collectors.joining());
        assertThat(refusal(file("wide.jsonl", wide + "{\"a\": \"" + "x".repeat(3 << 20) + "\"}\n"), "as: json_lines"))
                .as("what comes first in the file")
                .contains("columns");
        assertThat(refusal(file("long.jsonl", "{\"a\": \"" + "x".repeat(3 << 20) + "\"}\n" + wide), "as: json_lines"))
                .contains("line 1");
    }

    @Test
    void xmlHasAttributesNamespacesAndNothingOfItsOwn() throws Exception {
        String text = "<?xml version=\"1.0\" encoding=\"ISO-8859-1\"?>\n"
                + "<report lab=\"East\" xmlns=\"urn:v\" xmlns:q=\"urn:q\">\n <visit date=\"2026-03-01\">"
                + "<sample no=\"1\"><v>0.5</v><q:v>good</q:v></sample>\n"
                + "<sample no=\"2\"><v/><note>a <b>c</b> &amp; d</note></sample></visit></report>";
        Path file = Files.write(
                folder.resolve("a.xml"), text.replace("East", "S\u00fcd").getBytes(StandardCharsets.ISO_8859_1));
        All all = Contents.read(file, "as: xml, rows: report/visit/sample, namespaces: {w: \"urn:q\"}");
        assertThat(all.names())
                .containsExactly("report/@lab", "report/visit/@date", "@no", "v", "w:v", "note/b", "note");
        assertThat(all.rows())
                .containsExactly(
                        row("S\u00fcd", "2026-03-01", "1", "0.5", "good", null, null),
                        row("S\u00fcd", "2026-03-01", "2", "", null, "c", "a  & d"));
        assertThat(all.lines()).containsExactly(3L, 4L);
        assertThat(Contents.read(file("b.xml", "<r><x><a>1</a></x><x><a>2</a></x></r>"), "as: xml")
                        .rows())
                .containsExactly(row("1"), row("2"));
        String bomb = "<!DOCTYPE r [<!ENTITY a \"aaaa\"><!ENTITY b \"&a;&a;&a;\">]><r><x>&b;</x></r>";
        assertThat(refusal(file("c.xml", bomb), "as: xml")).contains("entities of its own");
        assertThat(refusal(
                        file("d.xml", "<!DOCTYPE r [<!ENTITY a SYSTEM \"file:///etc/passwd\">]><r><x>&a;</x></r>"),
                        "as: xml"))
                .contains("entities of its own");
        assertThat(refusal(file("e.xml", "<r><x>1</x>\n<x>"), "as: xml")).startsWith("is not valid XML from line 2");
        assertThat(refusal(file("f.xml", "<a>".repeat(5000)), "as: xml")).contains("nests deeper");
    }

    @Test
    void whatAFileIsItsBytesSay() throws Exception {
        Path zip = folder.resolve("a.csv");
        try (ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(zip))) {
            out.putNextEntry(new ZipEntry("x.csv"));
            out.write("a\n1\n".getBytes(StandardCharsets.UTF_8));
        }
        assertThat(refusal(zip, "as: delimited"))
                .startsWith("is named .csv, but is a zip archive; the job reads delimited text");
        assertThat(refusal(file("b.xlsx", "a,b\n"), "as: workbook"))
                .isEqualTo("is named .xlsx, but is text; the job reads a workbook");
        assertThat(refusal(file("c.pdf", "%PDF-1.7"), "as: json")).isEqualTo("is a PDF document; the job reads JSON");
        assertThat(refusal(file("d.parquet", ""), "as: parquet")).isEqualTo("holds 0 bytes");
        Path twice = folder.resolve("e.csv.gz");
        try (GZIPOutputStream out = new GZIPOutputStream(new GZIPOutputStream(Files.newOutputStream(twice)))) {
            out.write("a\n1\n".getBytes(StandardCharsets.UTF_8));
        }
        assertThat(refusal(twice, "as: delimited")).isEqualTo("is compressed twice; the job reads delimited text");
        try (GZIPOutputStream out = new GZIPOutputStream(Files.newOutputStream(folder.resolve("f.json.gz")))) {
            out.write(VISITS.getBytes(StandardCharsets.UTF_8));
        }
        assertThat(Contents.read(folder.resolve("f.json.gz"), "as: json, rows: \"visits[].samples[]\"")
                        .rows())
                .hasSize(3);
        Files.write(folder.resolve("g.csv"), new byte[] {'P', 'K', 3, 4, 0, 0});
        assertThat(refusal(folder.resolve("g.csv"), "as: delimited")).contains("it was cut off or damaged");
    }
}
