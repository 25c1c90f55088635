package dev.hapster.core.expression;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.hapster.core.expression.Expression.FailedException;
import dev.hapster.core.expression.Expression.Mistake;
import dev.hapster.core.expression.Expression.Type;
import dev.hapster.core.expression.Expression.WrongException;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ExpressionTest {

    private static final Map<String, Type> COLUMNS = Map.of(
            "parameter",
            Type.TEXT,
            "value",
            Type.NUMBER,
            "count",
            Type.INTEGER,
            "valid",
            Type.BOOLEAN,
            "at",
            Type.MOMENT,
            "in",
            Type.TEXT);

    private static boolean holds(String text, Map<String, Object> values) throws Exception {
        return Expression.of(text, COLUMNS).holds(values::get);
    }

    private static Map<String, Object> row() {
        Map<String, Object> row = new HashMap<>(Map.of(
                "parameter",
                "nitrate",
                "value",
                4.5,
                "count",
                3L,
                "valid",
                true,
                "at",
                Instant.parse("2026-03-01T00:00:00Z")));
        row.put("row", Map.of("in", "x"));
        row.put("source", Map.of("Site", "VS-101"));
        row.put("file", Map.of("name", "a.csv", "size", 12L));
        row.put("fact", Map.of("lab", "north"));
        return row;
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "parameter != 'colour'|true",
                "value > 4|true",
                "value > 4.5|false",
                "count == 3 && valid|true",
                "parameter in ['ph', 'nitrate']|true",
                "at >= timestamp('2026-01-01T00:00:00Z')|true",
                "row['in'] == 'x'|true",
                "source['Site'].startsWith('VS-')|true",
                "file.name.endsWith('.csv') && fact.lab == 'north'|true",
                "parameter.matches('^nit.*')|true",
                "value == null|false",
                "file.size > 10|true"
            })
    void conditionsHoldOrNot(String text, boolean expected) throws Exception {
        assertThat(holds(text, row())).as(text).isEqualTo(expected);
    }

    @Test
    void anEmptyValueIsNull() throws Exception {
        assertThat(holds("value == null", Map.of())).isTrue();
        assertThat(holds("parameter != 'colour'", Map.of())).isTrue();
        assertThat(catchThrowableOfType(FailedException.class, () -> holds("value > 4.0", Map.of())))
                .isNotNull();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "parameter !=|12",
                "paramter == 'x'|0",
                "valid && value == 'x'|15",
                "value|0",
                "parameter.matches(1)|17"
            })
    void aMistakeIsNamedAtItsCharacter(String text, int at) {
        WrongException wrong = catchThrowableOfType(WrongException.class, () -> Expression.of(text, COLUMNS));
        assertThat(wrong.mistakes())
                .extracting(Mistake::at)
                .as(text + wrong.mistakes())
                .contains(at);
    }

    @Test
    void hostileExpressionsAreRefused() {
        assertThat(catchThrowableOfType(
                        WrongException.class,
                        () -> Expression.of("(".repeat(1_000) + "valid" + ")".repeat(1_000), COLUMNS)))
                .isNotNull();
        assertThat(catchThrowableOfType(
                        WrongException.class,
                        () -> Expression.of("parameter == '" + "x".repeat(10_000) + "'", COLUMNS)))
                .isNotNull();
    }
}
