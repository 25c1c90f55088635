package dev.hapster.core.query;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.DatasetQuery.Grouping;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.part.Parts;
import dev.hapster.core.query.sorted.Rankings;
import dev.hapster.core.query.write.RowStyle;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.query.write.RowWriter.Limits;
import dev.hapster.core.store.PartOrigin;
import dev.hapster.core.store.Span;
import java.io.ByteArrayOutputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import java.util.zip.ZipFile;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class DatasetQueryTest {

    private static final int ROWS = 30_000;

    @TempDir
    private Path folder;

    private DatasetQuery query;

    /** Two parts of 30,000 rows; number n has lab n % 3, the value (7919 n) % 30011, no value where n % 100 is 0. */
    @BeforeEach
    void parts() throws Exception {
        DatasetDef old = TestJobs.dataset(
                "{name: number, type: integer}",
                "{name: lab, type: text}",
                "{name: value, type: \"decimal(9,1)\"}",
                "{name: day, type: date}");
        List<PartFile> parts = new ArrayList<>();
        for (int part = 0; part < 2; part++) {
            StringBuilder text = new StringBuilder("number,lab,value,day\n");
            for (int n = part * ROWS; n < (part + 1) * ROWS; n++) {
                text.append(n)
                        .append(',')
                        .append("lab ")
                        .append(n % 3)
                        .append(',')
                        .append(n % 100 == 0 ? "" : n * 7919L % 30011)
                        .append(",2026-0")
                        .append(1 + n % 4)
                        .append("-15\n");
            }
            Path file = folder.resolve(part + ".parquet");
            TestJobs.part(file, old, new PartOrigin("f" + part, "/f" + part, part, Instant.EPOCH), text.toString());
            parts.add(new PartFile(file, ROWS));
        }
        DatasetDef grown = TestJobs.dataset(
                "{name: number, type: integer}",
                "{name: lab, type: text}",
                "{name: value, type: \"decimal(9,1)\"}",
                "{name: day, type: date}",
                "{name: later, type: text}");
        query = new DatasetQuery(grown, parts);
    }

    private List<Long> numbers(long offset, int limit, List<String> sort, String... where) throws Exception {
        return query.rows(offset, limit, sort, List.of(where)).rows().stream()
                .map(row -> (Long) row.get(5))
                .toList();
    }

    /** The same rows, of which the second part names the same file as the first, as after a retry. */
    private DatasetQuery mixed() throws Exception {
        List<PartFile> same = new ArrayList<>();
        for (int part = 0; part < 2; part++) {
            same.add(new PartFile(Span.whole(folder.resolve(part + ".parquet")), "one", ROWS, Optional.empty()));
        }
        return new DatasetQuery(
                TestJobs.dataset(
                        "{name: number, type: integer}",
                        "{name: lab, type: text}",
                        "{name: value, type: \"decimal(9,1)\"}"),
                same);
    }

    private String export(DatasetQuery query, DatasetQuery.Selection what) throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        query.export(what, columns -> Limits.NONE, false)
                .to(RowWriter.of("csv", out, "x").orElseThrow(), folder);
        return out.toString(StandardCharsets.UTF_8);
    }

    @Test
    void rowsComeBySourceAndLineAlsoWhereAFileHasSeveralParts() throws Exception {
        query = mixed();
        assertThat(numbers(0, 4, List.of())).containsExactly(0L, 30_000L, 1L, 30_001L);
        assertThat(numbers(59_998, 4, List.of())).containsExactly(29_999L, 59_999L);
        assertThat(numbers(1, 3, List.of(), "lab = lab 0")).containsExactly(30_000L, 3L, 30_003L);
        assertThat(export(query, DatasetQuery.Selection.ALL).lines().map(line -> line.split(",")[0]))
                .hasSize(60_001)
                .startsWith("number", "0", "30000", "1", "30001")
                .endsWith("29999", "59999");
    }

    @Test
    void whatIsExportedCanBeChosenAndSorted() throws Exception {
        assertThat(export(
                        query,
                        new DatasetQuery.Selection(
                                List.of("lab", "number"),
                                true,
                                List.of("number < 4", "lab != lab 1"),
                                List.of("-number"))))
                .matches("(?s)_file,_line,_path,_run,_loaded_at,lab,number\\R"
                        + "f0,5,/f0,0,\\S+,lab 0,3\\Rf0,4,/f0,0,\\S+,lab 2,2\\Rf0,2,/f0,0,\\S+,lab 0,0\\R");
        assertThatThrownBy(
                        () -> export(query, new DatasetQuery.Selection(List.of("labb"), false, List.of(), List.of())))
                .hasMessage("There is no column 'labb'. Did you mean 'lab'?");
        assertThat(query.counts(new Grouping(
                                List.of("lab"), List.of(), List.of("number < 8"), List.of("-rows", "-lab"), 0))
                        .groups())
                .extracting(group -> group.values().get(0) + " " + group.rows())
                .containsExactly("lab 1 3", "lab 0 3", "lab 2 2");
    }

    @Test
    void anExportThatCannotBeWrittenSaysSoBeforeItsFirstByte() throws Exception {
        assertThatThrownBy(() -> query.export(DatasetQuery.Selection.ALL, columns -> new Limits(4, null), false))
                .hasMessageStartingWith("A cell of a workbook holds at most 4 characters, and lab in f0:2 has 5");
        Files.delete(folder.resolve("1.parquet"));
        assertThatThrownBy(() -> query.export(DatasetQuery.Selection.ALL, columns -> Limits.NONE, false))
                .hasMessageStartingWith("The part 1.parquet is missing in the store");
    }

    @Test
    void aWorkbookDoesNotClaimToBeOneCell() throws Exception {
        Path file = folder.resolve("x.xlsx");
        try (OutputStream out = Files.newOutputStream(file)) {
            query.export(
                            DatasetQuery.Selection.ALL,
                            columns -> RowWriter.limits("xlsx", RowStyle.USUAL, columns),
                            false)
                    .to(RowWriter.of("xlsx", out, "x").orElseThrow(), folder);
        }
        try (ZipFile zip = new ZipFile(file.toFile())) {
            assertThat(zip.getInputStream(zip.getEntry("xl/worksheets/sheet1.xml"))
                            .readNBytes(1000))
                    .asString(StandardCharsets.UTF_8)
                    .contains("<sheetView ")
                    .doesNotContain("<dimension");
        }
    }

    @Test
    void anyRowsCanBeHadAcrossParts() throws Exception {
        assertThat(numbers(29_998, 4, List.of())).containsExactly(29_998L, 29_999L, 30_000L, 30_001L);
        assertThat(numbers(59_999, 10, List.of())).containsExactly(59_999L);
        assertThat(query.rows(0, 1, List.of(), List.of()).rows().get(0))
                .startsWith("f0", 2L, "/f0", 0L, Instant.EPOCH)
                .endsWith((Comparable<?>) null);
    }

    @Test
    void rowsAreSortedByAnyColumnWithEmptyOnesLast() throws Exception {
        List<Long> expected = IntStream.range(0, 2 * ROWS)
                .filter(n -> n % 100 != 0)
                .boxed()
                .sorted((a, b) -> Long.compare(b * 7919L % 30011, a * 7919L % 30011))
                .limit(50)
                .map(Integer::longValue)
                .toList();
        assertThat(numbers(0, 50, List.of("-value", "number"))).isEqualTo(expected);
        assertThat(numbers(59_400, 2, List.of("value"))).containsExactly(0L, 100L);
        assertThat(numbers(0, 2, List.of("lab", "-number"))).containsExactly(59_997L, 59_994L);
    }

    @Test
    void conditionsHoldTogether() throws Exception {
        assertThat(query.rows(0, 0, List.of(), List.of("lab = 'lab 1'", "number >= 30000"))
                        .total())
                .hasValue(10_000);
        assertThat(query.rows(0, 5, List.of("number"), List.of("value is empty", "_file != f0", "_file ~ F1"))
                        .total())
                .hasValue(300);
        assertThat(numbers(1, 2, List.of(), "value < 3", "number > 5")).hasSize(2);
        assertThat(query.rows(0, 0, List.of(), List.of("later is filled")).total())
                .hasValue(0);
    }

    @Test
    void rowsAreCountedByColumnsAndMonths() throws Exception {
        Counts counts = query.counts(Grouping.by("lab", "day:month"));
        assertThat(counts.total().rows()).isEqualTo(2 * ROWS);
        assertThat(counts.groups()).hasSize(12).allSatisfy(group -> assertThat(group.rows())
                .isEqualTo(5_000));
        assertThat(counts.groups().get(0).values().toString()).isEqualTo("[lab 0, 2026-01]");
        assertThat(query.counts(Grouping.by("later")).groups())
                .singleElement()
                .satisfies(group -> assertThat(group.rows()).isEqualTo(60_000));
    }

    @Test
    void questionsThatCannotBeAnsweredSayWhy() {
        assertThatThrownBy(() -> numbers(0, 1, List.of("valu")))
                .hasMessage("There is no column 'valu'. Did you mean 'value'?");
        assertThatThrownBy(() -> numbers(0, 1, List.of(), "value"))
                .hasMessageContaining("at character 6: an operator is missing behind value. Write COLUMN");
        assertThatThrownBy(() -> numbers(0, 1, List.of(), "day > soon"))
                .hasMessageContaining("\"soon\" is not a valid date");
        assertThatThrownBy(() -> query.counts(Grouping.by("number")))
                .hasMessageContaining(" groups; count by fewer columns");
        assertThatThrownBy(() -> numbers(99_999, 100, List.of("value"))).hasMessageContaining("narrow it");
    }

    @Test
    void jobsAreAskedForAndCountedThoughRowsHaveOnlyTheirRun() throws Exception {
        DatasetQuery asked = new DatasetQuery(
                TestJobs.dataset("{name: number, type: integer}"),
                new Parts(List.of(
                        new PartFile(folder.resolve("0.parquet"), ROWS),
                        new PartFile(folder.resolve("1.parquet"), ROWS))),
                new Rankings(),
                Map.of(0L, "north", 1L, "east"));
        assertThat(asked.counts(new Grouping(
                                List.of("_job"), List.of("max(number)"), List.of("number > 0"), List.of("_job"), 0))
                        .groups())
                .extracting(group -> group.values().get(0) + " " + group.rows() + " " + group.measures())
                .containsExactly("east 30000 [59999]", "north 29999 [29999]");
        for (String where : List.of("_job = east", "_job like e%", "not _job in (north, west)", "_job ~ AST")) {
            assertThat(asked.rows(0, 1, List.of(), List.of(where)).rows().get(0).get(5))
                    .as(where)
                    .isEqualTo(30_000L);
        }
        assertThat(asked.rows(0, 1, List.of(), List.of("_job = nort")).rows()).isEmpty();
        assertThat(asked.missing(List.of("_job = nort")))
                .containsExactly("No row has \"nort\" in _job. Did you mean \"north\"?");
        assertThat(asked.rows(0, 1, List.of(), List.of("_job is filled")).total())
                .hasValue(60_000);
    }
}
