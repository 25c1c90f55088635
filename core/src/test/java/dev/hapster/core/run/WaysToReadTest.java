package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.MemoryCatalogue;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.find.Roots;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.inspect.CheckResult;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What senders do differently from each other, declared once: headers, separators, members of arrays, times. */
class WaysToReadTest {

    @TempDir
    private Path folder;

    private final ExecutorService workers = Executors.newFixedThreadPool(2);
    private final MemoryCatalogue catalogue = new MemoryCatalogue();
    private PartStore parts;
    private RejectStore rejects;
    private Runner runner;
    private long runs;

    @BeforeEach
    void start() throws IOException {
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

    @AfterEach
    void stop() {
        workers.shutdownNow();
    }

    @Test
    void ofSeveralHeadersTheFirstThatAFileHasFeedsTheColumn() throws Exception {
        columns("{name: station, type: text, required: true}");
        job("*.csv", "map: {station: {from: [Site, \"Station #\"]}}");
        file("in/a.csv", "Site\na\n");
        file("in/b.csv", "Station #\nb\n");
        file("in/c.csv", "Place\nc\n");
        RunResult result = run();
        assertThat(rows("station")).containsExactlyInAnyOrder("a", "b");
        assertThat(result.files().get(2).reason().orElseThrow().sentence())
                .startsWith("its header lacks Site or Station #; it has Place");
    }

    @Test
    void aColumnMayHaveHadAnyHeaderBefore() throws Exception {
        columns("{name: sample, type: text, required: true, was: [\"Sample No.\", smp]}");
        job("*.csv", "");
        file("in/a.csv", "Sample No.\na\n");
        file("in/b.csv", "smp\nb\n");
        run();
        assertThat(rows("sample")).containsExactlyInAnyOrder("a", "b");
    }

    @Test
    void theFirstSeparatorUnderWhichTheHeaderFitsIsUsedAndNamed() throws Exception {
        columns("{name: id, type: text, required: true}", "{name: value, type: integer}");
        job("*.csv", "read: {separator: [\",\", \";\", \"\\t\"]}");
        file("in/a.csv", "id,value\na,1\n");
        file("in/b.csv", "id;value\nb;2\n");
        file("in/c.csv", "id\tvalue\nc\t3\n");
        file("in/d.csv", "id|value\nd|4\n");
        RunResult result = run();
        assertThat(result.files())
                .extracting(FileResult::outcome, FileResult::loaded, FileResult::notes)
                .containsExactly(
                        tuple(Outcome.LOADED, 1L, List.of("separated by \",\"")),
                        tuple(Outcome.LOADED, 1L, List.of("separated by \";\"")),
                        tuple(Outcome.LOADED, 1L, List.of("separated by tab")),
                        tuple(Outcome.REJECTED, 0L, List.of()));
        assertThat(result.files().get(3).reason().orElseThrow().sentence())
                .isEqualTo("looks separated by \"|\"; the job declares \",\" and \";\" and tab");
        assertThat(runner.inspection().check("j", Map.of()).files())
                .extracting(CheckResult.FileCheck::rows, CheckResult.FileCheck::notes)
                .contains(tuple(1L, List.of("separated by \";\"")));
    }

    @Test
    void theFirstEncodingInWhichAllBytesAreCharactersIsUsedAndNamed() throws Exception {
        columns("{name: id, type: text, required: true}");
        job("*.csv", "read: {encoding: [utf-8, windows-1252], separator: [\";\", \",\"]}");
        file("in/a.csv", "id\nJörg\n");
        Files.write(folder.resolve("in/b.csv"), "id\nJörg\n".getBytes(Charset.forName("windows-1252")));
        Files.write(folder.resolve("in/c.csv"), new byte[] {'i', 'd', '\n', (byte) 0x81, '\n'});
        RunResult result = run();
        assertThat(result.files())
                .extracting(FileResult::outcome, FileResult::notes)
                .containsExactly(
                        tuple(Outcome.LOADED, List.of("read as UTF-8", "separated by \";\"")),
                        tuple(Outcome.LOADED, List.of("read as windows-1252", "separated by \";\"")),
                        tuple(Outcome.REJECTED, List.of()));
        assertThat(result.files().get(2).reason().orElseThrow().sentence()).contains("windows-1252", "81");
        assertThat(rows("id")).containsExactly("Jörg", "Jörg");
    }

    @Test
    void aMemberOfAnArrayFeedsAColumn() throws Exception {
        columns(
                "{name: id, type: text, required: true}",
                "{name: east, type: double}",
                "{name: north, type: double}",
                "{name: deep, type: integer}");
        job(
                "*.json",
                "read: {as: json, rows: features}\nmap: {east: \"geometry.coordinates[0]\", north: "
                        + "\"geometry.coordinates[1]\", deep: \"grid[1][0]\"}");
        file(
                "in/a.json",
                "{\"features\":[{\"id\":\"a\",\"geometry\":{\"coordinates\":[16.3,48.2]},\"grid\":[[1],[7]]},\n"
                        + "{\"id\":\"b\",\"geometry\":{\"coordinates\":[9.5,47.1]}}]}");
        file("in/b.json", "{\"features\":[{\"id\":\"c\",\"geometry\":{\"coordinates\":[1,2,3]}}]}");
        job(
                "a.json",
                "read: {as: json, rows: features, extra_columns: [\"grid.[]\"], missing_columns: empty}\nmap: {east: "
                        + "\"geometry.coordinates[0]\", north: \"geometry.coordinates[1]\", deep: \"grid[1][0]\"}");
        run();
        assertThat(rows("id")).containsExactly("a", "b");
        assertThat(rows("east")).containsExactly(16.3, 9.5);
        assertThat(rows("north")).containsExactly(48.2, 47.1);
        assertThat(rows("deep")).containsExactly(7L, null);
        job(
                "b.json",
                "read: {as: json, rows: features}\nmap: {east: \"geometry.coordinates[0]\", north: "
                        + "\"geometry.coordinates[1]\"}");
        assertThat(run().files().get(0).reason().orElseThrow().sentence())
                .as("a third member would be lost")
                .contains("\"geometry.coordinates\"");
    }

    @Test
    void recordsOfOneLineAreNamedByTheirNumberAndEachCanBeFollowed() throws Exception {
        columns("{name: id, type: text, required: true}", "{name: value, type: integer}");
        job("*.json", "read: {as: json}");
        file("in/a.json", "[{\"id\":\"a\",\"value\":1},{\"id\":\"b\",\"value\":\"x\"},{\"id\":\"c\",\"value\":\"y\"}]");
        RunResult result = run();
        assertThat(result.files().get(0).notes())
                .containsExactly("rows are named by their number, since several stand on one line");
        assertThat(rejects.read(1, reject -> true, 0, 9))
                .extracting(RejectStore.Reject::line, RejectStore.Reject::value)
                .containsExactly(tuple(2L, "x"), tuple(3L, "y"));
        file("in/a.json", "[{\"id\":\"a\",\"value\":1},\n{\"id\":\"b\",\"value\":\"x\"}]");
        run();
        assertThat(rejects.read(2, reject -> true, 0, 9))
                .extracting(RejectStore.Reject::line)
                .containsExactly(2L);
    }

    @Test
    void secondsAndMillisecondsSince1970AreTimes() throws Exception {
        columns("{name: a, type: timestamp}", "{name: b, type: timestamp}", "{name: day, type: date}");
        job("*.csv", "map: {a: {pattern: epoch}, b: {pattern: epoch_ms}, day: {pattern: [iso, epoch]}}");
        file(
                "in/a.csv",
                "a,b,day\n1767225600,1767225600123,1767312000\n1767225600.5,-1,2026-02-01\n1e9,12,\n"
                        + "999999999999999,0,\n");
        RunResult result = run();
        assertThat(rows("a"))
                .extracting(String::valueOf)
                .containsExactly("2026-01-01T00:00", "2026-01-01T00:00:00.500");
        assertThat(rows("b"))
                .extracting(String::valueOf)
                .containsExactly("2026-01-01T00:00:00.123", "1969-12-31T23:59:59.999");
        assertThat(rows("day")).extracting(String::valueOf).containsExactly("2026-01-02", "2026-02-01");
        assertThat(result.balance().rejected()).isEqualTo(2);
    }

    @Test
    void aMonthThatARegularExpressionFindsIsItsFirstDay() throws Exception {
        columns("{name: id, type: text}", "{name: month, type: date}");
        job("{regex: \"x-(?<month>[0-9]{4}-[0-9]{2})[.]csv\"}", "map: {month: {fact: month, pattern: yyyy-MM}}");
        file("in/x-2026-03.csv", "id\na\n");
        file("in/x-2026-13.csv", "id\nb\n");
        RunResult result = run();
        assertThat(rows("month")).extracting(String::valueOf).containsExactly("2026-03-01");
        assertThat(result.files().get(1).reason().orElseThrow().sentence())
                .isEqualTo("says \"2026-13\" for {month} in its name: \"2026-13\" is not written as yyyy-MM");
    }

    private void columns(String... columns) throws IOException {
        file("datasets/d.yaml", "dataset: d\ncolumns:\n  - " + String.join("\n  - ", columns) + "\n");
    }

    private void job(String take, String rest) throws IOException {
        String names = take.startsWith("{") ? take : "\"" + take + "\"";
        file("jobs/j.yaml", "job: j\ninto: d\nfind: [{folder: in, settle: 0s, take: [" + names + "]}]\n" + rest + "\n");
    }

    private void file(String name, String text) throws IOException {
        Files.createDirectories(folder.resolve(name).getParent());
        Files.writeString(folder.resolve(name), text);
    }

    private RunResult run() throws Exception {
        RunResult result =
                runner.run(runner.prepare("j", Map.of()), ++runs, RunRequest.NOTHING, RunListener.NONE, () -> false);
        rejects.merge(runs, ordinal -> true);
        assertThat(result.balance().holds()).isTrue();
        return result;
    }

    /** What a column holds, in the order of the rows. */
    private List<Object> rows(String column) throws Exception {
        List<PartFile> files = catalogue.parts("d").stream()
                .map(part -> new PartFile(parts.span(part.name()), "", part.rows(), part.masked()))
                .toList();
        var page = new DatasetQuery(new Workspace(folder).dataset("d"), files).rows(0, 1000, List.of(), List.of());
        int place = page.fields().stream().map(field -> field.name()).toList().indexOf(column);
        return page.rows().stream().<Object>map(row -> row.get(place)).toList();
    }
}
