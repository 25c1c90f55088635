package dev.hapster.core.query.filter;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.store.PartOrigin;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.stream.Collectors;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.TestInstance.Lifecycle;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Conditions as people write them, and the rows for which they hold. */
@TestInstance(Lifecycle.PER_CLASS)
class WhereParserTest {

    private static final String TABLE =
            """
            id,lab,value,at,day
            a,North,1.5,2026-03-01 00:00:00,2026-03-01
            b,Bed and Breakfast,40,2026-03-31 23:59:59,2026-03-31
            c,North (old),,2026-04-01 00:00:00,2026-04-01
            d,,-3,2026-12-31 08:30:00,2026-12-31
            e,it's 5% _ off,7,2027-01-04 09:00:00,
            """;

    private DatasetDef dataset;
    private DatasetQuery query;

    @BeforeAll
    void table(@TempDir Path folder) throws Exception {
        dataset = TestJobs.dataset(
                "{name: id, type: text}",
                "{name: lab, type: text}",
                "{name: value, type: \"decimal(9,1)\"}",
                "{name: at, type: timestamp}",
                "{name: day, type: date}");
        Path file = folder.resolve("1.parquet");
        TestJobs.part(file, dataset, new PartOrigin("f", "/f", 1, Instant.EPOCH), TABLE);
        query = new DatasetQuery(dataset, List.of(new PartFile(file, 5)));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '#',
            quoteCharacter = '`',
            value = {
                "lab = North # a",
                "lab=North or lab = 'Bed and Breakfast' # ab",
                "LAB = x or lab = North (old) # !There is no column 'LAB'. Did you mean 'lab'?",
                "lab = North (old) AND value IS EMPTY # c",
                "(lab = North (old) or lab = North) and not value is empty # a",
                "lab in (North, 'North (old)', nowhere) # ac",
                "lab not in (North) # bcde",
                "not (lab in (North) or value > 5) # cd",
                "value between -3 and 7 # ade",
                "value not between 0 and 10 # bcd",
                "not value between 0 and 10 # bcd",
                "lab is filled and lab is not filled # ``",
                "lab is not empty # abce",
                "lab is null # d",
                "lab like 'North%' # ac",
                "lab like North_ # ``",
                "lab like 'it''s 5\\% \\_ off' # e",
                "lab like \"%and%\" # b",
                "lab matches '^N.*h$' # a",
                "lab ~ NORTH # ac",
                "value ~ 40 # b",
                "value != 40 # acde",
                "at = 2026 # abcd",
                "at = 2026-Q1 # ab",
                "at = 2026-03 # ab",
                "at = 2026-03-31 # b",
                "at = 2026-03-31T23 # b",
                "at = '2026-03-31 23:59:59' # b",
                "at between 2026-03-01 and 2026-03-31 # ab",
                "at > 2026-03-31 # cde",
                "at >= 2026-04 # cde",
                "at <= 2026-03 # ab",
                "at < 2026-03-31 # a",
                "at in (2026-04, 2027) # ce",
                "at = 2027-W01 # e",
                "at = 2026-W53 # d",
                "day <= 2026-03-31 # ab",
                "day != 2026-03 # cde",
                "day = 2026-W14 # bc",
                "not not lab = North # a",
            })
    void conditionsHoldForTheirRows(String where, String rows) throws Exception {
        String found;
        try {
            found = query.rows(0, 10, List.of(), List.of(where)).rows().stream()
                    .map(row -> row.get(5).toString())
                    .collect(Collectors.joining());
        } catch (QueryException wrong) {
            found = "!" + wrong.getMessage();
        }
        assertThat(found).isEqualTo(rows);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '#',
            quoteCharacter = '`',
            value = {
                "lab # at character 4: an operator is missing behind lab. Write COLUMN OPERATOR VALUE",
                "`` # at character 1: a condition is missing",
                "lab = # at character 6: a value is missing. An empty value is asked for with COLUMN is empty",
                "lab == North # at character 5: == is no operator. Write =",
                "lab = North && value > 5 # at character 13: there is a && in the value",
                "lab = North, value > 5 # put a value that has = < > && or || in it in quotes",
                "lab = Bed and Breakfast # put the value in quotes",
                "lab = 'North # at character 7: the quote is not closed",
                "(lab = North # at character 13: a ) is missing",
                "lab = North) # at character 12: there is a ) that closes nothing",
                "lab in North # a ( is missing behind in",
                "value between 5 # and is missing behind between",
                "value > many # `\"many\" is not a valid decimal(9,1), and value is one`",
                "value > 1e999999999 # is not a valid decimal(9,1)",
                "at = 2026-13 # is not a valid timestamp",
                "at = 2025-W53 # is not a valid timestamp",
                "day = 2026-02-29 # is not a valid date",
                "lab matches '(' # is not a regular expression: missing closing )",
                "lab matches '((x{100}){100}){100}' # has more than",
                "lab is North # empty or filled is missing behind is. To compare with a value, write lab = VALUE",
            })
    void whatIsNoConditionSaysWhereAndWhatToWrite(String where, String message) {
        assertThatThrownBy(() -> WhereParser.parse(where, new Fields(dataset)))
                .isInstanceOf(QueryException.class)
                .hasMessageContaining(message);
    }

    @Test
    void whatIsTooMuchIsNotTakenApart() {
        Fields fields = new Fields(dataset);
        for (String text : List.of(
                "(".repeat(50_000),
                "not ".repeat(20_000) + "lab = x",
                "lab = x or ".repeat(5_000) + "lab = x",
                "lab in (" + "x,".repeat(20_000) + "x)",
                "lab = " + "x".repeat(200_000))) {
            assertThatThrownBy(() -> WhereParser.parse(text, fields)).isInstanceOf(QueryException.class);
        }
        assertThatThrownBy(() -> WhereParser.parse(Collections.nCopies(5_000, "lab = x"), fields))
                .hasMessageContaining("more than 200 conditions");
    }
}
