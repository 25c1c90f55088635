package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import dev.hapster.core.catalogue.MemoryCatalogue;
import dev.hapster.core.catalogue.Part;
import dev.hapster.core.find.Roots;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.inspect.FitReport;
import dev.hapster.core.run.inspect.FitReport.Cell;
import dev.hapster.core.run.inspect.FitReport.Group;
import dev.hapster.core.run.inspect.FitReport.State;
import dev.hapster.core.run.inspect.FitReport.Verdict;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.zip.GZIPOutputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Sheets, entries of archives and shared headers, from the folder to the dataset; and whether files fit. */
class FormatsRunTest {

    @TempDir
    private Path folder;

    private final MemoryCatalogue catalogue = new MemoryCatalogue();
    private final ExecutorService workers = Executors.newFixedThreadPool(2);
    private Runner runner;
    private long run;

    @BeforeEach
    void prepare() throws IOException {
        file(
                "datasets/samples.yaml",
                "dataset: samples\ncolumns:\n  - {name: id, type: text, required: true}\n"
                        + "  - {name: day, type: date}\n  - {name: value, type: \"decimal(8,2)\"}\n");
        Path store = Files.createDirectories(folder.resolve("store"));
        runner = new Runner(
                new Workspace(folder),
                Roots.of(List.of(folder)),
                new PartStore(store),
                new RejectStore(store),
                catalogue,
                workers,
                Clock.systemUTC());
    }

    @AfterEach
    void stop() {
        workers.shutdownNow();
    }

    private Path file(String name, String text) throws IOException {
        Path path = folder.resolve(name);
        Files.createDirectories(path.getParent());
        Files.writeString(path, text);
        Files.setLastModifiedTime(path, FileTime.from(Instant.parse("2026-01-01T00:00:00Z")));
        return path;
    }

    private void job(String place, String rest) throws IOException {
        file("jobs/north.yaml", "job: north\ninto: samples\nfind: [{folder: in, settle: 0s, " + place + "}]\n" + rest);
    }

    private RunResult run() throws Exception {
        RunResult result =
                runner.run(runner.prepare("north", Map.of()), ++run, RunRequest.NOTHING, RunListener.NONE, () -> false);
        assertThat(result.failure()).isEmpty();
        assertThat(result.balance().holds()).isTrue();
        return result;
    }

    private static List<String> outcomes(RunResult result) {
        return result.files().stream()
                .map(file -> file.name() + " " + file.outcome().word() + " " + file.loaded()
                        + file.reason()
                                .map(reason -> " " + reason.code().code())
                                .orElse(""))
                .toList();
    }

    private Path zip(String name, String... entries) throws IOException {
        Path path = folder.resolve(name);
        Files.createDirectories(path.getParent());
        try (ZipOutputStream zip = new ZipOutputStream(Files.newOutputStream(path))) {
            for (int i = 0; i < entries.length; i += 2) {
                zip.putNextEntry(new ZipEntry(entries[i]));
                zip.write(entries[i + 1].getBytes(StandardCharsets.UTF_8));
            }
        }
        return path;
    }

    @Test
    void entriesOfArchivesAreFoundLikeFiles() throws Exception {
        file(
                "jobs/north.yaml",
                "job: north\ninto: samples\nfind: [{folder: in, settle: 0s, take: "
                        + "\"*.zip!/{month:yyyy-MM}/*.csv\", skip: \"*copy*\"}]\nmap: {day: {fact: month}}\n");
        zip(
                "in/a.zip",
                "2026-01/x.csv",
                "id,value\na,1\n",
                "2026-02/x.csv",
                "id,value\nb,2\nc,3\n",
                "2026-02/x copy.csv",
                "id,value\n",
                "readme.txt",
                "hello",
                "../../evil.csv",
                "id\n1\n",
                "2026-01/" + "x".repeat(600) + ".csv",
                "id,value\nq,1\n",
                "2026-03/b.csv",
                "id,value\nz,many\n");
        file("in/plain.csv", "id,value\n");
        assertThat(outcomes(run()))
                .containsExactly(
                        "a.zip!/2026-01/x.csv loaded 1",
                        "a.zip!/2026-02/x.csv loaded 2",
                        "a.zip!/2026-03/b.csv loaded 0");
        assertThat(outcomes(run())).allMatch(outcome -> outcome.contains("unchanged"));
        zip("in/a.zip", "2026-01/x.csv", "id,value\na,1\n", "2026-02/x.csv", "id,value\nb,2\n");
        assertThat(outcomes(run()))
                .containsExactly("a.zip!/2026-01/x.csv unchanged 0", "a.zip!/2026-02/x.csv replaced 1");
        assertThat(catalogue.parts("samples").stream().mapToLong(Part::rows).sum())
                .isEqualTo(2); // what was taken out of the archive stays
        byte[] whole = Files.readAllBytes(folder.resolve("in/a.zip"));
        Files.write(folder.resolve("in/a.zip"), java.util.Arrays.copyOf(whole, whole.length - 30));
        assertThat(outcomes(run())).containsExactly("a.zip rejected 0 file-damaged");
        assertThat(runner.peeks()
                        .of(
                                runner.prepare("north", Map.of()).job().find().get(0),
                                runner.prepare("north", Map.of()).job().read(),
                                "plain.csv",
                                1,
                                5))
                .isPresent();
    }

    private void book(String name, String... sheets) throws IOException {
        Path path = folder.resolve(name);
        Files.createDirectories(path.getParent());
        try (OutputStream out = Files.newOutputStream(path);
                Workbook book = new Workbook(out, "test", "1.0")) {
            for (int i = 0; i < sheets.length; i++) {
                Worksheet sheet = book.newWorksheet(sheets[i]);
                sheet.value(0, 0, "id");
                sheet.value(0, 1, sheets[i].startsWith("odd") ? "worth" : "value");
                for (int row = 1; row <= i + 1; row++) {
                    sheet.value(row, 0, name.charAt(3) + "-" + sheets[i] + "-" + row);
                    sheet.value(row, 1, row * 1.5);
                }
            }
        }
    }

    @Test
    void sheetsAreFoundByNamePatternAndPosition() throws Exception {
        book("in/a.xlsx", "notes", "2026-01", "2026-02", "last");
        book("in/b.xlsx", "2026-01", "x");
        job(
                "take: \"*.xlsx\", sheets: [\"{day:yyyy-MM}\", {position: last}], skip_sheets: [x]",
                "read: {as: workbook}\nmap: {day: {fact: day}}\n");
        // A sheet that is taken by its position says nothing of a day, so it is rejected for that.
        assertThat(outcomes(run()))
                .containsExactly(
                        "a.xlsx!2026-01 loaded 2",
                        "a.xlsx!2026-02 loaded 3",
                        "a.xlsx!last rejected 0 fact-differs",
                        "b.xlsx!2026-01 loaded 1");
        assertThat(outcomes(run()))
                .filteredOn(outcome -> outcome.contains("unchanged"))
                .hasSize(3);
        book("in/b.xlsx", "2026-01", "2026-03", "x");
        assertThat(outcomes(run())).contains("b.xlsx!2026-03 loaded 2", "a.xlsx!2026-01 unchanged 0");
        try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(folder.resolve("in/c.xlsx")))) {
            Files.copy(folder.resolve("in/a.xlsx"), out); // packed once more, as some programs send it
        }
        assertThat(outcomes(run())).contains("c.xlsx!2026-02 loaded 3");
        try (var left = Files.list(folder.resolve("store/staging"))) {
            assertThat(left).isEmpty();
        }
        job("take: \"*.xlsx\", sheets: {position: 2}", "read: {as: workbook}\n");
        assertThat(outcomes(run()))
                .hasSize(3)
                .allMatch(outcome -> outcome.contains("!2026-01") || outcome.contains("!2026-03"));
    }

    @Test
    void oneFileHasTheHeaderOfAll() throws Exception {
        job("take: \"*.csv\"", "read: {header: once}\n");
        file("in/1.csv", "b,2\n");
        file("in/2.csv", "a,1\nid,value\nc,3\n");
        assertThat(outcomes(run()))
                .containsExactly("1.csv rejected 0 header-missing", "2.csv rejected 0 header-missing");
        file("in/3.csv", "value,id\n4,d\n");
        assertThat(outcomes(run()))
                .containsExactly(
                        "1.csv loaded 0", "2.csv loaded 0", "3.csv loaded 1"); // the order is that of the header
        file("in/3.csv", "id,value\nd,4\n");
        assertThat(outcomes(runner.run(
                        runner.prepare("north", Map.of()),
                        ++run,
                        RunRequest.again(file -> true),
                        RunListener.NONE,
                        () -> false)))
                .containsExactly("1.csv replaced 1", "2.csv replaced 2", "3.csv replaced 1");
    }

    @Test
    void missingColumnsAreNamedWithTheLikelyCause() throws Exception {
        job("take: \"*.csv\"", "map: {value: Trübung}\n");
        file("in/a.csv", "Report of March\nmade by Tilda\nid,Tr\u00fcbung\na,1\n");
        file("in/b.csv", "12,2026-01-01,0.5\n13,2026-01-02,0.6\n");
        file("in/c.csv", "<!DOCTYPE html><html><body>503</body></html>\n");
        file("in/d.csv", "{\"id\": 1}\n");
        List<String> sentences = run().files().stream()
                .map(file -> file.reason().orElseThrow().sentence())
                .toList();
        assertThat(sentences.get(0)).endsWith("its line 3 looks like the header; set `lines_above: 2`");
        assertThat(sentences.get(1)).contains("its first line looks like a row");
        assertThat(sentences.get(2)).contains("looks like a web page");
        assertThat(sentences.get(3)).endsWith("it looks like JSON");
        job("take: \"e.csv\"", "read: {encoding: windows-1252}\nmap: {value: Trübung}\n");
        file("in/e.csv", "id,Tr\u00fcbung\na,1\n");
        assertThat(run().files().get(0).reason().orElseThrow().sentence())
                .endsWith("it looks like UTF-8 that is read as windows-1252; set `encoding: UTF-8`");
    }

    @Test
    void filesOfOneStructureAreOneGroup() throws Exception {
        job("take: \"*.csv\"", "read: {extra_columns: [remark]}\n");
        for (int i = 0; i < 300; i++) {
            file("in/a" + i + ".csv", "id,day,value\nx" + i + ",2026-01-01,1.5\n");
        }
        file("in/b1.csv", "value,remark,id,day\n1,x,a,2026-01-01\n");
        file("in/b2.csv", "value,remark,id,day\n1,x,b,2026-01-01\n");
        file("in/c.csv", "id,day,worth,vallue\na,2026-01-01,1,2\n");
        file("in/d.csv", "id,day,value\na,01.02.2026,1\nb,02.02.2026,1\nc,03.02.2026,1\nd,04.02.2026,1\n");
        file("in/e.csv", "");
        FitReport fit = runner.inspection().fit("north", Map.of());
        assertThat(fit.groups())
                .extracting(Group::files, Group::verdict)
                .containsExactly(
                        tuple(300, Verdict.FITS),
                        tuple(2, Verdict.DIFFERS),
                        tuple(1, Verdict.UNFIT),
                        tuple(1, Verdict.UNFIT),
                        tuple(1, Verdict.UNFIT));
        Group moved = fit.groups().get(1);
        assertThat(moved.cells())
                .extracting(Cell::column, Cell::state, Cell::position, Cell::usual)
                .containsExactly(
                        tuple("id", State.MOVED, 3, 1),
                        tuple("day", State.MOVED, 4, 2),
                        tuple("value", State.MOVED, 1, 3));
        assertThat(moved.extra()).containsExactly(new FitReport.Extra("remark", 2, true));
        Group extra = fit.groups().get(2);
        assertThat(extra.reason().orElseThrow().sentence())
                .isEqualTo("has columns that are not mapped to the dataset: \"worth\", \"vallue\"");
        assertThat(extra.changes().get(0)).startsWith("`extra_columns: [\"worth\", \"vallue\"]` in `read` skips them");
        Group dates = fit.groups().get(3);
        assertThat(dates.cells().get(1).state()).isEqualTo(State.OTHER_TYPE);
        assertThat(dates.cells().get(1).looks())
                .isEqualTo(
                        "looks like dates written dd.MM.yyyy; \"01.02.2026\" is not written as ISO 8601 (yyyy-MM-dd) (d.csv:2)");
        assertThat(dates.changes())
                .containsExactly(
                        "`day: {pattern: \"dd.MM.yyyy\"}` in `map`: its values look like dates written dd.MM.yyyy");
        assertThat(fit.groups().get(4).reason().orElseThrow().sentence()).isEqualTo("holds 0 bytes");
        job("take: \"c.csv\"", "map: {value: value}\n");
        assertThat(runner.inspection().fit("north", Map.of()).groups().get(0).changes())
                .startsWith("`value: {from: [\"value\", \"vallue\"]}` in `map`, if that is the column");
        file("in/c.csv", "id,day,\"v, #: \"\"q\"\"\"\na,2026-01-01,1\n");
        job("take: \"c.csv\"", "");
        String skips = runner.inspection()
                .fit("north", Map.of())
                .groups()
                .get(0)
                .changes()
                .get(0);
        job("take: \"c.csv\"", "read: {" + skips.replaceAll("^`|` in `read`.*", "") + "}\n");
        assertThat(runner.inspection().fit("north", Map.of()).groups().get(0).verdict())
                .as(skips)
                .isNotEqualTo(Verdict.UNFIT);
        file("in/c.csv", "id,day,worth,vallue\na,2026-01-01,1,2\n");
        job("take: \"c.csv\"", "read: {extra_columns: ignore, missing_columns: empty}\nmap: {value: value}\n");
        assertThat(runner.inspection().fit("north", Map.of()).groups().get(0).verdict())
                .isEqualTo(Verdict.DIFFERS);
        assertThat(outcomes(run())).containsExactly("c.csv loaded 1");
    }
}
