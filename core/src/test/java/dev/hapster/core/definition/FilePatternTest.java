package dev.hapster.core.definition;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.TestJobs;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Names of files that rows are split into. */
class FilePatternTest {

    private static List<ColumnDef> columns() throws Exception {
        return TestJobs.dataset(
                        "{name: lab, type: text}",
                        "{name: day, type: date}",
                        "{name: at, type: timestamp}",
                        "{name: value, type: \"decimal(9,2)\"}")
                .columns();
    }

    private static String path(String pattern, Object... values) throws Exception {
        return FilePattern.of(pattern, columns()).path(Arrays.asList(values));
    }

    @Test
    void valuesBecomeNamesThatFileSystemsTakeAndNoTwoTheSame() throws Exception {
        assertThat(path(
                        "out/{lab}/{day:yyyy}-{day:MM}.csv",
                        "East",
                        LocalDate.of(2026, 3, 1),
                        LocalDate.of(2026, 3, 1)))
                .isEqualTo("out/East/2026-03.csv");
        assertThat(path("{file.stem}_{at:HH}.csv", "x.tar.gz", LocalDateTime.of(2026, 3, 1, 8, 0)))
                .isEqualTo("x_08.csv");
        assertThat(path("{file.name}.csv", "x.tar.gz")).isEqualTo("x.tar.gz.csv");
        assertThat(path("{value}.csv", new BigDecimal("1E+2"))).isEqualTo("100.csv");
        assertThat(path("{lab}.csv", (Object) null)).isEqualTo("empty.csv");
        List<String> nasty =
                List.of("empty", "", " ", ".", "..", "../x", "/etc/x", "a\nb", "a:b", "a_b", "~", "a.", "CON|");
        List<String> names = new java.util.ArrayList<>();
        for (String value : nasty) {
            String name = path("out/{lab}/x.csv", value);
            assertThat(name).matches("out/[^/\\\\:|\\n]+/x\\.csv").doesNotContain("/../", "/./");
            names.add(name);
        }
        assertThat(names).doesNotHaveDuplicates().doesNotContain("out/empty/x.csv");
        assertThat(path("out/{lab}.csv", "ü".repeat(300)).getBytes(java.nio.charset.StandardCharsets.UTF_8).length)
                .isLessThanOrEqualTo(255 + 4);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "out/{lob}.csv | there is no column 'lob', and no {lob} otherwise. Did you mean 'lab'?",
                "out/{at}.csv | {at} is a timestamp and needs a form",
                "out/{day:yyyy/MM}.csv | must not have a /",
                "out/{day:bogus{}.csv | ",
                "out/{lab:yyyy}.csv | neither a date nor a timestamp",
                "out/{day:HH}.csv | 'HH' is not a pattern for day",
                "out/ | a file is needed",
                "../{lab}.csv | must not go up",
                "out/{.csv | a brace that belongs to no piece",
            })
    void whatIsWrongIsSaid(String pattern, String why) {
        assertThatThrownBy(() -> FilePattern.of(pattern, columns()))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining(why == null ? "" : why);
    }
}
