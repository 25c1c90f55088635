package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.run.stage.Stage;
import dev.hapster.core.run.stage.StagePage;
import dev.hapster.core.run.stage.StageQuestion;
import dev.hapster.core.run.stage.StageRow;
import dev.hapster.core.run.stage.StageRow.Outcome;
import dev.hapster.core.workspace.PreparedJob;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.stream.Collectors;
import java.util.zip.GZIPOutputStream;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class StagesTest {

    private static final String COLUMNS =
            "dataset: north\ncolumns:\n  - {name: id, type: text, length: 4}\n  - {name: day, type: date}\n"
                    + "  - {name: value, type: \"decimal(9,2)\", min: 0}\n  - {name: double, type: \"decimal(9,2)\"}\n";
    private static final String RULES =
            "map: {id: {clean: [trim, upper]}, day: {pattern: \"dd.MM.yyyy\"}, double: {compute: \"value * 2\"}}\n"
                    + "keep: \"id != 'SKIP'\"\n";

    @TempDir
    private Path folder;

    private CoreWorkspace work;

    @BeforeEach
    void start() throws IOException {
        work = new CoreWorkspace(folder);
        work.write("datasets/north.yaml", COLUMNS);
        work.job(RULES);
    }

    @AfterEach
    void stop() throws IOException {
        work.runner.stages().close();
        work.close();
    }

    private StagePage page(StageQuestion question) throws Exception {
        PreparedJob prepared = work.runner.prepare("north", Map.of());
        StagePage page =
                work.runner.stages().page(prepared, prepared.finding().taken().get(0), question);
        for (int i = 0; page.busy() && i < 100; i++) {
            page = work.runner
                    .stages()
                    .page(prepared, prepared.finding().taken().get(0), question);
        }
        return page;
    }

    private StageQuestion asking(Stage stage, long from, long line, String where, String sort, boolean whole)
            throws Exception {
        return new StageQuestion(
                stage,
                from,
                line,
                5,
                false,
                where.isEmpty() ? Optional.empty() : Optional.of(Definitions.condition(where, work.dataset())),
                Optional.of(sort.replaceFirst("^-", "")).filter(name -> !name.isEmpty()),
                sort.startsWith("-"),
                whole);
    }

    private static List<String> rows(StagePage page) {
        return page.shown().stream()
                .map(row -> row.line() + " " + row.outcome().word() + " " + row.cells()
                        + row.faults().stream()
                                .map(fault -> " " + fault.cell() + ":" + fault.code())
                                .collect(Collectors.joining())
                        + (row.rule().isEmpty() ? "" : " " + row.rule()))
                .toList();
    }

    @Test
    void rowsAreShownAtEachStage() throws Exception {
        work.raw("a.csv", "day,id,value\n01.02.2026, a ,1.5\n31.02.2026,b,x\n,skip,1\n03.02.2026,c\n");
        assertThat(rows(page(StageQuestion.first(Stage.READ, 10))))
                .containsExactly(
                        "2 stored [01.02.2026,  a , 1.5]",
                        "3 rejected [31.02.2026, b, x] 0:date-unreadable 2:number-unreadable",
                        "4 set aside [, skip, 1] keep: id != 'SKIP'",
                        "5 rejected [03.02.2026, c] -1:fields-missing");
        assertThat(rows(page(StageQuestion.first(Stage.CLEANED, 10))))
                .containsExactly(
                        "2 stored [A, 01.02.2026, 1.5, 3.00]",
                        "3 rejected [B, 31.02.2026, x, null] 1:date-unreadable 2:number-unreadable",
                        "4 set aside [SKIP, , 1, 2.00] keep: id != 'SKIP'",
                        "5 rejected [C, 03.02.2026, null, null] -1:fields-missing");
        StagePage stored = page(StageQuestion.first(Stage.STORED, 10));
        assertThat(rows(stored))
                .containsExactly(
                        "2 stored [A, 2026-02-01, 1.50, 3.00]",
                        "3 rejected [B, null, null, null] 1:date-unreadable 2:number-unreadable",
                        "4 set aside [SKIP, null, 1.00, 2.00] keep: id != 'SKIP'",
                        "5 rejected [null, null, null, null] -1:fields-missing");
        assertThat(stored.columns())
                .extracting(column -> column.name() + " " + column.type() + " " + column.from())
                .containsExactly(
                        "id text id",
                        "day date day",
                        "value decimal(9,2) value",
                        "double decimal(9,2) calculated: value * 2");
        assertThat(stored.rows()).isEqualTo(4);
        assertThat(stored.whole()).isTrue();
    }

    @Test
    void rowsAreFilteredAndSorted() throws Exception {
        work.raw("a.csv", "id,day,value\na,,3\nb,,x\nc,,10\nd,,\ne,,-1\nf,,2\n");
        assertThat(rows(page(asking(Stage.STORED, 1, 0, "value > 2", "-value", false))))
                .containsExactly("4 stored [C, null, 10.00, 20.00]", "2 stored [A, null, 3.00, 6.00]");
        assertThat(page(asking(Stage.READ, 1, 0, "", "value", false)).shown())
                .extracting(row -> row.cells().get(2))
                .containsExactly("-1", "2", "3", "10", "x");
        StagePage untold = page(asking(Stage.STORED, 1, 0, "value > 2", "", false));
        assertThat(untold.untold()).as("b and e have no value, d has nothing").isEqualTo(3);
        assertThat(page(asking(Stage.STORED, 1, 0, "id == 'B'", "", false)).shown())
                .extracting(StageRow::outcome)
                .containsExactly(Outcome.REJECTED);
        assertThatThrownBy(() -> page(asking(Stage.READ, 1, 0, "", "double", false)))
                .isInstanceOf(QueryException.class)
                .hasMessage("There is no column 'double' at the stage read; there are id, day, value");
    }

    private static final List<String> IDS = List.of("a", " b", "skip", "c,\"d\"", "toolong", "", "e\nf", "ä");
    private static final List<String> DAYS = List.of("01.02.2026", "30.02.2026", "", "x");
    private static final List<String> VALUES = List.of("1", "2.50", "-1", "1.234", "", "9999999999", "x");

    /** Random rows, some of them short or broken, in a format. */
    private void arrive(String as, Random random) throws IOException {
        List<List<String>> rows = new ArrayList<>();
        for (int i = 0; i < 3_000; i++) {
            List<String> row = new ArrayList<>();
            for (List<String> any : List.of(IDS, DAYS, VALUES)) {
                row.add(any.get(random.nextInt(any.size())));
            }
            rows.add(random.nextInt(20) == 0 ? row.subList(0, 2) : row);
        }
        work.write(
                "jobs/north.yaml",
                "job: north\ninto: north\nfind: [{folder: in, settle: 0s, take: \"a.*\"}]\nread: {as: " + as + "}\n"
                        + RULES);
        if (as.equals("workbook")) {
            Path file = Files.createDirectories(folder.resolve("in")).resolve("a.xlsx");
            try (OutputStream out = Files.newOutputStream(file);
                    Workbook book = new Workbook(out, "Test", "1.0")) {
                Worksheet sheet = book.newWorksheet("Samples");
                rows.add(0, List.of("id", "day", "value"));
                for (int i = 0; i < rows.size(); i++) {
                    for (int column = 0; column < rows.get(i).size(); column++) {
                        String text = rows.get(i).get(column);
                        if (column == 2 && text.matches("-?[0-9.]+")) {
                            sheet.value(i, column, Double.parseDouble(text));
                        } else if (!text.isEmpty()) {
                            sheet.value(i, column, text);
                        }
                    }
                }
            }
            return;
        }
        boolean json = !as.equals("delimited");
        StringBuilder text = new StringBuilder(json ? as.equals("json") ? "[" : "" : "id,day,value\n");
        String between = "";
        for (List<String> row : rows) {
            List<String> fields = new ArrayList<>();
            for (int column = 0; column < row.size(); column++) {
                String value = row.get(column);
                String quoted = json
                        ? '"' + value.replace("\"", "\\\"").replace("\n", "\\n") + '"'
                        : '"' + value.replace("\"", "\"\"") + '"';
                String name = '"' + List.of("id", "day", "value").get(column) + "\": ";
                fields.add((json ? name : "") + (value.matches("[0-9.]+") && column == 2 ? value : quoted));
            }
            String written = String.join(",", fields);
            boolean broken = as.equals("json_lines") && random.nextInt(50) == 0;
            text.append(between).append(json ? "{" + written + (broken ? "" : "}") : written);
            between = as.equals("json") ? ",\n" : "\n";
        }
        work.raw("a.txt", text + (as.equals("json") ? "]" : "\n"));
    }

    /** What a run stores and rejects is what the stages show, row for row. */
    @ParameterizedTest
    @CsvSource({
        "1, delimited",
        "2, delimited",
        "3, delimited",
        "4, delimited",
        "1, json_lines",
        "2, json_lines",
        "3, json",
        "4, json",
        "5, workbook",
        "6, workbook"
    })
    void theStagesAgreeWithARun(long seed, String as) throws Exception {
        arrive(as, new Random(seed));
        List<StageRow> shown = new ArrayList<>();
        long next = 1;
        while (next > 0) {
            StagePage page = page(new StageQuestion(
                    Stage.STORED, next, 0, 700, false, Optional.empty(), Optional.empty(), false, false));
            shown.addAll(page.shown());
            next = page.next();
        }
        RunResult run = work.run();
        assertThat(shown).hasSize((int) run.balance().read());
        assertThat(shown.stream()
                        .filter(row -> row.outcome() == Outcome.STORED)
                        .map(StageRow::line)
                        .toList())
                .containsExactlyElementsOf(
                        work.column("_line").stream().map(Long.class::cast).toList());
        for (int column = 0; column < 4; column++) {
            String name = work.dataset().columns().get(column).name();
            int at = column;
            assertThat(shown.stream()
                            .filter(row -> row.outcome() == Outcome.STORED)
                            .map(row -> row.cells().get(at))
                            .toList())
                    .containsExactlyElementsOf(work.column(name).stream()
                            .map(value -> value == null ? null : value.toString())
                            .toList());
        }
        assertThat(shown.stream()
                        .filter(row -> row.outcome() == Outcome.REJECTED)
                        .count())
                .isEqualTo(run.balance().rejected());
        assertThat(shown.stream().filter(row -> row.outcome() == Outcome.ASIDE).count())
                .isEqualTo(run.balance().aside());
    }

    /** Text as it lies there, packed text, text in another encoding, lines, and one value of JSON. */
    @ParameterizedTest
    @ValueSource(strings = {"csv", "gz", "latin", "lines", "json"})
    void rowsFarBehindAreFoundByTheirNumberAndTheirLine(String kind) throws Exception {
        work.write("datasets/north.yaml", "dataset: north\ncolumns:\n  - {name: id, type: text}\n");
        StringBuilder text = new StringBuilder(kind.equals("json") ? "[" : kind.equals("lines") ? "" : "\uFEFFid\n");
        for (int i = 1; i <= 60_000; i++) {
            text.append(
                    kind.equals("json")
                            ? (i == 1 ? "" : ",") + "{\"id\":\"r" + i + "\"}"
                            : i % 7 == 0 && !kind.equals("lines")
                                    ? "\"r" + i + "\nx\"\n"
                                    : "ärow".substring(1, 2) + i + "\n");
        }
        text.append(kind.equals("json") ? "]" : "");
        String name = kind.equals("gz") ? "a.csv.gz" : "a.csv";
        byte[] bytes = text.toString()
                .replace(kind.equals("latin") ? "\uFEFF" : "\u0000", "")
                .getBytes(kind.equals("latin") ? StandardCharsets.ISO_8859_1 : StandardCharsets.UTF_8);
        if (kind.equals("gz")) {
            ByteArrayOutputStream packed = new ByteArrayOutputStream();
            try (GZIPOutputStream gzip = new GZIPOutputStream(packed)) {
                gzip.write(bytes);
            }
            bytes = packed.toByteArray();
        }
        work.write(
                "jobs/north.yaml",
                "job: north\ninto: north\nfind: [{folder: in, settle: 0s, take: \"a.*\"}]\n"
                        + switch (kind) {
                            case "latin" -> "read: {encoding: ISO-8859-1}\n";
                            case "lines" -> "read: {as: lines, names: [id]}\n";
                            case "json" -> "read: {as: json}\n";
                            default -> "";
                        });
        Files.createDirectories(folder.resolve("in"));
        Files.write(folder.resolve("in/" + name), bytes);
        StagePage far = page(asking(Stage.STORED, 45_001, 0, "", "", false));
        assertThat(far.shown()).hasSize(5);
        assertThat(far.shown().get(0).row()).isEqualTo(45_001);
        assertThat(far.shown().get(0).cells().get(0)).contains("45001");
        assertThat(far.next()).isEqualTo(45_006);
        StagePage last = page(asking(Stage.STORED, 59_998, 0, "", "", false));
        assertThat(last.shown()).hasSize(3);
        assertThat(last.next()).isZero();
        assertThat(page(asking(Stage.STORED, 60_001, 0, "", "", false)).shown()).isEmpty();
        if (!kind.equals("json")) {
            StagePage line = page(asking(Stage.STORED, 1, far.shown().get(2).line(), "", "", false));
            assertThat(line.shown().get(0)).isEqualTo(far.shown().get(2));
        }
    }
}
