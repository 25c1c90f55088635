package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.MemoryCatalogue;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.catalogue.Part;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Roots;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.DatasetQuery.Grouping;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.run.load.RunState;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is done with rows and files once they are read. */
class HandlingTest {

    private static final String HEADER = "id,day,value\n";
    private static final String DATASET =
            "dataset: samples\nkey: id\ncolumns:\n  - {name: id, type: text, required: true}\n"
                    + "  - {name: day, type: date}\n  - {name: value, type: integer}\n";

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
        file("datasets/samples.yaml", DATASET);
        Files.createDirectories(folder.resolve("in"));
        parts = new PartStore(folder.resolve("store"));
        rejects = new RejectStore(folder.resolve("store"));
        runner = runner(UnaryOperator.identity());
    }

    private Runner runner(UnaryOperator<RecordReader> watched) throws IOException {
        return new Runner(
                new Workspace(folder),
                Roots.of(List.of(folder)),
                parts,
                rejects,
                catalogue,
                workers,
                Clock.systemUTC(),
                watched);
    }

    @AfterEach
    void stop() throws IOException {
        workers.shutdownNow();
        try (Stream<Path> staged = Files.list(parts.staging())) {
            assertThat(staged).as("nothing is left in staging").isEmpty();
        }
        try (Stream<Path> stored = Files.exists(folder.resolve("store/parts/samples"))
                ? Files.list(folder.resolve("store/parts/samples"))
                : Stream.empty()) {
            assertThat(stored.map(path -> "samples/" + path.getFileName()))
                    .as("every part that counts is there")
                    .containsAll(PartStore.files(
                            catalogue.parts("samples").stream().map(Part::name).toList()));
        }
    }

    private void file(String name, String text) throws IOException {
        Files.createDirectories(folder.resolve(name).getParent());
        Files.writeString(folder.resolve(name), text);
    }

    /** A file last written so many minutes after the others. */
    private void file(String name, int minute, String rows) throws IOException {
        file("in/" + name, HEADER + rows);
        Files.setLastModifiedTime(
                folder.resolve("in/" + name),
                FileTime.from(Instant.parse("2026-03-01T00:00:00Z").plusSeconds(60L * minute)));
    }

    private void job(String rest) throws IOException {
        file(
                "jobs/north.yaml",
                "job: north\ninto: samples\nfind: [{folder: in, settle: 0s, take: \"{kind}-*.csv\"}]\n"
                        + "read: {extra_columns: [note]}\n"
                        + rest);
    }

    private RunResult run() throws Exception {
        RunResult result = runner.run(
                runner.prepare("north", Map.of()), ++runs, RunRequest.NOTHING, RunListener.NONE, () -> false);
        rejects.merge(runs, ordinal -> true);
        return checked(result);
    }

    private RunResult retry() throws Exception {
        Set<Long> open = new java.util.TreeSet<>();
        catalogue.ledger("north").stream()
                .filter(LedgerEntry::isOpen)
                .forEach(entry -> open.add(entry.arrival().id()));
        RunResult result = runner.retry(runner.prepare("north", Map.of()), ++runs, open, RunListener.NONE, () -> false);
        rejects.merge(runs, ordinal -> true);
        return checked(result);
    }

    private static RunResult checked(RunResult result) {
        assertThat(result.balance().holds()).as(result.toString()).isTrue();
        return result;
    }

    private RunResult finished() throws Exception {
        RunResult result = run();
        assertThat(result.state()).as(result.toString()).isEqualTo(RunState.FINISHED);
        return result;
    }

    /** Rows as {@code file:id=value}. */
    private List<String> rows() throws Exception {
        List<String> rows = new ArrayList<>();
        query().rows(0, 1000, List.of("_file", "_line"), List.of())
                .rows()
                .forEach(row ->
                        rows.add(row.get(0).toString().replace(".csv", "") + ":" + row.get(5) + "=" + row.get(7)));
        return rows;
    }

    private DatasetQuery query() throws Exception {
        return new DatasetQuery(
                new Workspace(folder).dataset("samples"),
                catalogue.parts("samples").stream()
                        .map(part -> new PartFile(parts.span(part.name()), "", part.rows(), part.masked()))
                        .toList());
    }

    private List<String> aside(long run) throws IOException {
        return rejects.readAside(run, left -> true, 0, 100).stream()
                .map(left -> left.file() + ":" + left.line() + " " + left.words() + " " + left.fields())
                .toList();
    }

    private List<String> reasons(long run) throws IOException {
        return rejects.read(run, reject -> true, 0, 100).stream()
                .map(reject -> reject.file() + ":" + reject.line() + " " + reject.code() + " " + reject.reason())
                .toList();
    }

    // leaving rows out

    @Test
    void rowsThatTheJobDoesNotKeepAreSetAsideWithTheRule() throws Exception {
        job("keep: [\"value == null || value < 10\", \"file.name.startsWith(fact.kind) && source['id'] != 'x'\"]\n");
        file("a-1.csv", 0, "a,,1\nb,,20\nx,,2\nc,,bad\nd,,\n");
        RunResult result = finished();
        assertThat(rows()).containsExactly("a-1:a=1", "a-1:d=null");
        assertThat(aside(1))
                .containsExactly(
                        "a-1.csv:3 keep: value == null || value < 10 [b, , 20]",
                        "a-1.csv:4 keep: file.name.startsWith(fact.kind) && source['id'] != 'x' [x, , 2]");
        assertThat(result.balance())
                .extracting(Balance::read, Balance::loaded, Balance::aside, Balance::rejected)
                .containsExactly(5L, 2L, 2L, 1L);
    }

    @Test
    void whatIsLeftOutOnPurposeNeedNotFit() throws Exception {
        file(
                "datasets/samples.yaml",
                DATASET.replace(
                        "{name: id, type: text, required: true}",
                        "{name: id, type: text, one_of: [a, b], required: true}"));
        job("map: {id: {clean: [lower]}}\nkeep: [\"id != 'colour'\", \"value == null || value < 10\"]\n");
        file("a-1.csv", 0, "a,,1\nCOLOUR,,blue\nc,,1\nb,,x\n,,50\n");
        assertThat(finished().balance())
                .extracting(Balance::read, Balance::loaded, Balance::aside, Balance::rejected)
                .containsExactly(5L, 1L, 2L, 2L);
        assertThat(aside(1))
                .extracting(line -> line.substring(0, line.indexOf(" [")))
                .containsExactlyInAnyOrder(
                        "a-1.csv:3 keep: id != 'colour'", "a-1.csv:6 keep: value == null || value < 10");
    }

    @Test
    void aConditionThatCannotBeToldRejectsTheRow() throws Exception {
        job("keep: \"value < 10\"\n");
        file("a-1.csv", 0, "a,,1\nb,,\n");
        finished();
        assertThat(rows()).containsExactly("a-1:a=1");
        assertThat(reasons(1))
                .singleElement()
                .asString()
                .startsWith("a-1.csv:3 rule-failed \"value < 10\" could not be evaluated");
    }

    // rows that are there already

    @Test
    void rowsThatAFileHasTwiceAreRejectedOrLeftOutOrCounted() throws Exception {
        file("a-1.csv", 0, "a,,1\nb,,2\na,,3\na,,4\n");
        job("duplicates: {by: key}\n");
        finished();
        assertThat(rows()).containsExactly("a-1:a=1", "a-1:b=2");
        assertThat(reasons(1))
                .containsExactly(
                        "a-1.csv:4 row-repeated has the same id as line 2",
                        "a-1.csv:5 row-repeated has the same id as line 2");
        job("duplicates: {by: key, then: keep_last}\n");
        assertThat(finished().balance())
                .extracting(Balance::read, Balance::loaded, Balance::repeated, Balance::rejected)
                .containsExactly(4L, 2L, 2L, 0L);
        assertThat(rows()).containsExactly("a-1:b=2", "a-1:a=4");
        assertThat(aside(2))
                .containsExactly(
                        "a-1.csv:2 repeated: the same id as line 4 [a, , 1]",
                        "a-1.csv:4 repeated: the same id as line 5 [a, , 3]");
        job("duplicates: {by: row, then: count}\n");
        file("a-1.csv", 1, "a,,1\na,,1\na,,2\n");
        assertThat(finished().files().get(0).notes())
                .containsExactly("1 row repeats values in all columns of an earlier one; all are loaded");
        assertThat(rows()).hasSize(3);
    }

    @Test
    void rowsOfOtherFilesAndOfTheDatasetAreCompared() throws Exception {
        job("duplicates: {by: key, within: dataset, then: keep_first}\n");
        file("a-1.csv", 0, "a,,1\nb,,2\n");
        file("a-2.csv", 1, "b,,3\nc,,4\n");
        finished();
        assertThat(rows()).containsExactly("a-1:a=1", "a-1:b=2", "a-2:c=4");
        assertThat(aside(1)).containsExactly("a-2.csv:2 repeated: the same id as line 3 of a-1.csv [b, , 3]");
        file("a-3.csv", 2, "c,,5\nd,,6\n");
        finished();
        assertThat(rows()).containsExactly("a-1:a=1", "a-1:b=2", "a-2:c=4", "a-3:d=6");
        job("duplicates: {by: key, within: dataset, then: keep_last}\n");
        file("a-4.csv", 3, "d,,7\na,,8\n");
        assertThat(finished().notes()).contains("2 rows of earlier runs gave way to newer ones, by id");
        assertThat(rows()).containsExactly("a-1:b=2", "a-2:c=4", "a-4:d=7", "a-4:a=8");
    }

    @Test
    void manyKeysAreSettledOnDisk() throws Exception {
        StringBuilder rows = new StringBuilder();
        for (int i = 0; i < 700_000; i++) {
            rows.append(i % 650_000).append(",,").append(i).append('\n');
        }
        file("a-1.csv", 0, rows.toString());
        job("duplicates: {by: id, within: run, then: keep_last}\n");
        assertThat(finished().balance())
                .extracting(Balance::loaded, Balance::repeated)
                .containsExactly(650_000L, 50_000L);
        assertThat(query().rows(0, 1, List.of("value"), List.of()).rows().get(0).get(7))
                .isEqualTo(50_000L);
    }

    // ways to load

    @Test
    void replacingLeavesExactlyTheFilesThatAreThere() throws Exception {
        job("load: replace\n");
        file("a-1.csv", 0, "a,,1\n");
        file("a-2.csv", 1, "b,,2\n");
        finished();
        Files.delete(folder.resolve("in/a-1.csv"));
        file("a-3.csv", 2, "c,,3\n");
        assertThat(finished().files())
                .extracting(FileResult::outcome)
                .containsExactly(Outcome.UNCHANGED, Outcome.LOADED);
        assertThat(rows()).containsExactly("a-2:b=2", "a-3:c=3");
        Files.delete(folder.resolve("in/a-2.csv"));
        Files.delete(folder.resolve("in/a-3.csv"));
        RunResult empty = run();
        assertThat(empty.state()).isEqualTo(RunState.STOPPED);
        assertThat(empty.failure().orElseThrow()).contains("No file is taken", "hapster remove samples --job north");
        assertThat(rows()).hasSize(2);
    }

    @Test
    void appendingKeepsWhatAChangedFileBroughtBefore() throws Exception {
        job("load: append\n");
        file("a-1.csv", 0, "a,,1\n");
        finished();
        file("a-1.csv", 1, "b,,2\n");
        finished();
        finished();
        assertThat(rows()).containsExactly("a-1:a=1", "a-1:b=2");
        runner.run(
                runner.prepare("north", Map.of()),
                ++runs,
                RunRequest.again(file -> true),
                RunListener.NONE,
                () -> false);
        assertThat(rows()).as("what is loaded again is not doubled").containsExactlyInAnyOrder("a-1:a=1", "a-1:b=2");
    }

    @Test
    void updatingByKeyTakesTheNewestRowAndLetsRowsSayThatTheyAreDeleted() throws Exception {
        job("load: update\ndeleted: \"value != null && value < 0\"\n");
        file("a-1.csv", 5, "a,,1\nb,,2\nc,,3\n");
        file("a-2.csv", 1, "a,,9\nd,,4\n"); // written earlier, so that it is older
        finished();
        assertThat(rows()).containsExactly("a-1:a=1", "a-1:b=2", "a-1:c=3", "a-2:d=4");
        file("a-3.csv", 6, "b,,20\nc,no day,-1\nd,,-1\nd,,40\ne,,-1\n");
        RunResult result = finished();
        assertThat(rows()).containsExactly("a-1:a=1", "a-3:b=20", "a-3:d=40");
        assertThat(result.balance())
                .extracting(Balance::read, Balance::loaded, Balance::aside)
                .containsExactly(5L, 2L, 3L);
        finished();
        assertThat(rows()).containsExactly("a-1:a=1", "a-3:b=20", "a-3:d=40");
    }

    @Test
    void aRunThatIsCommittedTogetherIsOrIsNot() throws Exception {
        job("commit: together\nrejects: {run_at: 2 files}\n");
        file("a-1.csv", 0, "a,,1\n");
        file("a-2.csv", 1, "");
        file("in/a-3.csv", "");
        file("in/a-2.csv", "wrong;header\n");
        RunResult result = run();
        assertThat(result.state()).isEqualTo(RunState.STOPPED);
        assertThat(result.failure().orElseThrow())
                .isEqualTo("2 of 3 files are rejected, and the job stops at 2 files. The dataset is as it was");
        assertThat(rows()).isEmpty();
        assertThat(catalogue.ledger("north")).isEmpty();
        Files.delete(folder.resolve("in/a-3.csv"));
        finished();
        assertThat(rows()).containsExactly("a-1:a=1");
    }

    // what is too much

    @Test
    void tooManyRejectedRowsMakeABadFile() throws Exception {
        job("rejects: {file_at: 50%}\n");
        file("a-1.csv", 0, "a,,1\nb,,x\n");
        file("a-2.csv", 1, "a,,1\nb,,2\nc,,x\n");
        RunResult result = finished();
        assertThat(result.files().get(0).reason().orElseThrow().code()).isEqualTo(ReasonCode.LIMIT_REACHED);
        assertThat(result.balance())
                .extracting(Balance::read, Balance::loaded, Balance::rejected)
                .containsExactly(5L, 2L, 3L);
        assertThat(reasons(1))
                .anyMatch(line -> line.startsWith("a-1.csv:3 number-unreadable"))
                .anyMatch(line -> line.startsWith("a-1.csv:0 limit-reached 1 of its 2 rows"));
        assertThat(rows()).containsExactly("a-2:a=1", "a-2:b=2");
    }

    @Test
    void unusualNumbersOfRowsArePointedOutOrRefused() throws Exception {
        job("");
        for (int i = 1; i <= 4; i++) {
            file("a-" + i + ".csv", i, "a,,1\n".repeat(i == 3 ? 3 : 40 + i));
        }
        assertThat(finished().notes())
                .containsExactly("a-3.csv brought 3 rows, where 3 files of its kind have about 42");
        job("rejects: {unusual: reject}\n");
        file("a-5.csv", 5, "a,,1\n".repeat(500));
        assertThat(finished().files())
                .filteredOn(file -> file.name().equals("a-5.csv"))
                .singleElement()
                .satisfies(file -> assertThat(file.reason().orElseThrow().sentence())
                        .isEqualTo("has 500 rows, where 4 files of its kind have about 42"));
    }

    @Test
    void aReaderThatLosesARowFailsTheRunAndTheFileIsNamed() throws Exception {
        job("");
        file("a-1.csv", 0, "a,,1\nb,,2\n");
        runner = runner(LosingReader::new);
        RunResult result = runner.run(
                runner.prepare("north", Map.of()), ++runs, RunRequest.NOTHING, RunListener.NONE, () -> false);
        assertThat(result.state()).isEqualTo(RunState.FAILED);
        assertThat(result.failure().orElseThrow())
                .startsWith("a-1.csv does not balance: 2 rows read, 1 loaded, 0 set aside, 0 repeated, 0 rejected. "
                        + "Nothing of it was kept");
        assertThat(catalogue.parts("samples")).isEmpty();
    }

    /** A reader with a fault: it says nothing of the last row of each batch. */
    private record LosingReader(RecordReader real) implements RecordReader {
        @Override
        public Header header() throws IOException, FileRejectedException {
            return real.header();
        }

        @Override
        public boolean next(RawBatch batch) throws IOException, FileRejectedException {
            boolean more = real.next(batch);
            batch.rows = Math.max(0, batch.rows - 1);
            return more;
        }

        @Override
        public long records() {
            return real.records();
        }

        @Override
        public List<String> notes() {
            return real.notes();
        }

        @Override
        public void close() throws IOException {
            real.close();
        }
    }

    // what becomes of files

    private List<String> tree(String of) throws IOException {
        try (Stream<Path> files = Files.walk(folder.resolve(of))) {
            return files.filter(Files::isRegularFile)
                    .map(path -> folder.relativize(path).toString())
                    .sorted()
                    .toList();
        }
    }

    @Test
    void filesGoWhereTheJobSaysAndNothingIsOverwritten() throws Exception {
        job("after:\n  loaded: {move: \"done/{run}/{kind}\"}\n"
                + "  rejected: {move: bad, as: \"{stem}-{outcome}{ending}\"}\n");
        file("a-1.csv", 0, "a,,1\nb,,x\n");
        file("b-1.csv", 1, "");
        file("in/b-1.csv", "");
        file("done/1/a/a-1.csv", "somebody else's");
        finished();
        assertThat(tree("in")).isEmpty();
        assertThat(tree("done")).containsExactly("done/1/a/a-1-2.csv", "done/1/a/a-1.csv");
        assertThat(tree("bad")).containsExactly("bad/b-1-rejected.csv", "bad/b-1-rejected.csv.reasons.csv");
        assertThat(Files.readString(folder.resolve("bad/b-1-rejected.csv.reasons.csv")))
                .startsWith("file,line,column,value,code,reason,original\r\nb-1.csv,,,,file-empty,");
        assertThat(Files.readString(folder.resolve("done/1/a/a-1.csv"))).isEqualTo("somebody else's");
        assertThat(catalogue.pending).isEmpty();
        assertThat(finished().files()).isEmpty();
        assertThat(rows()).containsExactly("a-1:a=1");

        file("a-1.csv", 0, "a,,1\nb,,x\n"); // delivered once more
        assertThat(finished().files()).extracting(FileResult::outcome).containsExactly(Outcome.UNCHANGED);
        assertThat(tree("in")).isEmpty();
        assertThat(rows()).containsExactly("a-1:a=1");
    }

    @Test
    void loadedFilesAreDeletedAndThoseThatAreNotCompleteCopiedWhereTheJobSaysSo() throws Exception {
        job("after: {loaded: {delete: even with rejects}, waiting: {copy: early}}\n");
        file("a-1.csv", 0, "a,,1\nb,,x\n");
        file("a-2.csv.part", 0, "c,,1\n");
        assertThat(finished().files()).extracting(FileResult::outcome).containsExactly(Outcome.LOADED, Outcome.WAITING);
        assertThat(tree("in")).containsExactly("in/a-2.csv.part");
        assertThat(tree("early")).containsExactly("early/a-2.csv.part");
        finished();
        assertThat(tree("early")).as("once, as long as it is the same").hasSize(1);
        assertThat(rows()).containsExactly("a-1:a=1");
    }

    @Test
    void reasonsStandBesideAFileThatIsLeftAndGoOnceItIsLoaded() throws Exception {
        job("after: {loaded: {copy: kept}, rejected: leave}\n");
        file("a-1.csv", 0, "");
        file("in/a-1.csv", "");
        finished();
        assertThat(tree("in")).containsExactly("in/a-1.csv", "in/a-1.csv.reasons.csv");
        assertThat(finished().files()).as("reasons are no arriving file").hasSize(1);
        file("a-1.csv", 2, "a,,1\n");
        finished();
        finished();
        assertThat(tree("in")).containsExactly("in/a-1.csv");
        assertThat(tree("kept")).containsExactly("kept/a-1.csv");
    }

    @Test
    void targetsMustLieWithinTheRootsAndOutsideOfWhatIsSearched() throws Exception {
        job("after: {loaded: {move: /somewhere}, rejected: {move: \"in\"}}\n");
        DefinitionException wrong =
                catchThrowableOfType(DefinitionException.class, () -> runner.prepare("north", Map.of()));
        assertThat(wrong.getMessage())
                .contains("outside the folders that the service may use", "where the job would find them again");
    }

    // trying again

    @Test
    void onlyWhatWasRejectedIsTriedAgainAndOnlyOnce() throws Exception {
        job("after: {rejected: {move: bad}, loaded: {move: done}}\n");
        file("a-1.csv", 0, "a,,1\nb,,<5\nc,,<6\nd,,y\n");
        file("b-1.csv", 1, "");
        file("in/b-1.csv", "id;day;value\n");
        finished();
        assertThat(rows()).containsExactly("a-1:a=1");
        job("map: {value: {clean: [{remove: \"<\"}]}}\nafter: {rejected: {move: bad}, loaded: {move: done}}\n");
        file("bad/b-1.csv", HEADER + "z,,7\n"); // mended where it lies
        RunResult result = retry();
        assertThat(result.files())
                .extracting(
                        FileResult::name,
                        FileResult::outcome,
                        FileResult::read,
                        FileResult::loaded,
                        FileResult::rejected)
                .containsExactlyInAnyOrder(
                        org.assertj.core.api.Assertions.tuple("a-1.csv", Outcome.LOADED, 3L, 2L, 1L),
                        org.assertj.core.api.Assertions.tuple("b-1.csv", Outcome.LOADED, 1L, 1L, 0L));
        assertThat(rows()).containsExactly("a-1:a=1", "a-1:b=5", "a-1:c=6", "b-1:z=7");
        assertThat(reasons(2)).singleElement().asString().startsWith("a-1.csv:5 number-unreadable");
        assertThat(tree("bad")).isEmpty();
        assertThat(tree("done")).containsExactly("done/a-1.csv", "done/b-1.csv");
        assertThat(retry().files()).singleElement().satisfies(file -> assertThat(file.loaded())
                .isZero());
        assertThat(rows()).hasSize(4);
    }

    // growing datasets

    @Test
    void aDatasetGrows() throws Exception {
        job("");
        file("a-1.csv", 0, "a,2026-03-01,1\n");
        finished();
        file(
                "datasets/samples.yaml",
                "dataset: samples\ncolumns:\n  - {name: code, was: id, type: text, required: true}\n"
                        + "  - {name: day, type: timestamp}\n"
                        + "  - {name: value, type: \"decimal(25,2)\"}\n"
                        + "  - {name: lab, type: text, default: North}\n  - {name: checked, type: boolean}\n");
        file("a-2.csv", 1, "b,2026-03-02 10:00:00,2.5\n");
        finished();
        assertThat(query().rows(0, 10, List.of("_file"), List.of()).rows().stream()
                        .map(row -> row.subList(5, 10).toString())
                        .toList())
                .containsExactly(
                        "[a, 2026-03-01T00:00, 1.00, North, null]", "[b, 2026-03-02T10:00, 2.50, North, null]");
        assertThat(query().counts(new Grouping(List.of("lab"), List.of(), List.of("value > 1"), List.of(), 0))
                        .groups())
                .hasSize(1);

        file("datasets/samples.yaml", "dataset: samples\ncolumns:\n  - {name: code, was: id, type: integer}\n");
        job("read: {extra_columns: ignore}\n".replace("read:", "#")); // the first read section stays
        DefinitionException wrong =
                catchThrowableOfType(DefinitionException.class, () -> runner.prepare("north", Map.of()));
        assertThat(wrong.getMessage())
                .contains(
                        "'code' is declared as integer, but rows are stored with it as text",
                        "hapster run north --again --all");
        assertThat(catchThrowableOfType(Exception.class, this::rows))
                .isInstanceOfAny(IOException.class, QueryException.class)
                .hasMessageContaining("hapster run JOB --again --all");
        assertThat(runner.prepare("north", Map.of(), true).dataset().columns()).hasSize(1);
    }
}
