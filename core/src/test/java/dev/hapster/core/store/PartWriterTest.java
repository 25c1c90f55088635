package dev.hapster.core.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.jerolba.carpet.CarpetReader;
import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.row.Vector;
import java.math.BigDecimal;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.function.BiFunction;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Parts are read back with a library that did not write them, and that knows nothing of Hapster. */
class PartWriterTest {

    /** A row as the other library sees it: the names are the Parquet file's own. */
    record Row(
            String id,
            String kind,
            Long count,
            BigDecimal value,
            BigDecimal wide,
            Double ratio,
            Boolean ok,
            LocalDate day,
            LocalTime hour,
            LocalDateTime moment,
            String _file,
            String _path,
            long _line,
            long _run,
            Instant _loaded_at) {}

    @TempDir
    private Path folder;

    @Test
    void everyTypeIsReadBackEqualByAnotherLibrary() throws Exception {
        DatasetDef dataset = TestJobs.dataset(
                "{name: id, type: text}",
                "{name: kind, type: text}",
                "{name: count, type: integer}",
                "{name: value, type: \"decimal(12,4)\"}",
                "{name: wide, type: \"decimal(30,3)\"}",
                "{name: ratio, type: double}",
                "{name: ok, type: boolean}",
                "{name: day, type: date}",
                "{name: hour, type: time}",
                "{name: moment, type: timestamp}");
        Instant loaded = Instant.parse("2026-03-01T06:00:00.123456Z");
        Random random = new Random(7);
        StringBuilder text = new StringBuilder("id,kind,count,value,wide,ratio,ok,day,hour,moment\n");
        List<Row> expected = new ArrayList<>();
        for (int i = 0; i < 50_000; i++) {
            boolean none = random.nextInt(20) == 0;
            Row row = new Row(
                    "n-" + i + (i % 7 == 0 ? "\u00e4\u00f6 with some more text" : ""),
                    List.of("nitrate", "phosphate", "a kind with a long name").get(i % 3),
                    none ? null : random.nextLong(),
                    none ? null : BigDecimal.valueOf(random.nextInt(), 4),
                    new BigDecimal(random.nextLong()).movePointLeft(3),
                    none ? null : random.nextGaussian(),
                    random.nextBoolean(),
                    none ? null : LocalDate.ofEpochDay(random.nextInt(40_000)),
                    LocalTime.ofSecondOfDay(random.nextInt(86_400)),
                    LocalDateTime.of(2026, 1, 1, 0, 0).plusSeconds(random.nextInt()),
                    "a.csv",
                    "/in/a.csv",
                    i + 2,
                    12,
                    loaded);
            expected.add(row);
            text.append(String.join(
                            ",",
                            row.id,
                            row.kind,
                            text(row.count),
                            row.value == null ? "" : row.value.toPlainString(),
                            row.wide.toPlainString(),
                            text(row.ratio),
                            text(row.ok),
                            text(row.day),
                            text(row.hour),
                            text(row.moment)))
                    .append('\n');
        }
        Path part = folder.resolve("part.parquet");
        TestJobs.part(part, dataset, new PartOrigin("a.csv", "/in/a.csv", 12, loaded), text.toString());

        assertThat(PartStore.countRows(part)).isEqualTo(50_000);
        assertThat(new CarpetReader<>(part.toFile(), Row.class).toList()).isEqualTo(expected);
    }

    private static String text(Object value) {
        return value == null ? "" : value.toString();
    }

    @Test
    void anEmptyPartIsAFileToo() throws Exception {
        Path part = folder.resolve("empty.parquet");
        try (PartWriter writer = new PartWriter(
                part,
                TestJobs.dataset("{name: id, type: text}").columns(),
                new PartOrigin("a", "/a", 1, Instant.EPOCH))) {
            writer.finish();
        }
        assertThat(PartStore.countRows(part)).isZero();
    }

    private String part(PartStore store, String name, boolean published) throws Exception {
        Path staged = PartStore.stage(store.staging(), name);
        try (PartWriter writer = new PartWriter(
                staged,
                TestJobs.dataset("{name: id, type: text}").columns(),
                new PartOrigin("a", "/a", 1, Instant.EPOCH))) {
            writer.finish();
        }
        return published ? store.publish(staged, "samples") : "";
    }

    @Test
    void leftoversOfInterruptedRunsAreSweptAndNothingElse() throws Exception {
        PartStore store = new PartStore(folder);
        String known = part(store, "1-1-known.csv", true);
        part(store, "2-1-orphan.csv", true);
        String stranger = part(store, "9-1-of-a-lost-catalogue.csv", true);
        part(store, "2-2-unfinished.csv", false);

        PartStore.Swept swept = store.sweep(Set.of(known), run -> run == 2);
        assertThat(swept.removed())
                .extracting(path -> path.getFileName().toString())
                .containsExactlyInAnyOrder("2-1-orphan.csv.parquet", "2-2-unfinished.csv.parquet");
        assertThat(swept.strangers()).containsExactly(store.path(stranger));
        assertThat(store.rows(known)).isZero();
        assertThatThrownBy(() -> part(store, "1-1-known.csv", true))
                .hasMessageContaining("no part is ever overwritten");
    }

    @Test
    void whatAFailedRunLeftGoesAndNothingElse() throws Exception {
        PartStore store = new PartStore(folder);
        String known = part(store, "2-1-known.csv", true);
        String orphan = part(store, "2-2-orphan.csv", true);
        String other = part(store, "3-1-of-a-run-that-goes-on.csv", true);
        store.dropUnknown(Set.of(known), 2);
        assertThat(store.path(orphan)).doesNotExist();
        assertThat(store.path(known)).exists();
        assertThat(store.path(other)).exists();
    }

    @Test
    void aThousandColumnsFitInLittleMemory() throws Exception {
        List<String> columns = new ArrayList<>();
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < 1000; i++) {
            columns.add("{name: c" + i + ", type: " + (i % 2 == 0 ? "text" : "integer") + "}");
            text.append(i == 0 ? "" : ",").append('c').append(i);
        }
        text.append('\n').append(("7,".repeat(999) + "7\n").repeat(300));
        DatasetDef dataset = TestJobs.dataset(columns.toArray(String[]::new));
        Path part = folder.resolve("wide.parquet");
        TestJobs.part(part, dataset, new PartOrigin("a", "/a", 1, Instant.EPOCH), text.toString());
        assertThat(PartStore.countRows(part)).isEqualTo(300);
    }

    @ParameterizedTest
    @ValueSource(strings = {"integer", "text"})
    void aRowGroupOfManyColumnsIsFilledWithValuesAndNotWithDictionaries(String type) throws Exception {
        Path part = ofThousandColumns(type, 1000, (row, column) -> String.valueOf(row * 7919L % 10007 + column));
        try (ParquetFileReader file = SealedInput.open(part)) {
            assertThat(file.getRecordCount()).isEqualTo(1000);
            assertThat(file.getRowGroups()).hasSizeLessThanOrEqualTo(2);
        }
    }

    private Path ofThousandColumns(String type, int rows, BiFunction<Integer, Integer, String> value) throws Exception {
        List<String> columns = new ArrayList<>();
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < 1000; i++) {
            columns.add("{name: c" + i + ", type: " + type + "}");
            text.append(i == 0 ? "" : ",").append('c').append(i);
        }
        for (int row = 0; row < rows; row++) {
            for (int i = 0; i < 1000; i++) {
                text.append(i == 0 ? '\n' : ',').append(value.apply(row, i));
            }
        }
        Path part = folder.resolve("wide.parquet");
        TestJobs.part(
                part,
                TestJobs.dataset(columns.toArray(String[]::new)),
                new PartOrigin("a", "/a", 1, Instant.EPOCH),
                text.append('\n').toString());
        return part;
    }

    @Test
    void longTextsOfManyColumnsFillRowGroupsAlsoBehindTheFirst() throws Exception {
        Path part = ofThousandColumns("text", 80, (row, column) -> "x".repeat(500) + (row * 1000 + column));
        try (ParquetFileReader file = SealedInput.open(part)) {
            assertThat(file.getRecordCount()).isEqualTo(80);
            assertThat(file.getRowGroups()).as("40 MB, in groups of 16").hasSizeBetween(3, 5);
        }
    }

    @Test
    void aPartThatCannotBeDescribedIsNoLongerWritten() throws Exception {
        String[] columns = new String[2000];
        Arrays.setAll(columns, i -> "{name: c" + i + ", type: integer}");
        DatasetDef dataset = TestJobs.dataset(columns);
        Path part = folder.resolve("endless.parquet");
        Vector.Longs values = new Vector.Longs(1);
        TypedBatch row = new TypedBatch(Collections.nCopies(columns.length, values));
        row.good = new int[1];
        row.goodRows = 1;
        row.line = new long[1];
        int[] written = new int[1];
        try (PartWriter writer = new PartWriter(part, dataset.columns(), new PartOrigin("a", "/a", 1, Instant.EPOCH))) {
            writer.closeGroupsAt(1);
            assertThatThrownBy(() -> {
                        for (; written[0] < 1000; written[0]++) {
                            writer.write(row);
                        }
                    })
                    .isInstanceOf(PartWriter.TooManyRowsException.class)
                    .hasMessageContaining("2005 columns");
        }
        assertThat(written[0]).as("each row a row group").isEqualTo(99);
    }
}
