package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.run.Reference.Mode;
import dev.hapster.core.run.act.ActNotPossibleException;
import dev.hapster.core.run.act.Effect;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.run.load.RunState;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
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
        private final Path home;
        private final CoreWorkspace work;
        private int moved;

        Memory() throws IOException {
            home = Files.isWritable(MEMORY)
                    ? Files.createTempDirectory(MEMORY, "hapster-")
                    : Files.createTempDirectory("hapster-");
            work = new CoreWorkspace(home.resolve("w0"));
        }

        @Override
        public Path workspace() {
            return work.folder;
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
            return ended(work.run(RunRequest.again(file -> again.contains("*") || again.contains(file.name()))));
        }

        @Override
        public long retry(long of) throws Exception {
            return ended(work.retry());
        }

        private long ended(RunResult result) {
            assertThat(result.state()).as(result.toString()).isIn(RunState.FINISHED, RunState.STOPPED);
            assertThat(result.balance().holds()).as(result.toString()).isTrue();
            return work.last();
        }

        @Override
        public boolean retriesAll() {
            return true;
        }

        @Override
        public long[] effect(long of) throws Exception {
            Effect effect = work.runner.undoEffect(work.dataset(), of);
            return new long[] {effect.obstacles().isEmpty() ? 1 : 0, effect.back() - effect.out()};
        }

        @Override
        public long undo(long of) throws Exception {
            return work.undo(of);
        }

        @Override
        public long remove(String file) throws Exception {
            try {
                return work.remove(file);
            } catch (ActNotPossibleException impossible) {
                return -1;
            }
        }

        @Override
        public boolean sweep() throws IOException {
            work.sweep();
            return true;
        }

        @Override
        public void merge() throws IOException {
            work.runner.mergeFiles("north", 2);
        }

        @Override
        public long last() {
            return work.last();
        }

        @Override
        public boolean move() throws IOException {
            work.move(home.resolve("w" + ++moved));
            return true;
        }

        @Override
        public boolean fail() throws Exception {
            long entry = work.number();
            work.catalogue.broken = true;
            try {
                RunResult result = work.runner.run(
                        work.runner.prepare("north", Map.of()),
                        entry,
                        RunRequest.NOTHING,
                        RunListener.NONE,
                        () -> false);
                assertThat(result.state()).isIn(RunState.FAILED, RunState.FINISHED, RunState.STOPPED);
            } finally {
                work.catalogue.broken = false;
            }
            work.rejects.merge(entry, ordinal -> false);
            return true;
        }

        @Override
        public List<String> rows() throws Exception {
            return work.rows();
        }

        @Override
        public Map<String, Path> taken() {
            Map<String, Path> taken = new TreeMap<>();
            work.catalogue.history("north", java.util.Optional.empty()).entries().stream()
                    .filter(one -> one.fate().isTaken())
                    .forEach(one -> taken.put(
                            one.name() + one.arrival().generation() + "@"
                                    + one.arrival().entry(),
                            one.fate().to().orElseThrow()));
            return taken;
        }

        @Override
        public void check() throws Exception {
            assertThat(work.catalogue.pending).isEmpty();
            try (Stream<Path> staged = Files.list(work.parts.staging())) {
                assertThat(staged).as("nothing is left in staging").isEmpty();
            }
            assertThat(work.runner.resettle(work.dataset(), false))
                    .as("what is kept is what the log says")
                    .isEmpty();
        }

        @Override
        public void close() throws IOException {
            work.close();
            try (Stream<Path> tree = Files.walk(home)) {
                tree.sorted(Comparator.reverseOrder())
                        .forEach(path -> path.toFile().delete());
            }
        }
    }
}
