package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;
import static org.assertj.core.api.Assertions.tuple;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.MemoryCatalogue;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Roots;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.Page;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.inspect.CheckResult;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.run.load.RunState;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.Workspace;
import java.io.ByteArrayOutputStream;
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
import org.apache.commons.compress.compressors.CompressorStreamFactory;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class RunnerTest {

    private static final String HEADER = "id,day,value\n";

    @TempDir
    private Path folder;

    private final ExecutorService workers = Executors.newFixedThreadPool(2);
    private final MemoryCatalogue catalogue = new MemoryCatalogue();
    private PartStore parts;
    private RejectStore rejects;
    private Runner runner;
    private long runs;

    @BeforeEach
    void workspace() throws IOException {
        file(
                "datasets/samples.yaml",
                "dataset: samples\ncolumns:\n  - {name: id, type: text, required: true}\n"
                        + "  - {name: day, type: date}\n  - {name: value, type: integer}\n");
        job("");
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

    private void file(String name, String text) throws IOException {
        Files.createDirectories(folder.resolve(name).getParent());
        Files.writeString(folder.resolve(name), text);
    }

    private void job(String rest) throws IOException {
        file(
                "jobs/north.yaml",
                "job: north\ninto: samples\nfind: [{folder: in, settle: 0s, take: \"*.csv\"}]\n" + rest);
    }

    private RunResult run() throws Exception {
        return run(false);
    }

    private RunResult run(boolean again) throws Exception {
        long number = ++runs;
        RunResult result = runner.run(
                runner.prepare("north", Map.of()),
                number,
                RunRequest.again(file -> again),
                RunListener.NONE,
                () -> false);
        rejects.merge(number, ordinal -> true);
        assertThat(result.state()).as(result.toString()).isEqualTo(RunState.FINISHED);
        assertThat(result.balance().holds()).isTrue();
        return result;
    }

    private List<List<Comparable<?>>> rows() throws Exception {
        List<PartFile> files = catalogue.parts("samples").stream()
                .map(part -> new PartFile(parts.span(part.name()), "", part.rows(), part.masked()))
                .toList();
        Page page = new DatasetQuery(new Workspace(folder).dataset("samples"), files)
                .rows(0, 1000, List.of("_file", "_line"), List.of());
        return page.rows().stream()
                .map(row -> List.<Comparable<?>>of(row.get(0), row.get(1), row.get(5)))
                .toList();
    }

    /** What the column value holds, in the order of the rows. */
    private List<Object> values() throws Exception {
        List<PartFile> files = catalogue.parts("samples").stream()
                .map(part -> new PartFile(parts.span(part.name()), "", part.rows(), part.masked()))
                .toList();
        Page page = new DatasetQuery(new Workspace(folder).dataset("samples"), files)
                .rows(0, 1000, List.of("_line"), List.of());
        return page.rows().stream()
                .<Object>map(row -> row.get(page.fields().size() - 1))
                .toList();
    }

    @Test
    void runningTwiceDoublesNothingAndAChangedFileReplacesItsOwnRows() throws Exception {
        file("in/a.csv", HEADER + "a1,2026-01-01,1\na2,2026-01-02,2\n");
        file("in/b.csv", HEADER + "b1,2026-01-01,1\n");
        assertThat(run().files())
                .extracting(FileResult::outcome, FileResult::loaded)
                .containsExactly(tuple(Outcome.LOADED, 2L), tuple(Outcome.LOADED, 1L));
        assertThat(run().files())
                .extracting(FileResult::outcome, FileResult::sinceRun)
                .containsExactly(tuple(Outcome.UNCHANGED, 1L), tuple(Outcome.UNCHANGED, 1L));

        file("in/a.csv", HEADER + "a1,2026-01-01,1\na3,2026-01-02,2\n"); // one byte, the same length
        assertThat(run().files()).extracting(FileResult::outcome).containsExactly(Outcome.REPLACED, Outcome.UNCHANGED);
        assertThat(rows())
                .containsExactly(List.of("a.csv", 2L, "a1"), List.of("a.csv", 3L, "a3"), List.of("b.csv", 2L, "b1"));

        Files.delete(folder.resolve("in/b.csv"));
        assertThat(run().balance())
                .satisfies(balance -> assertThat(balance.found()).isEqualTo(1))
                .extracting(Balance::datasetRows)
                .isEqualTo(3L);
    }

    @Test
    void aFileThatOnlyLooksNewIsKnownByItsContent() throws Exception {
        file("in/a.csv", HEADER + "a1,2026-01-01,1\n");
        run();
        Files.setLastModifiedTime(folder.resolve("in/a.csv"), FileTime.from(Instant.parse("2026-05-01T00:00:00Z")));
        assertThat(run().files()).extracting(FileResult::outcome).containsExactly(Outcome.UNCHANGED);
        assertThat(run(true).files()).extracting(FileResult::outcome).containsExactly(Outcome.REPLACED);
        assertThat(rows()).hasSize(1);
    }

    @Test
    void rejectsAreKeptWithEverythingThatIsNeededToMendThem() throws Exception {
        file("in/a.csv", HEADER + "a1,2026-02-30,x\na2,2026-01-02,2\n");
        file("in/b.csv", "id;day;value\nb1;2026-01-01;1\n");
        file("in/c.csv", "");
        RunResult result = run();

        assertThat(result.files())
                .extracting(FileResult::outcome, FileResult::read, FileResult::rejected)
                .containsExactly(
                        tuple(Outcome.LOADED, 2L, 1L),
                        tuple(Outcome.REJECTED, 0L, 0L),
                        tuple(Outcome.REJECTED, 0L, 0L));
        assertThat(rejects.read(1, reject -> true, 0, 10))
                .extracting(
                        RejectStore.Reject::file,
                        RejectStore.Reject::line,
                        RejectStore.Reject::fault,
                        RejectStore.Reject::column,
                        RejectStore.Reject::value,
                        RejectStore.Reject::code,
                        RejectStore.Reject::original)
                .containsExactly(
                        tuple("a.csv", 2L, "1 of 2", "day", "2026-02-30", "date-unreadable", "a1,2026-02-30,x"),
                        tuple("a.csv", 2L, "2 of 2", "value", "x", "number-unreadable", "a1,2026-02-30,x"),
                        tuple("b.csv", 0L, "", "", "", "separator-differs", ""),
                        tuple("c.csv", 0L, "", "", "", "file-empty", ""));
    }

    @Test
    void rejectedFilesAreRejectedAgainUntilTheyOrTheRulesChange() throws Exception {
        file("in/a.csv", "id,day,Result\na1,2026-01-01,1,7\na2,2026-01-01,1\n");
        job("map: {value: Reslut}\n");
        assertThat(run().files()).extracting(FileResult::outcome).containsExactly(Outcome.REJECTED);
        assertThat(run().files())
                .extracting(FileResult::outcome, FileResult::sinceRun)
                .containsExactly(tuple(Outcome.REJECTED, 1L));
        job("map: {value: Result}\n");
        assertThat(run().files())
                .extracting(FileResult::outcome, FileResult::rejected)
                .containsExactly(tuple(Outcome.LOADED, 1L));
        job("map: {value: Result}\nread: {lines_above: 0}\nabout: only the text differs\n");
        assertThat(run().files()).extracting(FileResult::outcome).containsExactly(Outcome.UNCHANGED);
        file("in/a.csv", "id,day\n");
        assertThat(run().files())
                .extracting(FileResult::outcome, result -> result.notes().get(0))
                .containsExactly(
                        tuple(Outcome.REJECTED, "the rows that its earlier content brought stay in the dataset"));
        assertThat(rows()).hasSize(1);
    }

    @Test
    void aMendedRuleLoadsAnewTheFilesThatHadRejects() throws Exception {
        file("in/a.csv", HEADER + "a1,01.02.2026,1\na2,2026-01-02,2\n");
        file("in/b.csv", HEADER + "b1,2026-01-01,1\n");
        run();
        job("map: {day: {pattern: [yyyy-MM-dd, dd.MM.yyyy]}}\n");
        RunResult mended = run();
        assertThat(mended.files()).extracting(FileResult::outcome).containsExactly(Outcome.REPLACED, Outcome.UNCHANGED);
        assertThat(mended.notes())
                .singleElement()
                .asString()
                .startsWith("1 unchanged file was loaded by earlier rules");
        assertThat(rows()).hasSize(3);
    }

    @Test
    void aTrialWritesNothing() throws Exception {
        file("in/a.csv", HEADER + "a1,2026-01-01,1\na2,x,2\n");
        RunResult trial =
                runner.trial(runner.prepare("north", Map.of()), RunRequest.NOTHING, RunListener.NONE, () -> false);

        assertThat(trial.files())
                .extracting(FileResult::loaded, FileResult::rejected)
                .containsExactly(tuple(1L, 1L));
        assertThat(catalogue.parts("samples")).isEmpty();
        try (var tree = Files.walk(folder.resolve("store"))) {
            assertThat(tree.filter(Files::isRegularFile)).isEmpty();
        }
    }

    @Test
    void aRunLeavesAloneWhatOthersHaveInStaging() throws Exception {
        file("in/a.csv", HEADER + "a1,2026-01-01,1\n");
        Path others = Files.createDirectories(folder.resolve("store/staging/keys-1"));
        Files.writeString(others.resolve("0"), "keys that another run compares");
        Path left = Files.createDirectories(folder.resolve("store/staging/run-77"));
        run();
        assertThat(others.resolve("0")).exists();
        assertThat(left).as("a desk that nobody has").doesNotExist();
    }

    @Test
    void aCancelledRunKeepsWhatItCommittedAndNothingElse() throws Exception {
        for (int i = 0; i < 20; i++) {
            file(
                    "in/f" + i + ".csv",
                    HEADER + ("a" + i + ",2026-01-01,1\n").repeat(20_000)); // each a part with a file of its own
        }
        int[] done = new int[1];
        RunListener listener = new RunListener() {
            @Override
            public synchronized void fileDone(FileResult result) {
                done[0]++;
            }
        };
        RunResult result =
                runner.run(runner.prepare("north", Map.of()), 1, RunRequest.NOTHING, listener, () -> done[0] >= 3);

        assertThat(result.state()).isEqualTo(RunState.CANCELLED);
        assertThat(result.balance().filesHold()).isTrue();
        assertThat(result.balance().notReached()).isPositive();
        assertThat(rows()).hasSize(Math.min(1000, (int) result.balance().datasetRows()));
        assertThat(run().balance().datasetRows()).isEqualTo(400_000);
    }

    @Test
    void aFileThatChangesWhileItIsReadWaitsAndIsNeverLoadedByHalf() throws Exception {
        file("in/a.csv", HEADER + "a,2026-01-01,1\n".repeat(20_000));
        RunListener writer = new RunListener() {
            private boolean written;

            @Override
            public void fileProgress(int ordinal, long bytes, long rows) {
                if (!written) {
                    written = true;
                    try {
                        Files.writeString(
                                folder.resolve("in/a.csv"),
                                "b,2026-01-01,1\n",
                                java.nio.file.StandardOpenOption.APPEND);
                    } catch (IOException wrong) {
                        throw new java.io.UncheckedIOException(wrong);
                    }
                }
            }
        };
        RunResult result =
                runner.run(runner.prepare("north", Map.of()), ++runs, RunRequest.NOTHING, writer, () -> false);

        assertThat(result.state()).isEqualTo(RunState.FINISHED);
        assertThat(result.files()).singleElement().satisfies(waiting -> {
            assertThat(waiting.outcome()).isEqualTo(Outcome.WAITING);
            assertThat(waiting.reason().orElseThrow().sentence())
                    .isEqualTo("changed while it was read; nothing of it was kept");
        });
        assertThat(result.balance().holds()).isTrue();
        assertThat(catalogue.parts("samples")).isEmpty();
        assertThat(run().files())
                .extracting(FileResult::outcome, FileResult::loaded)
                .containsExactly(tuple(Outcome.LOADED, 20_001L));
    }

    @Test
    void aStoreThatCannotBeWrittenFailsTheRunAndBlamesNoFile() throws Exception {
        file("in/a.csv", HEADER + "a1,2026-01-01,1\n");
        Files.delete(folder.resolve("store/staging"));
        RunResult result = runner.run(
                runner.prepare("north", Map.of()), ++runs, RunRequest.NOTHING, RunListener.NONE, () -> false);

        assertThat(result.state()).isEqualTo(RunState.FAILED);
        assertThat(result.failure().orElseThrow())
                .startsWith("While a.csv was loaded, the store could not be written: ");
        assertThat(result.files()).isEmpty();
        Files.createDirectory(folder.resolve("store/staging"));
        assertThat(run().files()).extracting(FileResult::outcome).containsExactly(Outcome.LOADED);
    }

    @Test
    void checkLooksAtLongRowsUntilItHasSeenEnoughOfThemOrAll() throws Exception {
        String longRow = "%d," + "9".repeat(3) + ",2024-01-01," + "x".repeat(9000) + "\n";
        StringBuilder rows = new StringBuilder("id,value,day,note\n");
        for (int row = 1; row <= 150; row++) {
            rows.append(row == 150 ? longRow.formatted(row).replace("999", "many") : longRow.formatted(row));
        }
        file("in/a.csv", rows.toString());
        job("read: {extra_columns: [note]}\n");
        CheckResult.FileCheck all =
                runner.inspection().check("north", Map.of()).files().get(0);
        assertThat(all.rows()).isEqualTo(150);
        assertThat(all.whole()).isTrue();
        assertThat(all.rejected())
                .as("the last one, far behind the first batch")
                .isEqualTo(1);

        file("in/a.csv", rows + rows.substring(rows.indexOf("\n") + 1).repeat(10));
        CheckResult.FileCheck some =
                runner.inspection().check("north", Map.of()).files().get(0);
        assertThat(some.rows()).isEqualTo(200);
        assertThat(some.whole()).isFalse();
    }

    @Test
    void checkSaysEverythingAtOnceBeforeItRuns() throws Exception {
        file("in/a.csv", "id,value,extra\n");
        file("in/b.csv", "day\n");
        assertThat(runner.inspection()
                        .check("north", Map.of())
                        .files()
                        .get(0)
                        .reason()
                        .orElseThrow()
                        .sentence())
                .isEqualTo("has a column that is not mapped to the dataset: \"extra\"");
        job("read: {extra_columns: [EXTRA]}\n");
        assertThat(runner.inspection().check("north", Map.of()).files())
                .extracting(CheckResult.FileCheck::name, file -> file.reason()
                        .map(reason -> reason.code().code())
                        .orElse("fits"))
                .containsExactly(tuple("a.csv", "fits"), tuple("b.csv", "column-missing"));
        assertThat(runner.inspection().check("north", Map.of()).files().get(0).notes())
                .containsExactly("not used: \"extra\"", "left empty: day");
        job("map: {value: {value: many}}\n");
        Files.move(folder.resolve("in"), folder.resolve("gone"));
        assertThat(runner.inspection().check("north", Map.of()).problems())
                .extracting(problem -> problem.what())
                .containsExactly(
                        "the constant for value: \"many\" is not a number",
                        "the folder " + folder.resolve("in") + " does not exist");
    }

    @Test
    void aStoredColumnKeepsItsType() throws Exception {
        file("in/a.csv", HEADER + "a1,2026-01-01,1\n");
        run();
        file(
                "datasets/samples.yaml",
                "dataset: samples\ncolumns:\n  - {name: id, type: text}\n  - {name: value, type: boolean}\n"
                        + "  - {name: fresh, type: text}\n");
        assertThat(catchThrowableOfType(DefinitionException.class, () -> runner.prepare("north", Map.of())))
                .hasMessageContaining("rows are stored with it as integer");
        file(
                "datasets/samples.yaml",
                "dataset: samples\ncolumns:\n  - {name: id, type: text}\n  - {name: value, type: integer}\n"
                        + "  - {name: fresh, type: text}\n");
        assertThat(rows()).hasSize(1);
    }

    @Test
    void integersBecomeTextsOrDoublesWithoutTheirFilesBeingRead() throws Exception {
        file("in/a.csv", HEADER + "a1,2026-01-01,-17\na2,2026-01-01,4\n");
        run();
        Files.delete(folder.resolve("in/a.csv"));
        for (String type : List.of("text", "double")) {
            file(
                    "datasets/samples.yaml",
                    Files.readString(folder.resolve("datasets/samples.yaml"))
                            .replaceFirst("name: value, +type: \\w+", "name: value, type: " + type));
            runner.prepare("north", Map.of());
            assertThat(values()).containsExactly(type.equals("text") ? "-17" : -17.0, type.equals("text") ? "4" : 4.0);
        }
    }

    @Test
    void whatNamesSayFillsColumns() throws Exception {
        file(
                "jobs/north.yaml",
                "job: north\ninto: samples\nfind: [{folder: in, depth: 1, settle: 0s, take: "
                        + "\"{lab}/{no}-{month:yyyy-MM}.csv\"}]\n"
                        + "read: {extra_columns: [x]}\nmap: {id: {fact: lab, clean: [upper]}, day: {fact: "
                        + "month}, value: {fact: no}}\n");
        file("in/north/7-2026-03.csv", "x\n1\n2\n");
        file("in/north/x-2026-03.csv", "x\n1\n3\n");
        RunResult result = run();
        assertThat(result.files())
                .extracting(FileResult::name, FileResult::outcome)
                .containsExactly(
                        tuple("north/7-2026-03.csv", Outcome.LOADED), tuple("north/x-2026-03.csv", Outcome.REJECTED));
        assertThat(result.files().get(1).reason().orElseThrow().sentence())
                .isEqualTo("says \"x\" for {no} in its name: \"x\" is not a number");
        List<PartFile> files = catalogue.parts("samples").stream()
                .map(part -> new PartFile(parts.span(part.name()), "", part.rows(), part.masked()))
                .toList();
        assertThat(new DatasetQuery(new Workspace(folder).dataset("samples"), files)
                        .rows(0, 10, List.of(), List.of())
                        .rows())
                .allSatisfy(row -> assertThat(row.toString()).contains("NORTH, 2026-03-01, 7"))
                .hasSize(2);
    }

    @Test
    void aCopyIsRejectedAndNamesTheFirst() throws Exception {
        String rows = HEADER + "a,2026-01-01,1\n";
        file("in/b.csv", rows);
        file("in/c.csv", rows);
        assertThat(run().files())
                .extracting(FileResult::name, FileResult::outcome, file -> file.reason()
                        .map(reason -> reason.sentence())
                        .orElse(""))
                .containsExactly(
                        tuple("b.csv", Outcome.LOADED, ""),
                        tuple("c.csv", Outcome.REJECTED, "has the same content as b.csv"));

        file("in/a.csv", rows);
        assertThat(run().files())
                .as("what is in the dataset goes first")
                .extracting(
                        FileResult::outcome,
                        file -> file.reason().map(reason -> reason.sentence()).orElse(""))
                .containsExactly(
                        tuple(Outcome.REJECTED, "has the same content as b.csv, which run 1 loaded"),
                        tuple(Outcome.UNCHANGED, ""),
                        tuple(Outcome.REJECTED, "has the same content as b.csv, which run 1 loaded"));

        Files.delete(folder.resolve("in/a.csv"));
        Files.delete(folder.resolve("in/b.csv"));
        assertThat(run().files())
                .as("a renamed file doubles nothing")
                .extracting(FileResult::outcome, FileResult::sinceRun)
                .containsExactly(tuple(Outcome.REJECTED, 1L));
        assertThat(rows()).hasSize(1);

        file("in/b.csv", HEADER + "b,2026-01-01,2\n");
        assertThat(run().files())
                .as("once the first has other content, it is not a copy any more")
                .extracting(FileResult::outcome)
                .containsExactly(Outcome.REPLACED, Outcome.LOADED);

        file(
                "jobs/north.yaml",
                "job: north\ninto: samples\nfind: [{folder: in, settle: 0s, copies: load, take: \"*.csv\"}]\n");
        file("in/d.csv", rows);
        assertThat(run().files())
                .extracting(FileResult::outcome)
                .containsExactly(Outcome.UNCHANGED, Outcome.UNCHANGED, Outcome.LOADED);
    }

    @Test
    void aGrowingFileWaitsAndIsLoadedWholeByALaterRun() throws Exception {
        file("jobs/north.yaml", "job: north\ninto: samples\nfind: [{folder: in, settle: 300ms, take: \"*.csv\"}]\n");
        file("in/a.csv.part", HEADER + "a,2026-01-01,1\n");
        file("in/grows.csv", HEADER);
        Thread writer = new Thread(() -> {
            try {
                for (int i = 0; i < 20; i++) {
                    Files.writeString(
                            folder.resolve("in/grows.csv"),
                            "g,2026-01-01," + i + "\n",
                            java.nio.file.StandardOpenOption.APPEND);
                    Thread.sleep(50);
                }
            } catch (IOException | InterruptedException wrong) {
                throw new IllegalStateException(wrong);
            }
        });
        writer.start();
        RunResult first = run();
        assertThat(first.files())
                .extracting(FileResult::name, FileResult::outcome)
                .containsExactly(tuple("a.csv.part", Outcome.WAITING), tuple("grows.csv", Outcome.WAITING));
        assertThat(first.files().get(0).reason().orElseThrow().sentence()).startsWith("has an unfinished name");
        assertThat(first.balance().holds()).isTrue();
        writer.join();
        Files.move(folder.resolve("in/a.csv.part"), folder.resolve("in/a.csv"));
        assertThat(run().files())
                .extracting(FileResult::name, FileResult::outcome, FileResult::loaded)
                .containsExactly(tuple("a.csv", Outcome.LOADED, 1L), tuple("grows.csv", Outcome.LOADED, 20L));
    }

    @Test
    void aFileThatIsReplacedBetweenFindingAndReadingWaits() throws Exception {
        file("in/a.csv", HEADER + "a,2026-01-01,1\n");
        PreparedJob prepared = runner.prepare("north", Map.of());
        file("in/other", HEADER + "b,2026-01-01,1\nb,2026-01-01,2\n");
        Files.move(
                folder.resolve("in/other"), folder.resolve("in/a.csv"), java.nio.file.StandardCopyOption.ATOMIC_MOVE);
        RunResult result = runner.run(prepared, ++runs, RunRequest.NOTHING, RunListener.NONE, () -> false);
        assertThat(result.files())
                .extracting(
                        FileResult::outcome, file -> file.reason().orElseThrow().sentence())
                .containsExactly(tuple(
                        Outcome.WAITING, "changed after the folder was listed; the next run takes it as it is then"));
        assertThat(run().files())
                .extracting(FileResult::outcome, FileResult::loaded)
                .containsExactly(tuple(Outcome.LOADED, 2L));
    }

    private byte[] packed(String format, String text) throws Exception {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (OutputStream out = new CompressorStreamFactory().createCompressorOutputStream(format, bytes)) {
            out.write(text.getBytes(StandardCharsets.UTF_8));
        }
        return bytes.toByteArray();
    }

    @Test
    void compressedFilesAreReadByWhatTheyAreAndDamagedOnesRejected() throws Exception {
        String text = HEADER + "a,2026-01-01,1\n".repeat(5000);
        Files.createDirectories(folder.resolve("in"));
        int number = 0;
        for (String format : List.of(
                CompressorStreamFactory.GZIP,
                CompressorStreamFactory.BZIP2,
                CompressorStreamFactory.XZ,
                CompressorStreamFactory.ZSTANDARD)) {
            byte[] bytes = packed(format, text + format + ",2026-01-01,1\n");
            Files.write(folder.resolve("in/" + number++ + ".csv"), bytes);
            Files.write(folder.resolve("in/" + number++ + ".csv"), java.util.Arrays.copyOf(bytes, bytes.length - 20));
        }
        Files.write(folder.resolve("in/8.csv"), new byte[] {0x1f, (byte) 0x8b, 8, 0});
        RunResult result = run();
        assertThat(result.files())
                .extracting(FileResult::outcome, FileResult::loaded)
                .containsExactly(
                        tuple(Outcome.LOADED, 5001L),
                        tuple(Outcome.REJECTED, 0L),
                        tuple(Outcome.LOADED, 5001L),
                        tuple(Outcome.REJECTED, 0L),
                        tuple(Outcome.LOADED, 5001L),
                        tuple(Outcome.REJECTED, 0L),
                        tuple(Outcome.LOADED, 5001L),
                        tuple(Outcome.REJECTED, 0L),
                        tuple(Outcome.REJECTED, 0L));
        assertThat(result.files())
                .filteredOn(file -> file.outcome() == Outcome.REJECTED)
                .allSatisfy(file -> {
                    assertThat(file.reason().orElseThrow().code().code()).isEqualTo("file-damaged");
                    assertThat(file.reason().orElseThrow().sentence())
                            .startsWith("is compressed with ")
                            .contains("cut off or damaged");
                });
        assertThat(run().files())
                .filteredOn(file -> file.outcome() == Outcome.UNCHANGED)
                .hasSize(4);
    }

    @Test
    void aFileThatUnpacksToFarTooMuchIsRefused() throws Exception {
        Files.createDirectories(folder.resolve("in"));
        try (OutputStream out = new CompressorStreamFactory()
                .createCompressorOutputStream(
                        CompressorStreamFactory.ZSTANDARD, Files.newOutputStream(folder.resolve("in/bomb.csv")))) {
            out.write(HEADER.getBytes(StandardCharsets.UTF_8));
            byte[] lines = "\n".repeat(1 << 20).getBytes(StandardCharsets.UTF_8);
            for (int i = 0; i < 1100; i++) {
                out.write(lines);
            }
        }
        assertThat(run().files()).singleElement().satisfies(file -> assertThat(
                        file.reason().orElseThrow().sentence())
                .contains("unpacks to more than 1000 times its size"));
    }
}
