package dev.hapster.core.expression;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.hapster.core.expression.Expression.Mistake;
import dev.hapster.core.expression.Expression.Type;
import dev.hapster.core.expression.Expression.WrongException;
import java.math.BigDecimal;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

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
        return Expression.of(text, COLUMNS).in(new GivenNames(values::get)).holds();
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

    /** Each function has an example at least, which gives what the document says. */
    @Test
    void theExamplesOfFunctionsAreTrue() throws Exception {
        for (Function function : Library.ALL) {
            assertThat(function.examples()).as(function.name()).isNotEmpty();
            for (Function.Example example : function.examples()) {
                assertThat(calculated(example.expression(), Map.of()))
                        .as(example.expression())
                        .isEqualTo(example.gives());
            }
        }
    }

    private static String calculated(String text, Map<String, Object> values) throws Exception {
        return calculated(text, COLUMNS, values);
    }

    private static String calculated(String text, Map<String, Type> columns, Map<String, Object> values)
            throws Exception {
        WrongException last = null;
        for (Type type : Type.values()) {
            try {
                return Expression.words(Expression.of(text, columns, type)
                        .in(new GivenNames(values::get))
                        .value());
            } catch (WrongException wrong) {
                last = wrong;
            }
        }
        throw last;
    }

    @ParameterizedTest
    @CsvSource(
            delimiterString = " -> ",
            quoteCharacter = '~',
            value = {
                "price * quantity -> 7.50",
                "price + 0.1 -> 2.60",
                "1.1 + 2.2 -> 3.3",
                "quantity / 2 -> 1",
                "quantity / 2.0 -> 1.5",
                "1.0 / 3.0 -> 0.3333333333333333333333333333333333",
                "round(price / 3, 2) -> 0.83",
                "price * nothing -> null",
                "nothing == null ? 'none' : 'some' -> none",
                "coalesce(label, 'x') + '!' -> b 7!",
                "price > 2 ? 'dear' : 'cheap' -> dear",
                "price > 5 ? label : null -> null",
                "nothing > 1 && false -> false",
                "nothing > 1 || true -> true",
                "nothing > 1 && true -> null",
                "[1, 2, 3].exists(x, x == quantity) -> true",
                "label.split(' ').map(x, x.upper()).join('/') -> B/7",
                "['a', 'b'].filter(x, x != 'a')[0] -> b",
                "['a', 'b'].all(x, ['b', 'a', 'c'].exists(y, y == x)) -> true",
                "-7 % 3 -> -1",
                "9007199254740993.0 == 9007199254740992.0 -> true",
                "binary * 3.0 -> 0.8999999999999999",
                "'\uD83D\uDE00x'.size() -> 2",
                "int('x') -> ! \"x\" is not a whole number",
                "label.substring(2, 9) -> ! it asks for characters 2 to 9 of a text of 3",
                "quantity / 0 -> ! it divides by zero",
                "9223372036854775807 + quantity -> ! a number becomes too large",
                "label.split(' ')[2] -> ! it asks for member 2 of a list of 2, which are counted from 0",
                "source['no'] == 'x' -> ! the file has no column 'no'",
                "date('2026-02-30') -> ! \"2026-02-30\" is not a valid date",
                "date(label, 'dd.MM.yyyy') -> ! \"b 7\" is not written as dd.MM.yyyy",
                "label.padLeft(2000000, 'x') -> ! the texts that it makes have more than"
            })
    void valuesAreCalculatedOrSayWhyNot(String text, String expected) throws Exception {
        Map<String, Object> row =
                Map.of("price", new BigDecimal("2.50"), "quantity", 3L, "label", "b 7", "binary", 0.3);
        Map<String, Type> columns = Map.of(
                "price",
                Type.NUMBER,
                "quantity",
                Type.INTEGER,
                "label",
                Type.TEXT,
                "nothing",
                Type.NUMBER,
                "binary",
                Type.NUMBER);
        String found;
        try {
            found = calculated(text, columns, row);
        } catch (FailedException failed) {
            found = "! " + failed.getMessage();
        }
        assertThat(found).as(text).startsWith(expected);
        assertThat(found.startsWith("!") || found.equals(expected)).as(text).isTrue();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "value|INTEGER|0|this gives a number, and it must be a whole number: write round(…) or int(…)",
                "count|TEXT|0|this gives a whole number, and it must be a text: write string(…), or (…).format(…)",
                "parameter * 2|NUMBER|10|'*' does not go with a text and a whole number",
                "parameter.extract('(')|TEXT|17|\"(\" is not a regular expression: missing closing )",
                "at.format('yyyy-bb')|TEXT|9|'bb' in the date pattern yyyy-bb means nothing (letters are those of CLDR, UTS #35)",
                "parameter.padLeft(3, 'ab')|TEXT|17|'ab' is not one character",
                "uper(parameter)|TEXT|4|there is no 'uper'",
                "3u|INTEGER|0|whole numbers are written without 'u'"
            })
    void whatCannotBeIsSaidBeforeAnyRow(String text, Type gives, int at, String what) {
        WrongException wrong = catchThrowableOfType(WrongException.class, () -> Expression.of(text, COLUMNS, gives));
        assertThat(wrong).as(text).isNotNull();
        assertThat(wrong.mistakes()).as(text).contains(new Mistake(at, what));
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

    /** Long chains are as deep as they are long; whether they pass or not, nothing breaks. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "1|+1",
                "count|+count",
                "'a'|+'a'",
                "valid|&&valid",
                "valid|==valid",
                "-1|*-1",
                "valid?1:|valid?1:"
            })
    void longChainsPassOrAreToldToBeTooLong(String chain) throws Exception {
        String[] parts = chain.split("\\|");
        for (int times : new int[] {100, 600, 1_000}) {
            String text = parts[0] + parts[1].repeat(times) + (chain.contains("?") ? "2" : "");
            try {
                assertThat(calculated(text, row())).as(text).isNotNull();
            } catch (WrongException | FailedException told) {
                assertThat(told.getMessage()).isNotBlank();
            }
        }
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
