package dev.hapster.core.query;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.DatasetQuery.Grouping;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.query.write.RowWriter.Limits;
import dev.hapster.core.store.DamagedPartException;
import dev.hapster.core.store.PartOrigin;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.PartWriter;
import dev.hapster.core.store.Span;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.roaringbitmap.RoaringBitmap;

/** Small parts that share a file are what they would be each in a file of its own. */
class BundleTest {

    @TempDir
    private Path folder;

    private PartStore store;
    private Path desk;
    private DatasetDef dataset;

    @BeforeEach
    void open() throws Exception {
        store = new PartStore(folder);
        desk = Files.createDirectories(store.desk("desk"));
        dataset = TestJobs.dataset(
                "{name: number, type: integer}",
                "{name: lab, type: text}",
                "{name: value, type: double}",
                "{name: wide, type: \"decimal(30,3)\"}",
                "{name: day, type: date}",
                "{name: sure, type: boolean}");
    }

    private PartWriter written(Path target, int part, String text) throws Exception {
        return TestJobs.written(
                target, dataset, new PartOrigin("f" + part % 7, "/f" + part, part, Instant.EPOCH), text);
    }

    private List<String> bundle(int run, String... texts) throws Exception {
        List<Path> staged = new ArrayList<>();
        for (int i = 0; i < texts.length; i++) {
            Path place = PartStore.stage(desk, run + "-" + i + "-x");
            try (PartWriter writer = written(place, i, texts[i])) {
                store.hold(
                        place,
                        writer.hold(Map.of("job", "north", "name", "f" + i)).orElseThrow());
            }
            staged.add(place);
        }
        return store.publishBundle(desk, run + "-bundle-1", staged, "samples");
    }

    private static String random(Random random) {
        StringBuilder text = new StringBuilder("number,lab,value,wide,day,sure\n");
        int rows = 1 + random.nextInt(random.nextInt(5) == 0 ? 1_500 : 40);
        boolean longTexts = random.nextInt(4) == 0;
        for (int row = 0; row < rows; row++) {
            text.append(random.nextInt(9) == 0 ? "" : random.nextInt(50))
                    .append(",lab ")
                    .append(longTexts ? random.nextLong() : random.nextInt(4))
                    .append(random.nextInt(5) == 0 ? ",," : "," + random.nextInt(1000) / 8.0 + ",")
                    .append(random.nextInt(3) == 0 ? "" : random.nextLong() + "00000000.5")
                    .append(",2026-0" + (1 + random.nextInt(9)) + "-11,")
                    .append(random.nextBoolean() ? "true" : "")
                    .append('\n');
        }
        return text.toString();
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4})
    void answersAreThoseOfPartsWithFilesOfTheirOwn(long seed) throws Exception {
        Random random = new Random(seed);
        List<String> names = new ArrayList<>();
        List<PartFile> bundled = new ArrayList<>();
        List<PartFile> alone = new ArrayList<>();
        for (int run = 1; run <= 3; run++) {
            String[] texts = IntStream.range(0, 2 + random.nextInt(30))
                    .mapToObj(i -> random(random))
                    .toArray(String[]::new);
            List<String> written = bundle(run, texts);
            for (int i = 0; i < texts.length; i++) {
                Path own = folder.resolve(run + "-" + i + ".parquet");
                try (PartWriter writer = written(own, i, texts[i])) {
                    writer.finish();
                }
                if (random.nextInt(4) == 0) {
                    continue; // it does not count any more
                }
                long rows = PartStore.countRows(own);
                Optional<RoaringBitmap> masked = masked(random, rows);
                long counting =
                        rows - masked.map(RoaringBitmap::getLongCardinality).orElse(0L);
                String source = "s" + random.nextInt(20);
                names.add(written.get(i));
                bundled.add(new PartFile(store.span(written.get(i)), source, counting, masked));
                alone.add(new PartFile(Span.whole(own), source, counting, masked));
                assertThat(store.rows(written.get(i))).isEqualTo(rows);
            }
        }
        same(random, bundled, alone);
        PartStore.Merged merged = store.merge("samples", names, 1).orElseThrow();
        same(
                random,
                names.stream()
                        .map(name -> {
                            PartFile before = bundled.get(names.indexOf(name));
                            String now = merged.names().getOrDefault(name, name);
                            return new PartFile(store.span(now), before.source(), before.rows(), before.masked());
                        })
                        .toList(),
                alone);
    }

    private void same(Random random, List<PartFile> bundled, List<PartFile> alone) throws Exception {
        DatasetQuery one = new DatasetQuery(dataset, bundled);
        DatasetQuery other = new DatasetQuery(dataset, alone);
        List<String> where = List.of("lab=lab 2", "number<30");
        for (int page = 0; page < 8; page++) {
            long offset = random.nextInt(6_000);
            assertThat(values(one, offset, List.of(), List.of()))
                    .isEqualTo(values(other, offset, List.of(), List.of()));
            assertThat(values(one, offset, List.of(), where)).isEqualTo(values(other, offset, List.of(), where));
        }
        List<String> sort = List.of("-value", "lab", "_file", "_line", "number", "wide");
        assertThat(values(one, 0, sort, where)).isEqualTo(values(other, 0, sort, where));
        Grouping grouping = new Grouping(
                List.of("lab", "day:month"),
                List.of("sum(number)", "max(wide)"),
                where,
                List.of("-rows", "lab", "day:month"),
                0);
        assertThat(one.counts(grouping)).isEqualTo(other.counts(grouping));
        assertThat(export(one)).isEqualTo(export(other));
    }

    private static Optional<RoaringBitmap> masked(Random random, long rows) {
        if (random.nextInt(3) > 0) {
            return Optional.empty();
        }
        RoaringBitmap masked = new RoaringBitmap();
        IntStream.range(0, (int) rows).filter(row -> random.nextInt(3) == 0).forEach(masked::add);
        return Optional.of(masked);
    }

    private static List<List<Comparable<?>>> values(
            DatasetQuery query, long offset, List<String> sort, List<String> where) throws Exception {
        return query.rows(offset, 50, sort, where).rows();
    }

    private String export(DatasetQuery query) throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        query.export(DatasetQuery.Selection.ALL, columns -> Limits.NONE, false)
                .to(RowWriter.of("csv", out, "x").orElseThrow(), folder);
        return out.toString(StandardCharsets.UTF_8);
    }

    @Test
    void partsAreLetGoOfOneByOneAndTheFileWithTheLast() throws Exception {
        String head = "number,lab,value,wide,day,sure\n";
        List<String> names = bundle(1, head + "1,a,,,,\n2,b,,,,\n", head + "3,c,,,,\n", head + "4,d,,,,\n");
        String file = store.all().get(0);
        assertThat(store.contents(file).keySet()).containsExactlyElementsOf(names);
        assertThat(store.contents(file).get(names.get(1)))
                .containsEntry("job", "north")
                .containsEntry("name", "f1")
                .containsEntry("rows", "1");
        store.drop(Set.of(names.get(1)));
        PartStore again = new PartStore(folder);
        assertThat(again.contents(file).keySet()).containsExactly(names.get(0), names.get(2));
        assertThat(again.rows(names.get(2))).isEqualTo(1);
        assertThat(again.check(names.get(2))).isEqualTo(1);
        again.rename("samples", "readings");
        names = names.stream()
                .map(name -> name.replace("samples/", "readings/"))
                .toList();
        assertThat(again.contents(file.replace("samples/", "readings/"))).hasSize(2);
        again.drop(List.of(names.get(0), names.get(2), names.get(1)));
        assertThat(again.all()).isEmpty();
        assertThat(folder.resolve("released/readings")).isEmptyDirectory();
    }

    @Test
    void filesThatBecameOneStayUntilNobodyMayReadThem() throws Exception {
        String text = "number,lab,value,wide,day,sure\n1,a,,,,\n";
        List<String> names = new ArrayList<>(bundle(1, text, text));
        names.addAll(bundle(2, text, text));
        names.addAll(bundle(3, text, text, text));
        store.drop(Set.of(names.remove(0)));
        assertThat(store.merge("samples", names, 4)).isEmpty();
        PartStore.Merged merged = store.merge("samples", names, 3).orElseThrow();
        assertThat(merged.old()).hasSize(3);
        assertThat(merged.names().keySet()).containsExactlyElementsOf(names);
        assertThat(store.contents(merged.file()).keySet())
                .containsExactlyElementsOf(merged.names().values());
        assertThat(store.contents(merged.file()).get(merged.names().get(names.get(5))))
                .containsEntry("name", "f2")
                .doesNotContainKeys("sums", "bundle");
        store.dropWhenUnread(merged.old());
        assertThat(store.all()).as("nobody is told of them").containsExactly(merged.file());
        assertThat(store.rows(names.get(0)))
                .as("but who knew of them reads them")
                .isEqualTo(1);
    }

    @Test
    void aSweepKeepsWhatTheCatalogueKnowsAnyPartOf() throws Exception {
        String text = "number,lab,value,wide,day,sure\n1,a,,,,\n";
        List<String> known = bundle(1, text, text);
        bundle(2, text, text);
        store.drop(Set.of(known.get(0)));
        PartStore.Swept swept = store.sweep(Set.of(known.get(1)), run -> run == 2);
        assertThat(swept.removed())
                .anyMatch(path -> path.getFileName().toString().startsWith("2-bundle-1"));
        assertThat(swept.strangers()).isEmpty();
        assertThat(store.all()).hasSize(1);
        assertThat(store.contents(store.all().get(0)).keySet()).containsExactly(known.get(1));
    }

    @Test
    void aBundleThatIsNotWhatWasWrittenIsNoticed() throws Exception {
        String text = "number,lab,value,wide,day,sure\n1,a,,,,\n2,b,,,,\n";
        List<String> names = bundle(1, text, text);
        assertThatThrownBy(() -> store.rows(names.get(0).replace("#0+2", "#0+3")))
                .isInstanceOf(DamagedPartException.class)
                .hasMessageContaining("has no part of 3 rows at row 0");
        assertThatThrownBy(() ->
                        new PartReader(store.span(names.get(0).replace("#0+2", "#3+2")), List.of(), Optional.empty()))
                .isInstanceOf(DamagedPartException.class)
                .hasMessageContaining("has 4 rows, and not those from 3 to 5");
        Path file = store.path(names.get(0));
        byte[] bytes = Files.readAllBytes(file);
        bytes[60] ^= 1;
        Files.write(file, bytes);
        PartStore.Check check = store.check();
        for (String name : names) {
            assertThatThrownBy(() -> check.of(name))
                    .isInstanceOf(DamagedPartException.class)
                    .hasMessageContaining(file.getFileName().toString());
        }
    }
}
