package dev.hapster.core.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Whatever becomes of a part on disk is noticed when it is read, and when the store is verified. */
class SealedPartTest {

    private static final int TRIALS = Integer.getInteger("hapster.flips", 150);
    private static final List<Field> FIELDS =
            List.of(new Field("n", ColumnType.of(Kind.INTEGER)), new Field("m", ColumnType.of(Kind.INTEGER)));

    @TempDir
    private Path folder;

    private PartStore store;

    @BeforeEach
    void open() throws IOException {
        store = new PartStore(folder);
    }

    private String part(String name, int rows, long seed) throws Exception {
        Path desk = Files.createDirectories(store.desk("desk"));
        Path staged = PartStore.stage(desk, name);
        store.seal(staged, write(staged, rows, seed, Map.of("about", "a test")));
        return store.publish(staged, "flips");
    }

    private static String write(Path target, int rows, long seed, Map<String, String> notes) throws Exception {
        try (PartWriter writer = PartWriter.plain(
                target,
                TestJobs.dataset("{name: n, type: integer}", "{name: m, type: integer}")
                        .columns())) {
            Random random = new Random(seed);
            Vector.Longs n = new Vector.Longs(rows);
            Vector.Longs m = new Vector.Longs(rows);
            n.reset(rows);
            m.reset(rows);
            for (int i = 0; i < rows; i++) {
                n.values[i] = random.nextLong();
                m.values[i] = i;
            }
            TypedBatch batch = new TypedBatch(List.of(n, m));
            batch.good = IntStream.range(0, rows).toArray();
            batch.goodRows = rows;
            writer.write(batch);
            return writer.finish(notes);
        }
    }

    private long sum(String part) throws Exception {
        return sum(store.path(part));
    }

    private static long sum(Path file) throws Exception {
        long sum = 0;
        try (PartReader reader = new PartReader(file, FIELDS)) {
            for (int rows = reader.next(); rows > 0; rows = reader.next()) {
                for (int row = 0; row < rows; row++) {
                    sum += ((Vector.Longs) reader.vector(0)).values[row]
                            + ((Vector.Longs) reader.vector(1)).values[row];
                }
            }
        }
        return sum;
    }

    @Test
    void everyFlippedBitIsNoticed() throws Exception {
        String part = part("1-1-a", 40_000, 1);
        byte[] whole = Files.readAllBytes(store.path(part));
        long sum = sum(part);
        assertThat(store.check(part)).isEqualTo(40_000);
        Random random = new Random(7);
        for (int trial = 0; trial < TRIALS; trial++) {
            byte[] flipped = whole.clone();
            int at = trial % 3 == 0 ? whole.length - 1 - random.nextInt(2_000) : random.nextInt(whole.length);
            flipped[at] ^= (byte) (1 << random.nextInt(8));
            Files.write(store.path(part), flipped);
            assertThatThrownBy(() -> sum(part)).as("byte " + at).isInstanceOf(DamagedPartException.class);
            assertThatThrownBy(() -> store.check(part)).as("byte " + at).isInstanceOf(DamagedPartException.class);
        }
        Files.write(store.path(part), whole);
        assertThat(sum(part)).isEqualTo(sum);
    }

    @Test
    void everyFlippedBitOfWhatIsToGoIsNoticed() throws Exception {
        Path staged = PartStore.stage(Files.createDirectories(store.desk("desk")), "1-1-a");
        String deleted = write(PartStore.deletions(staged), 50, 2, Map.of());
        store.seal(staged, write(staged, 10, 1, Map.of(PartStore.DELETED, deleted)));
        String part = store.publish(staged, "flips");
        Path file = store.deletions(part);
        byte[] whole = Files.readAllBytes(file);
        assertThat(sum(file)).isNotZero();
        Random random = new Random(7);
        for (int trial = 0; trial < TRIALS; trial++) {
            byte[] flipped = whole.clone();
            flipped[random.nextInt(whole.length)] ^= (byte) (1 << random.nextInt(8));
            Files.write(file, flipped);
            assertThatThrownBy(() -> sum(file)).isInstanceOf(DamagedPartException.class);
            assertThatThrownBy(() -> store.check(part)).isInstanceOf(DamagedPartException.class);
        }
        Files.delete(file);
        assertThatThrownBy(() -> store.check(part)).hasMessageContaining("is missing");
    }

    @Test
    void aKeptFooterHidesNoDamageOfRows() throws Exception {
        String part = part("1-1-a", 40_000, 1);
        Path file = store.path(part);
        byte[] whole = Files.readAllBytes(file);
        FileTime changed = Files.getLastModifiedTime(file);
        long sum = sum(part);
        int noticed = 0;
        Random random = new Random(7);
        for (int trial = 0; trial < TRIALS; trial++) {
            byte[] flipped = whole.clone();
            int at = trial % 3 == 0 ? whole.length - 1 - random.nextInt(2_000) : random.nextInt(whole.length);
            flipped[at] ^= (byte) (1 << random.nextInt(8));
            Files.write(file, flipped);
            Files.setLastModifiedTime(file, changed);
            try {
                assertThat(sum(part)).as("byte " + at).isEqualTo(sum); // the footer that is kept is the right one
            } catch (DamagedPartException told) {
                noticed++;
            }
            assertThatThrownBy(() -> store.check(part)).as("byte " + at).isInstanceOf(DamagedPartException.class);
        }
        assertThat(noticed).isBetween(TRIALS / 3, TRIALS - 1);
        Files.delete(file);
        assertThatThrownBy(() -> sum(part)).hasMessageContaining("is missing in the store");
    }

    @Test
    void anotherPartInItsPlaceIsNoticed() throws Exception {
        String one = part("1-1-a", 100, 1);
        String other = part("1-2-b", 100, 2);
        Files.write(store.path(one), Files.readAllBytes(store.path(other)));
        assertThatThrownBy(() -> sum(one))
                .isInstanceOf(DamagedPartException.class)
                .hasMessageContaining("is not the file that was written under this name");
        Files.delete(store.path(one));
        assertThatThrownBy(() -> sum(one)).hasMessageContaining("is missing in the store");
    }

    @Test
    void partsOfEarlierVersionsHaveNoSealAndAreRead() throws Exception {
        String part = part("1-1-a", 100, 1);
        Path old = store.path("flips/1-1-a.parquet");
        Files.move(store.path(part), old);
        assertThat(sum("flips/1-1-a.parquet")).isNotZero();
        assertThat(store.check("flips/1-1-a.parquet")).isEqualTo(100);
    }
}
