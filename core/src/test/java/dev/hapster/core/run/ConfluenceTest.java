package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.MemoryCatalogue;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.find.Roots;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.run.Reference.Mode;
import dev.hapster.core.run.act.ActNotPossibleException;
import dev.hapster.core.run.act.Effect;
import dev.hapster.core.run.decide.Asked;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.run.load.RunState;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.RejectStore;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/**
 * Whatever is done in whatever order, a dataset holds what the {@link Reference} says of the log: files come, change,
 * are renamed, copied, delivered again and broken; rules are mended and spoilt; runs are repeated, retried, undone,
 * their undoing undone; rows are removed, old ones swept, the workspace is moved, commits fail. So many sequences of
 * each mode: {@code -Dhapster.sequences=1000}.
 */
class ConfluenceTest {

    private static final int SEQUENCES = Integer.getInteger("hapster.sequences", 50);
    private static final int STEPS = 14;
    private static final Path MEMORY = Path.of("/dev/shm");

    @ParameterizedTest
    @EnumSource(Mode.class)
    void anySequenceOfActsEndsAsTheLogSays(Mode mode) {
        IntStream.range(0, SEQUENCES).parallel().forEach(number -> {
            try (Memory world = new Memory()) {
                new Story(world, mode, 1000L * mode.ordinal() + number * 7919L).play(STEPS);
            } catch (Exception wrong) {
                throw new AssertionError(mode + " " + number, wrong);
            }
        });
    }

    /** The core, with a catalogue in memory. */
    private static final class Memory implements Story.World, AutoCloseable {
        private final ExecutorService workers = Executors.newFixedThreadPool(1);
        private final MemoryCatalogue catalogue = new MemoryCatalogue(this::number);
        private final Path home;
        private Path folder;
        private int moved;
        private PartStore parts;
        private RejectStore rejects;
        private Runner runner;
        private long entries;

        Memory() throws IOException {
            home = Files.isWritable(MEMORY)
                    ? Files.createTempDirectory(MEMORY, "hapster-")
                    : Files.createTempDirectory("hapster-");
            folder = Files.createDirectories(home.resolve("w0"));
            open();
        }

        private long number() {
            return ++entries;
        }

        private void open() throws IOException {
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

        @Override
        public Path workspace() {
            return folder;
        }

        @Override
        public String inbox() {
            return "in";
        }

        @Override
        public String name() {
            return "north";
        }

        @Override
        public long run(Set<String> again) throws Exception {
            long entry = ++entries;
            return ended(
                    entry,
                    runner.run(
                            runner.prepare("north", Map.of()),
                            entry,
                            Asked.again(file -> again.contains("*") || again.contains(file.name())),
                            RunListener.NONE,
                            () -> false));
        }

        @Override
        public long retry(long of) throws Exception {
            Set<Long> open = new TreeSet<>();
            catalogue.ledger("north").stream()
                    .filter(LedgerEntry::isOpen)
                    .forEach(one -> open.add(one.arrival().id()));
            long entry = ++entries;
            return ended(
                    entry, runner.retry(runner.prepare("north", Map.of()), entry, open, RunListener.NONE, () -> false));
        }

        private long ended(long entry, RunResult result) throws IOException {
            rejects.merge(entry, ordinal -> true);
            assertThat(result.state()).as(result.toString()).isIn(RunState.FINISHED, RunState.STOPPED);
            assertThat(result.balance().holds()).as(result.toString()).isTrue();
            return entry;
        }

        @Override
        public boolean retriesAll() {
            return true;
        }

        private DatasetDef dataset() throws Exception {
            return new Workspace(folder).dataset("north");
        }

        @Override
        public long[] effect(long of) throws Exception {
            Effect effect = runner.undoEffect(dataset(), of);
            return new long[] {effect.obstacles().isEmpty() ? 1 : 0, effect.back() - effect.out()};
        }

        @Override
        public long undo(long of) throws Exception {
            return runner.undo(dataset(), of, "north");
        }

        @Override
        public long remove(String file) throws Exception {
            try {
                return runner.remove(dataset(), one -> one.name().equals(file), file);
            } catch (ActNotPossibleException refused) {
                return -1;
            }
        }

        @Override
        public boolean sweep() throws IOException {
            for (String part : catalogue.sweep(entries)) {
                parts.drop(part);
            }
            return true;
        }

        @Override
        public long last() {
            return entries;
        }

        @Override
        public boolean move() throws IOException {
            Path old = folder;
            folder = home.resolve("w" + ++moved);
            Files.move(old, folder);
            catalogue.moved(old, folder);
            open();
            return true;
        }

        @Override
        public boolean fail() throws Exception {
            long entry = ++entries;
            catalogue.broken = true;
            try {
                RunResult result = runner.run(
                        runner.prepare("north", Map.of()), entry, Asked.NOTHING, RunListener.NONE, () -> false);
                assertThat(result.state()).isIn(RunState.FAILED, RunState.FINISHED, RunState.STOPPED);
            } finally {
                catalogue.broken = false;
            }
            rejects.merge(entry, ordinal -> false);
            return true;
        }

        @Override
        public List<String> rows() throws Exception {
            List<String> rows = new ArrayList<>();
            new DatasetQuery(
                            dataset(),
                            catalogue.parts("north").stream()
                                    .map(part -> new DatasetQuery.PartFile(
                                            parts.path(part.name()), part.rows(), part.masked()))
                                    .toList())
                    .rows(0, 1000, List.of(), List.of())
                    .rows()
                    .forEach(row -> rows.add(row.get(0) + ":" + row.get(1) + " " + row.get(5) + "=" + row.get(6)));
            rows.sort(null);
            return rows;
        }

        @Override
        public Map<String, Path> taken() {
            Map<String, Path> taken = new TreeMap<>();
            catalogue.history("north", java.util.Optional.empty()).entries().stream()
                    .filter(one -> one.fate().isTaken())
                    .forEach(one -> taken.put(
                            one.name() + one.arrival().generation() + "@"
                                    + one.arrival().entry(),
                            one.fate().to().orElseThrow()));
            return taken;
        }

        @Override
        public void check() throws Exception {
            assertThat(catalogue.pending).isEmpty();
            try (Stream<Path> staged = Files.list(parts.staging())) {
                assertThat(staged).as("nothing is left in staging").isEmpty();
            }
            assertThat(runner.resettle(dataset(), false))
                    .as("what is kept is what the log says")
                    .isEmpty();
        }

        @Override
        public void close() throws IOException {
            workers.shutdownNow();
            try (Stream<Path> tree = Files.walk(home)) {
                tree.sorted(Comparator.reverseOrder())
                        .forEach(path -> path.toFile().delete());
            }
        }
    }
}
