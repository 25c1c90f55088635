package dev.hapster.core.query.profile;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.profile.ColumnProfile.Gap;
import dev.hapster.core.store.PartOrigin;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.assertj.core.data.Percentage;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What looks odd in a column is found. */
class ProfilerTest {

    @TempDir
    private Path folder;

    private int files;
    private DatasetQuery last;

    private ColumnProfile of(String column, String... values) throws Exception {
        DatasetDef dataset = TestJobs.dataset(column);
        List<PartFile> parts = new ArrayList<>();
        for (int part = 0; part < 2; part++) { // half of the values each
            StringBuilder text = new StringBuilder("a\n");
            int rows = 0;
            for (int i = part; i < values.length; i += 2) {
                text.append('"').append(values[i]).append("\"\n");
                rows++;
            }
            Path file = folder.resolve(files++ + ".parquet");
            TestJobs.part(file, dataset, new PartOrigin("f" + part, "/f", 1, Instant.EPOCH), text.toString());
            parts.add(new PartFile(file, rows));
        }
        last = new DatasetQuery(dataset, parts);
        return last.profile(List.of(), List.of()).get(0);
    }

    @Test
    void textsThatLookAlikeAreFound() throws Exception {
        ColumnProfile profile = of(
                "{name: a, type: text}",
                "Drought",
                "Drought ",
                "drought",
                "Flood",
                "Dróught",
                "Flood",
                "a\u00a0b",
                "a  b",
                "x\ty",
                "Ｆlood");
        assertThat(profile.lookAlikes().stream()
                        .map(group -> group.stream()
                                .map(one -> one.value() + "|" + one.rows())
                                .sorted()
                                .toList()
                                .toString())
                        .toList())
                .containsExactly(
                        "[Drought |1, Drought|1, Dróught|1, drought|1]", "[Flood|2, Ｆlood|1]", "[a  b|1, a\u00a0b|1]");
        assertThat(Remarks.of(profile).stream().map(Remarks.Remark::what))
                .contains(
                        "\"Flood\" (2), \"Ｆlood\" (1) look alike",
                        "1 row has control characters, such as tabs or line breaks");
        for (Remarks.Remark remark : Remarks.of(profile)) { // each leads to its rows
            assertThat(last.rows(0, 0, List.of(), List.of(remark.where().orElseThrow()))
                            .total())
                    .as(remark.what())
                    .hasValue(remark.rows());
        }
        assertThat(profile.text().orElseThrow().strayRows()).isEqualTo(2);
        assertThat(profile.text().orElseThrow().controlRows()).isEqualTo(1);
        assertThat(profile.text().orElseThrow().shortestValue()).isIn("x\ty", "a\u00a0b");
        assertThat(profile.text().orElseThrow().longestValue()).isEqualTo("Drought ");
    }

    @ParameterizedTest
    @ValueSource(strings = {"{name: a, type: text}", "{name: a, type: integer}", "{name: a, type: double}"})
    void frequentValuesAmongManyDifferentOnesAreFound(String column) throws Exception {
        // 1 comes 500 times from the beginning on, 2 from the middle on, behind 20,000 different ones; 3 in one part
        // only
        List<String> values = new ArrayList<>();
        for (int i = 0; i < 120_000; i++) {
            values.add(
                    Integer.toString(i % 240 < 2 ? 1 : i > 60_000 && i % 150 > 147 ? 2 : i % 200 == 4 ? 3 : 1_000 + i));
        }
        ColumnProfile profile = of(column, values.toArray(String[]::new));
        Map<String, Long> counts =
                values.stream().collect(Collectors.groupingBy(value -> value, Collectors.counting()));
        assertThat(profile.distinct().error()).isPositive();
        assertThat((double) profile.distinct().number()).isCloseTo(counts.size(), Percentage.withPercentage(4));
        assertThat(profile.frequent().stream()
                        .limit(3)
                        .map(one -> one.value().toString().replace(".0", "")))
                .containsExactlyInAnyOrder("1", "2", "3");
        for (ColumnProfile.Frequent one : profile.frequent().subList(0, 3)) {
            assertThat(counts.get(one.value().toString().replace(".0", "")))
                    .as(one.toString())
                    .isBetween(one.rows(), one.rows() + one.error());
        }
        assertThat(profile.frequent().stream()
                        .filter(one -> one.value().toString().replace(".0", "").equals("1"))
                        .findFirst()
                        .orElseThrow()
                        .error())
                .isZero();
    }

    @Test
    void daysWithoutRowsAreFound() throws Exception {
        ColumnProfile daily = of(
                "{name: a, type: date}",
                "1969-12-30",
                "1969-12-31",
                "1970-01-01",
                "1970-01-02",
                "1970-01-05",
                "1970-01-06",
                "1970-01-08");
        assertThat(daily.gaps().orElseThrow().usual()).isEqualTo(1);
        assertThat(daily.gaps().orElseThrow().longest())
                .containsExactly(
                        new Gap(LocalDate.of(1970, 1, 2), LocalDate.of(1970, 1, 5), 2),
                        new Gap(LocalDate.of(1970, 1, 6), LocalDate.of(1970, 1, 8), 1));
        ColumnProfile monthly =
                of("{name: a, type: timestamp}", "2026-01-01", "2026-02-01", "2026-03-01", "2026-05-01", "2026-06-01");
        assertThat(monthly.gaps().orElseThrow().usual()).isEqualTo(31);
        assertThat(monthly.gaps().orElseThrow().longest())
                .containsExactly(new Gap(LocalDate.of(2026, 3, 1), LocalDate.of(2026, 5, 1), 60));
    }

    @Test
    void quantilesAndStretchesOfFewValuesAreExact() throws Exception {
        ColumnProfile whole = of("{name: a, type: integer}", "1", "2", "2", "3", "10");
        assertThat(whole.quantiles().stream()
                        .filter(one -> one.share() == 0.5)
                        .findFirst()
                        .orElseThrow()
                        .value())
                .isEqualTo(2L);
        assertThat(whole.histogram()).hasSize(10);
        for (int i = 0; i < 10; i++) {
            String where = Remarks.rowsOf(whole, whole.histogram().get(i), i == 9);
            assertThat(last.rows(0, 0, List.of(), List.of(where)).total())
                    .as(where)
                    .hasValue(whole.histogram().get(i).rows());
        }
        assertThat(whole.histogram().stream()
                        .map(bin -> bin.from() + ":" + bin.rows())
                        .toList())
                .containsExactly("1:1", "2:2", "3:1", "4:0", "5:0", "6:0", "7:0", "8:0", "9:0", "10:1");
        assertThat(of("{name: a, type: double}", "1e300", "-1e300").histogram()).isNotNull();
        assertThat(of("{name: a, type: double}", "1.7e308", "-1.7e308").histogram())
                .isEmpty();
        assertThat(of("{name: a, type: boolean}", "true", "false", "true")
                        .frequent()
                        .get(0)
                        .rows())
                .isEqualTo(2);
        assertThat(of("{name: a, type: \"decimal(38,2)\"}", "12345678901234567890123456789.25", "1")
                        .largest())
                .hasToString("12345678901234567890123456789.25");
        ColumnProfile one = of("{name: a, type: time}", "08:00", "08:00");
        assertThat(one.distinct().number()).isEqualTo(1);
        assertThat(one.histogram()).isEmpty();
    }

    /** Of very many different numbers some figures are estimated; sorted, nothing is estimated. */
    @Test
    void whatIsEstimatedIsFoundOutExactlyWhereItIsAskedFor() throws Exception {
        int most = 120_000;
        String[] values = new String[most + 1];
        for (int i = 0; i < most; i++) {
            values[i] = Integer.toString((int) (i * 7919L % most));
        }
        values[most] = "4711";
        ColumnProfile estimated = of("{name: a, type: integer}", values);
        assertThat(estimated.distinct().error()).isPositive();
        ColumnProfile exact = last.exactProfile(List.of(), List.of(), folder).get(0);
        assertThat(exact.distinct()).isEqualTo(new ColumnProfile.Amount(most, 0));
        assertThat(exact.frequent().get(0)).isEqualTo(new ColumnProfile.Frequent(4711L, 2, 0));
        assertThat(exact.frequent()).hasSize(20);
        assertThat(exact.quantiles()).allMatch(one -> one.error() == 0);
        assertThat(exact.quantiles().get(3).value()).isEqualTo(most / 2 - 1L);
        assertThat(exact.histogram().stream().mapToLong(ColumnProfile.Bin::rows))
                .allMatch(rows -> rows == most / 20 || rows == most / 20 + 1)
                .hasSize(20);
        assertThat(exact.empty()).isZero();
        assertThat(last.exactProfile(List.of(), List.of("a < 10"), folder)
                        .get(0)
                        .distinct())
                .isEqualTo(new ColumnProfile.Amount(10, 0));
    }
}
