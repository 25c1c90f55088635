package dev.hapster.core.draft.column;

import dev.hapster.core.definition.ColumnType;
import java.util.List;
import java.util.OptionalInt;

/**
 * What was concluded of a column, and why.
 *
 * @param type that holds all its values
 * @param patterns how dates and times are written; empty for ISO 8601
 * @param language of the names in them, as a tag of BCP 47; empty for English or where there are none
 * @param decimal the decimal mark; 0 where it is the point or does not matter
 * @param thousands the mark between groups of three digits; 0 where there is none
 * @param nothing words that mean nothing
 * @param trueAs the word that means true, where it is not one that is known anyway
 * @param falseAs the word that means false, likewise
 * @param required whether no value is empty
 * @param length of a text of which all values are equally long
 * @param allowed its values, where they are few
 * @param trim whether some values have white space at an end
 * @param why the evidence, as a sentence
 * @param doubts what nothing decides, a sentence each; empty where all is sure
 * @param second what it would be but for some values, and where the first of them stands; empty where there is nothing
 *     to say
 */
public record Conclusion(
        ColumnType type,
        List<String> patterns,
        String language,
        char decimal,
        char thousands,
        List<String> nothing,
        List<String> trueAs,
        List<String> falseAs,
        boolean required,
        OptionalInt length,
        List<String> allowed,
        boolean trim,
        String why,
        List<String> doubts,
        String second) {

    /** The same, but for how dates and times are written. */
    Conclusion written(List<String> as, String with) {
        return new Conclusion(
                type, as, with, decimal, thousands, nothing, trueAs, falseAs, required, length, allowed, trim, why,
                doubts, second);
    }

    /** The same, but for the marks within numbers. */
    Conclusion marked(char decimalMark, char thousandsMark) {
        return new Conclusion(
                type,
                patterns,
                language,
                decimalMark,
                thousandsMark,
                nothing,
                trueAs,
                falseAs,
                required,
                length,
                allowed,
                trim,
                why,
                doubts,
                second);
    }

    /** The same, but for the words that mean true and false. */
    Conclusion worded(String asTrue, String asFalse) {
        return new Conclusion(
                type,
                patterns,
                language,
                decimal,
                thousands,
                nothing,
                List.of(asTrue),
                List.of(asFalse),
                required,
                length,
                allowed,
                trim,
                why,
                doubts,
                second);
    }
}
