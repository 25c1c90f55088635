package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.MemoryCatalogue;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.find.Roots;
import dev.hapster.core.query.RejectExport;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.inspect.Trace;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.run.repair.Fix;
import dev.hapster.core.run.repair.Fixes;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.Workspace;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Rejected rows are followed, the rule or the rows are mended, and they are loaded. */
class FixTest {

    private static final String DATASET =
            """
            dataset: samples
            columns:
              - {name: id,    type: text, length: 4, matches: "[A-Z]{2}[0-9]+"}
              - {name: day,   type: date}   # local
              - {name: value, type: "decimal(6,2)"}
              - {name: kind,  type: text, one_of: [ph, nitrate]}
              - {name: done,  type: boolean}
            """;

    @TempDir
    private Path folder;

    private final ExecutorService workers = Executors.newFixedThreadPool(2);
    private final MemoryCatalogue catalogue = new MemoryCatalogue();
    private RejectStore rejects;
    private PartStore parts;
    private Runner runner;
    private long runs;

    @AfterEach
    void stop() {
        workers.shutdownNow();
    }

    private void workspace(String map, String rows) throws IOException {
        file("datasets/samples.yaml", DATASET);
        file(
                "jobs/north.yaml",
                "job: north\ninto: samples\nfind: [{folder: in, settle: 0s, take: \"*.csv\"}]\n"
                        + "read: {separator: \";\"}\n"
                        + map + "keep: \"id != 'AA0'\"\n");
        file("in/a.csv", "Id;day;value;kind;done\n" + rows);
        parts = new PartStore(folder.resolve("store"));
        rejects = new RejectStore(folder.resolve("store"));
        runner = new Runner(
                new Workspace(folder),
                Roots.of(List.of(folder)),
                parts,
                rejects,
                catalogue,
                workers,
                Clock.systemUTC());
    }

    private void file(String name, String text) throws IOException {
        Files.createDirectories(folder.resolve(name).getParent());
        Files.writeString(folder.resolve(name), text);
    }

    private RunResult run() throws Exception {
        RunResult result = runner.run(
                runner.prepare("north", Map.of()), ++runs, RunRequest.NOTHING, RunListener.NONE, () -> false);
        rejects.merge(runs, ordinal -> true);
        assertThat(result.balance().holds()).isTrue();
        return result;
    }

    /** One value that fits, two that do not; the change that would help, and the line that it writes. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "day   | 2026-01-31 | 31.01.2026 | 1.2.2026   | date-unreadable    | jobs/north.yaml        | `  day: {pattern: [\"iso\", \"d.M.yyyy\"]}`",
                "value | 1          | 1,5        | 2,25       | number-unreadable  | jobs/north.yaml        | `  value: {decimal: \",\"}`",
                "value | 1          | 1.5 mg/l   | 2 mg/l     | number-unreadable  | jobs/north.yaml        | `  value: {clean: [{remove: mg/l}]}`",
                "day   | 2026-01-31 | Jan 05 2026 | Feb 06 2026 | date-unreadable  | jobs/north.yaml        | `  day: {pattern: [\"iso\", \"MMM d yyyy\"]}`",
                "value | 1          | n/a        | dry        | number-unreadable  | jobs/north.yaml        | `  value: {empty_as: [\"\", \"n/a\", \"dry\"]}`",
                "value | 1          | 12345.67   | 1          | number-too-large   | datasets/samples.yaml  | `  - {name: value, type: \"decimal(7,2)\"}`",
                "value | 1          | 1.2345     | 1          | number-too-fine    | datasets/samples.yaml  | `  - {name: value, type: \"decimal(8,4)\"}`",
                "id    | AA1        | AA12345    | AA123      | text-too-long      | datasets/samples.yaml  | `  - {name: id,    type: text, length: 7, matches: \"[A-Z]{2}[0-9]+\"}`",
                "id    | AA1        | a-a1       | b-b2       | pattern-differs    | jobs/north.yaml        | `  id: {clean: [trim, upper, {remove: \"-\"}]}`",
                "kind  | ph         | PH         | Nitrate    | value-not-allowed  | jobs/north.yaml        | `  kind: {clean: [lower]}`",
                "kind  | ph         | chloride   | chloride   | value-not-allowed  | datasets/samples.yaml  | `  - {name: kind,  type: text, one_of: [\"ph\", \"nitrate\", \"chloride\"]}`",
                "done  | yes        | ja         | nein       | boolean-unreadable | jobs/north.yaml        | `  done: {true_as: [\"true\", \"yes\", \"1\", \"ja\"], false_as: [\"false\", \"no\", \"0\", \"nein\"]}`"
            })
    void whatIsObviousIsFoundTriedAndWrittenSoThatTheRowsFit(
            String column, String good, String bad, String worse, String code, String file, String line)
            throws Exception {
        List<String> columns = List.of("id", "day", "value", "kind", "done");
        StringBuilder rows = new StringBuilder();
        for (String value : List.of(good, bad, worse)) {
            rows.append(String.join(
                            ";",
                            columns.stream()
                                    .map(one -> one.equals(column) ? value : "")
                                    .toList()))
                    .append('\n');
        }
        workspace("", rows.toString());
        long refused = run().balance().rejected();
        Fix mend = runner.fixes()
                .of("north", 1, ReasonCode.of(code).orElseThrow(), column, path -> "in/a.csv")
                .fixes()
                .get(0);
        assertThat(mend.file()).isEqualTo(file);
        assertThat(mend.after()).endsWith(line);
        assertThat(mend.count()).isEqualTo(refused).isEqualTo(mend.of());
        file(file, mend.text());
        assertThat(run().balance().rejected()).isZero();
    }

    private Fixes mends(long run, ReasonCode code, String column) throws Exception {
        return runner.fixes()
                .of("north", run, code, column, path -> "in/" + Path.of(path).getFileName());
    }

    @Test
    void aDashInCodesOfDigitsIsTakenAwayOrTheColumnBecomesText() throws Exception {
        workspace("", "");
        file(
                "jobs/north.yaml",
                Files.readString(folder.resolve("jobs/north.yaml")).replaceAll("keep:.*\n", ""));
        file("datasets/samples.yaml", "dataset: samples\ncolumns:\n  - {name: code, type: integer}\n");
        file("in/a.csv", "code\n125\n12-5\n7-44\n-8\n(12)\n");
        run();
        assertThat(mends(1, ReasonCode.NUMBER_UNREADABLE, "code").fixes())
                .extracting(Fix::after, Fix::count, Fix::of)
                .containsExactly(
                        tuple("  - {name: code, type: text}", 3L, 3L),
                        tuple("\nmap:\n  code: {clean: [{remove: \"-\"}]}".strip(), 2L, 3L));
        file(
                "datasets/samples.yaml",
                mends(1, ReasonCode.NUMBER_UNREADABLE, "code").fixes().get(0).text());
        assertThat(run().balance().rejected()).isZero();
    }

    @Test
    void onlyWhatIsStillRejectedIsCounted() throws Exception {
        workspace("", ";;unk;;\n;;dry;;\n;;unk;;\n");
        run();
        Fix first = mends(1, ReasonCode.NUMBER_UNREADABLE, "value").fixes().get(0);
        assertThat(first.after()).contains("empty_as: [\"\", \"unk\", \"dry\"]");
        assertThat(first.of()).isEqualTo(3);
        file("jobs/north.yaml", first.text().replace(", \"dry\"", ""));
        Fixes now = mends(1, ReasonCode.NUMBER_UNREADABLE, "value");
        assertThat(now.passing()).isEqualTo(2);
        assertThat(now.rejected()).isEqualTo(1);
        assertThat(now.fixes()).extracting(Fix::of).containsOnly(1L);
        assertThat(now.fixes().get(0).after()).contains("[\"\", \"unk\", \"dry\"]");
        run(); // the rules have changed: the file is read again
        assertThat(mends(1, ReasonCode.NUMBER_UNREADABLE, "value").rejected()).isZero();
        assertThat(mends(2, ReasonCode.NUMBER_UNREADABLE, "value").rejected()).isEqualTo(1);
    }

    @Test
    void aWrongSeparatorIsFoundAndDeclaredBesideTheOtherOne() throws Exception {
        workspace("", ";;1.5;;\n");
        file("in/b.csv", "Id,day,value,kind,done\nAA1,,2.5,ph,\n");
        assertThat(run().balance().files(Outcome.REJECTED)).isEqualTo(1);
        Fixes found = mends(1, ReasonCode.SEPARATOR_DIFFERS, "");
        assertThat(found.fixes())
                .extracting(Fix::after, Fix::level, Fix::count)
                .containsExactly(tuple("read: {separator: [\";\", \",\"]}", "file", 1L));
        file("jobs/north.yaml", found.fixes().get(0).text());
        RunResult again = run();
        assertThat(again.balance().files(Outcome.REJECTED)).isZero();
        assertThat(again.files())
                .extracting(FileResult::name, FileResult::notes)
                .contains(tuple("b.csv", List.of("separated by \",\"")));
    }

    @Test
    void aValueThatBreaksTwoRulesNamesBoth() throws Exception {
        workspace("", "x-12345;;;;\n");
        run();
        assertThat(rejects.read(1, reject -> true, 0, 9))
                .extracting(RejectStore.Reject::code)
                .containsExactlyInAnyOrder("text-too-long", "pattern-differs");
    }

    @Test
    void whatWouldSpoilValuesThatFitIsNotProposed() throws Exception {
        workspace("", ";;1.5;;\n;;1,5;;\n;;-999;;\n");
        run();
        assertThat(runner.fixes()
                        .of("north", 1, ReasonCode.NUMBER_UNREADABLE, "value", path -> "in/a.csv")
                        .fixes())
                .extracting(Fix::after)
                .noneMatch(line -> line.contains("decimal"));
        assertThat(runner.fixes()
                        .of("north", 1, ReasonCode.BELOW_MINIMUM, "value", path -> "in/a.csv")
                        .fixes())
                .isEmpty();
    }

    @Test
    void aRowIsFollowedAsReadCleanedAndStoredAlsoWhereTheFileIsGone() throws Exception {
        workspace("map: {id: {clean: [trim]}, kind: {from: kind, clean: [lower]}}\n", " AA1 ;2026-02-30;1;PH;\n");
        run();
        String path = folder.toRealPath().resolve("in/a.csv").toString();
        List<String> header = List.of("Id", "day", "value", "kind", "done");
        Trace trace =
                runner.traces().of("north", 1, path, "in/a.csv", 1, header).orElseThrow();
        assertThat(trace.readAnew()).isTrue();
        assertThat(trace.passes()).isFalse();
        assertThat(trace.cells())
                .extracting(
                        Trace.Cell::column,
                        cell -> cell.read().orElse(null),
                        cell -> cell.cleaned().orElse(null),
                        cell -> cell.value().orElse(null),
                        cell -> cell.code().orElse(null))
                .contains(
                        org.assertj.core.api.Assertions.tuple("id", " AA1 ", "AA1", "AA1", null),
                        org.assertj.core.api.Assertions.tuple(
                                "day", "2026-02-30", "2026-02-30", null, "date-unreadable"),
                        org.assertj.core.api.Assertions.tuple("kind", "PH", "ph", "ph", null),
                        org.assertj.core.api.Assertions.tuple("done", "", "", null, null));
        Files.delete(folder.resolve("in/a.csv"));
        Trace kept = runner.traces().of("north", 1, path, "in/a.csv", 1, header).orElseThrow();
        assertThat(kept.readAnew()).isFalse();
        assertThat(kept.cells()).isEqualTo(trace.cells());
        assertThat(runner.traces().of("north", 1, path, "in/a.csv", 9, header)).isEmpty();
    }

    @Test
    void rejectedRowsAreHadInTheirOwnColumnsAndARepairedCopyIsLoaded() throws Exception {
        workspace("", "AA1;2026-01-01;\"1;\"\"5\";ph;\nAA2;;2;ph;\nAA0;;;;\nAA3;x;y;ph;yes\n");
        assertThat(run().balance())
                .extracting(Balance::loaded, Balance::aside, Balance::rejected)
                .containsExactly(1L, 1L, 2L);
        String path = folder.toRealPath().resolve("in/a.csv").toString();
        Map<String, List<String>> headers = Map.of(path, List.of("Id", "day", "value", "kind", "done"));
        ByteArrayOutputStream text = new ByteArrayOutputStream();
        assertThat(new RejectExport(rejects, 1, headers, false)
                        .likeSource(new Workspace(folder).job("north").read(), text))
                .isEqualTo(2);
        String copy = text.toString(StandardCharsets.UTF_8);
        assertThat(copy.lines().toList())
                .hasSize(3)
                .element(0)
                .isEqualTo("Id;day;value;kind;done;_file;_line;_column;_value;_code;_reason");
        assertThat(copy)
                .contains(
                        "AA1;2026-01-01;\"1;\"\"5\";ph;;a.csv;2;value;\"1;\"\"5\";number-unreadable;",
                        "AA3;x;y;ph;yes;a.csv;5;\"day; value\";\"x; y\"");
        file("in/mended.csv", copy.replace("\"1;\"\"5\";ph", "1.5;ph").replace("AA3;x;y", "AA3;2026-01-03;3"));
        assertThat(run().files())
                .filteredOn(file -> file.name().equals("mended.csv"))
                .singleElement()
                .satisfies(file -> assertThat(file.loaded()).isEqualTo(2));

        ByteArrayOutputStream csv = new ByteArrayOutputStream();
        new RejectExport(rejects, 1, headers, true)
                .write(RowWriter.of("csv", csv, "aside").orElseThrow());
        assertThat(csv.toString(StandardCharsets.UTF_8))
                .isEqualTo("Id,day,value,kind,done,_file,_line,_rule\r\nAA0,,,,,a.csv,4,keep: id != 'AA0'\r\n");
        try (OutputStream parquet = Files.newOutputStream(folder.resolve("rejects.parquet"))) {
            new RejectExport(rejects, 1, headers, false)
                    .write(RowWriter.of("parquet", parquet, "rejects").orElseThrow());
        }
        assertThat(PartStore.countRows(folder.resolve("rejects.parquet"))).isEqualTo(2);
    }
}
