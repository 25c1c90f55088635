package dev.hapster.core.query.sorted;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.filter.Where;
import dev.hapster.core.query.filter.WhereParser;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.part.Parts;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.store.PartOrigin;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Rows are sorted also where memory holds a few only. */
class RowSorterTest {

    private static final int ROWS = 20_000;
    /** So little that there are more files than are merged at once. */
    private static final long LITTLE = 30_000;

    @TempDir
    private Path folder;

    private final List<List<Comparable<?>>> model = new ArrayList<>();
    private Parts parts;
    private List<Field> wanted;
    private List<Sort> sorts;
    private Where where;

    @BeforeEach
    void write() throws Exception {
        DatasetDef dataset = TestJobs.dataset(
                "{name: number, type: integer}",
                "{name: lab, type: text}",
                "{name: value, type: \"decimal(30,2)\"}",
                "{name: ratio, type: double}",
                "{name: day, type: date}");
        Random random = new Random(4);
        StringBuilder text = new StringBuilder("number,lab,value,ratio,day\n");
        for (long number = 0; number < ROWS; number++) {
            String lab = random.nextInt(10) == 0 ? null : "lab " + random.nextInt(4);
            BigDecimal value = random.nextInt(10) == 0 ? null : BigDecimal.valueOf(random.nextInt(100), 2);
            double ratio = random.nextInt(50) / 8.0;
            LocalDate day = LocalDate.of(2026, 1, 1).plusDays(random.nextInt(100));
            text.append(number + "," + (lab == null ? "" : lab) + "," + (value == null ? "" : value) + "," + ratio + ","
                    + day + "\n");
            if (number >= 500) {
                List<Comparable<?>> row = new ArrayList<>(List.of(number));
                row.add(lab);
                row.add(value);
                row.add(ratio);
                row.add(day);
                row.add(Instant.EPOCH);
                model.add(row);
            }
        }
        Path file = folder.resolve("a.parquet");
        TestJobs.part(file, dataset, new PartOrigin("a", "/a", 1, Instant.EPOCH), text.toString());
        parts = new Parts(List.of(new PartFile(file, ROWS)));
        Fields fields = new Fields(dataset);
        wanted = new ArrayList<>(fields.all().subList(5, 10));
        wanted.add(fields.field("_loaded_at"));
        sorts = Sort.parse(List.of("lab", "-value", "ratio"), fields);
        where = WhereParser.parse("number >= 500", fields);
    }

    private RowSorter sorter() throws IOException {
        return new RowSorter(parts, wanted, sorts, where, folder, LITTLE);
    }

    private static <T extends Comparable<T>> Comparator<T> emptyLast() {
        return Comparator.nullsLast(Comparator.naturalOrder());
    }

    @Test
    void manyRowsComeInOrder() throws Exception {
        List<List<Comparable<?>>> found = new ArrayList<>();
        try (RowSorter sorter = sorter()) {
            assertThat(sorter.each(found::add)).isEqualTo(ROWS - 500);
        }
        model.sort(Comparator.comparing((List<Comparable<?>> row) -> (String) row.get(1), emptyLast())
                .thenComparing(row -> (BigDecimal) row.get(2), Comparator.nullsLast(Comparator.reverseOrder()))
                .thenComparing(row -> (Double) row.get(3))
                .thenComparing(row -> (Long) row.get(0)));
        assertThat(found).isEqualTo(model);
        assertThat(folder.toFile().list()).containsExactly("a.parquet");
    }

    @Test
    void nothingIsLeftWhereItEndsEarly() throws Exception {
        assertThatThrownBy(() -> {
                    try (RowSorter sorter = sorter()) {
                        sorter.each(row -> {
                            throw new IOException("The reader went away");
                        });
                    }
                })
                .hasMessage("The reader went away");
        assertThat(folder.toFile().list()).containsExactly("a.parquet");
    }
}
