package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.catalogue.MemoryCatalogue;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.find.Roots;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.run.load.RunState;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.stream.Stream;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/**
 * Whatever arrives, changes, breaks or goes: after each run the balance holds, and the dataset holds of each file the
 * good rows of the last content that could be read, no more and no less.
 */
class BalanceTest {

    /** A line of a file: whether it fits the columns, and its text. */
    record Line(boolean good, String text) {}

    /** What happens to a file between two runs. */
    record Change(int file, Kind kind, List<Line> lines) {
        enum Kind {
            WRITE,
            BREAK,
            EMPTY,
            DELETE,
            TOUCH
        }
    }

    @Property(tries = 25)
    void theDatasetIsTheGoodRowsOfEveryFileAndEachRunBalances(@ForAll("histories") List<List<Change>> history)
            throws Exception {
        Path folder = Files.createTempDirectory("hapster-balance");
        ExecutorService workers = Executors.newFixedThreadPool(2);
        try {
            write(
                    folder,
                    "datasets/samples.yaml",
                    "dataset: samples\ncolumns:\n  - {name: id, type: text, required: true}\n"
                            + "  - {name: value, type: integer, min: 0}\n");
            write(
                    folder,
                    "jobs/north.yaml",
                    "job: north\ninto: samples\nfind: [{folder: in, settle: 0s, copies: load, take: \"*.csv\"}]\n");
            Files.createDirectories(folder.resolve("in"));
            MemoryCatalogue catalogue = new MemoryCatalogue();
            PartStore parts = new PartStore(folder.resolve("store"));
            Runner runner = new Runner(
                    new Workspace(folder),
                    Roots.of(List.of(folder)),
                    parts,
                    new RejectStore(folder.resolve("store")),
                    catalogue,
                    workers,
                    Clock.systemUTC());
            Map<String, List<String>> model = new TreeMap<>();
            long run = 0;
            for (List<Change> changes : history) {
                Map<String, List<String>> arrived = new HashMap<>();
                for (Change change : changes) {
                    apply(folder, change, arrived);
                }
                model.putAll(arrived);
                RunResult result = runner.run(
                        runner.prepare("north", java.util.Map.of()),
                        ++run,
                        RunRequest.NOTHING,
                        RunListener.NONE,
                        () -> false);
                assertThat(result.state()).as(result.toString()).isEqualTo(RunState.FINISHED);
                assertThat(result.balance().holds()).isTrue();
                assertThat(rows(folder, catalogue, parts)).isEqualTo(expected(model));
                RunResult again = runner.run(
                        runner.prepare("north", java.util.Map.of()),
                        ++run,
                        RunRequest.NOTHING,
                        RunListener.NONE,
                        () -> false);
                assertThat(again.balance().loaded())
                        .as("nothing is loaded twice")
                        .isZero();
                assertThat(rows(folder, catalogue, parts)).isEqualTo(expected(model));
            }
        } finally {
            workers.shutdownNow();
            try (Stream<Path> tree = Files.walk(folder)) {
                tree.sorted(Comparator.reverseOrder())
                        .forEach(path -> path.toFile().delete());
            }
        }
    }

    private static void apply(Path folder, Change change, Map<String, List<String>> arrived) throws IOException {
        String name = "f" + change.file + ".csv";
        Path file = folder.resolve("in").resolve(name);
        switch (change.kind) {
            case WRITE -> {
                StringBuilder text = new StringBuilder("id,value\n");
                change.lines.forEach(line -> text.append(line.text).append('\n'));
                Files.writeString(file, text);
                arrived.put(
                        name,
                        change.lines.stream().filter(Line::good).map(Line::text).toList());
            }
            case BREAK, EMPTY -> {
                Files.writeString(file, change.kind == Change.Kind.EMPTY ? "" : "id;value\na;1\n");
                arrived.remove(name); // nobody reads what stood there a moment ago
            }
            case DELETE -> {
                Files.deleteIfExists(file);
                arrived.remove(name);
            }
            default -> {
                if (Files.exists(file)) {
                    Files.setLastModifiedTime(
                            file, java.nio.file.attribute.FileTime.fromMillis(System.currentTimeMillis() - 1_000_000));
                }
            }
        }
    }

    private static List<String> expected(Map<String, List<String>> model) {
        List<String> rows = new ArrayList<>();
        model.forEach((file, lines) -> lines.forEach(line -> rows.add(file + ":" + line)));
        rows.sort(null);
        return rows;
    }

    private static List<String> rows(Path folder, MemoryCatalogue catalogue, PartStore parts) throws Exception {
        List<PartFile> files = catalogue.parts("samples").stream()
                .map(part -> new PartFile(parts.span(part.name()), "", part.rows(), part.masked()))
                .toList();
        List<String> rows = new ArrayList<>();
        new DatasetQuery(new Workspace(folder).dataset("samples"), files)
                .rows(0, 100_000, List.of(), List.of())
                .rows()
                .forEach(row -> rows.add(row.get(0) + ":" + row.get(5) + "," + (row.get(6) == null ? "" : row.get(6))));
        rows.sort(null);
        return rows;
    }

    private static void write(Path folder, String name, String text) throws IOException {
        Files.createDirectories(folder.resolve(name).getParent());
        Files.writeString(folder.resolve(name), text);
    }

    @Provide
    Arbitrary<List<List<Change>>> histories() {
        Arbitrary<Line> line = Arbitraries.frequencyOf(
                net.jqwik.api.Tuple.of(
                        8,
                        Combinators.combine(
                                        Arbitraries.strings()
                                                .alpha()
                                                .ofMinLength(1)
                                                .ofMaxLength(8),
                                        Arbitraries.longs().between(0, 1_000_000_000_000L))
                                .as((id, value) -> new Line(true, id + "," + value))),
                net.jqwik.api.Tuple.of(
                        1,
                        Arbitraries.of(
                                new Line(true, "a,"),
                                new Line(false, ",1"),
                                new Line(false, "a,-1"),
                                new Line(false, "a,x"),
                                new Line(false, "a"),
                                new Line(false, "a,1,2"),
                                new Line(false, "\"a\"b,1"))));
        Arbitrary<Change> change = Combinators.combine(
                        Arbitraries.integers().between(1, 4),
                        Arbitraries.frequency(
                                net.jqwik.api.Tuple.of(6, Change.Kind.WRITE),
                                net.jqwik.api.Tuple.of(1, Change.Kind.BREAK),
                                net.jqwik.api.Tuple.of(1, Change.Kind.EMPTY),
                                net.jqwik.api.Tuple.of(1, Change.Kind.DELETE),
                                net.jqwik.api.Tuple.of(1, Change.Kind.TOUCH)),
                        line.list().ofMaxSize(30))
                .as(Change::new);
        return change.list().ofMinSize(1).ofMaxSize(4).list().ofMinSize(1).ofMaxSize(4);
    }

    @Property(tries = 200)
    void aCountThatIsOffDoesNotHold(
            @ForAll("counts") Map<Outcome, Long> files, @ForAll("small") long read, @ForAll("small") long loaded) {
        long found = files.values().stream().mapToLong(Long::longValue).sum();
        Balance balance = new Balance(found, files, 0, read, loaded, 0, 0, Math.max(0, read - loaded), 5, 5, 1);
        assertThat(balance.filesHold()).isTrue();
        assertThat(balance.rowsHold()).isEqualTo(loaded <= read);
        assertThat(new Balance(found + 1, files, 0, read, read, 0, 0, 0, 5, 5, 1).holds())
                .isFalse();
        assertThat(new Balance(found, files, 0, read, read, 0, 0, 0, 5, 6, 1).holds())
                .isFalse();
    }

    @Provide
    Arbitrary<Map<Outcome, Long>> counts() {
        return Arbitraries.maps(
                        Arbitraries.of(Outcome.class), Arbitraries.longs().between(0, 50))
                .ofMaxSize(5)
                .map(HashMap::new);
    }

    @Provide
    Arbitrary<Long> small() {
        return Arbitraries.longs().between(0, 20);
    }
}
