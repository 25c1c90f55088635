package dev.hapster.terminal;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.http.Api;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ScreenTest {

    private static Table table() {
        Table table = new Table("  ")
                .text("file")
                .number("rows")
                .text("modified", 2)
                .text("known", 1)
                .prose("remark");
        table.row(
                "a.csv",
                1_234_567L,
                "2026-01-31 06:00 UTC",
                "loaded (run 3)",
                "something that may be shortened if need be");
        table.row("longer-name.csv", 5L, "2026-02-28 06:00 UTC", "new", "");
        return table;
    }

    @Test
    void aWideScreenShowsEverythingAligned() {
        assertThat(table().lines(120))
                .containsExactly(
                        "  file                  rows  modified              known           remark",
                        "  a.csv            1 234 567  2026-01-31 06:00 UTC  loaded (run 3)  something that may "
                                + "be shortened if need be",
                        "  longer-name.csv          5  2026-02-28 06:00 UTC  new");
    }

    @Test
    void onANarrowOneTheLeastImportantColumnGoesFirstAndProseIsShortened() {
        assertThat(table().lines(90))
                .allSatisfy(line -> assertThat(line.length()).isLessThanOrEqualTo(90));
        assertThat(table().lines(90).get(0)).contains("known").doesNotContain("modified");
        assertThat(table().lines(60).get(0)).doesNotContain("known", "modified");
        assertThat(table().lines(60).get(1)).isEqualTo("  a.csv            1 234 567  something that may be shorten…");
    }

    @ParameterizedTest
    @CsvSource({
        "0, 0 B",
        "999, 999 B",
        "1000, 1.0 kB",
        "24499, 24 kB",
        "999499, 999 kB",
        "999500, 1.0 MB",
        "2500000000, 2.5 GB"
    })
    void sizesAreForPeople(long bytes, String text) {
        assertThat(Screen.size(bytes)).isEqualTo(text);
    }

    @Test
    void numbersAreGroupedAndWordsCountWell() {
        assertThat(Screen.grouped(12_345_678)).isEqualTo("12 345 678");
        assertThat(Screen.count(1, "row")).isEqualTo("1 row");
        assertThat(Screen.count(1000, "file")).isEqualTo("1 000 files");
        assertThat(Screen.shorten("abcdef", 4)).isEqualTo("abc…");
    }

    @Test
    void aMistakeIsShownWithItsPlaceAndItsHint() throws Exception {
        JsonNode mistake = Api.JSON.readTree("{\"file\":\"jobs/a.yaml\",\"line\":3,\"column\":5,\"what\":\"unknown key "
                + "'tke'\",\"hint\":\"Did you mean 'take'?\"}");
        assertThat(Api.problem(mistake)).isEqualTo("jobs/a.yaml:3:5  unknown key 'tke'\n      Did you mean 'take'?");
        JsonNode placeless =
                Api.JSON.readTree("{\"file\":\"jobs/a.yaml\",\"line\":0,\"column\":0,\"what\":\"the folder /x does not "
                        + "exist\",\"hint\":\"\"}");
        assertThat(Api.problem(placeless)).isEqualTo("jobs/a.yaml  the folder /x does not exist");
    }
}
