package dev.hapster.core.draft.column;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.row.RawBatch;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Values, and the type that holds them all with the pattern in which they are written. */
class TypeFinderTest {

    static ColumnProfile profile(String file, List<String> values) {
        ColumnProfile profile = new ColumnProfile(line -> file + ":" + line);
        for (int i = 0; i < values.size(); i++) {
            byte[] bytes = values.get(i).getBytes(StandardCharsets.UTF_8);
            profile.add(bytes, 0, bytes.length, RawBatch.TEXT, i + 2L);
        }
        return profile;
    }

    static Conclusion find(List<String> values) {
        ColumnProfile profile = profile("a.csv", values);
        return new TypeFinder(profile, List.of(profile.brief()), (char) 0).find();
    }

    /** Type, and behind it patterns, marks, words for nothing and for true and false where there are any. */
    private static String said(Conclusion found) {
        StringBuilder said = new StringBuilder(found.type().toString());
        found.patterns().forEach(pattern -> said.append(' ').append(pattern));
        if (!found.language().isEmpty()) {
            said.append(" in ").append(found.language());
        }
        if (found.decimal() != 0) {
            said.append(" decimal ").append(found.decimal());
        }
        if (found.thousands() != 0) {
            said.append(" thousands ").append(found.thousands());
        }
        found.nothing().forEach(word -> said.append(" nothing ").append(word));
        found.trueAs().forEach(word -> said.append(" true ").append(word));
        return said.toString();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            textBlock =
                    """
            1;2;30                                     | integer
            -5;+7;0                                    | integer
            00501;10001                                | text
            12345678901234567890;1                     | decimal(38,0)
            1.5;2.25;3                                 | decimal(9,2)
            1,5;2,25                                   | decimal(9,2) decimal ,
            1.234,5;12,25                              | decimal(9,2) decimal , thousands .
            1,234.5;12.25                              | decimal(9,2) thousands ,
            1.234.567;2                                | integer decimal , thousands .
            1 234 567;12 345                           | integer thousands ` `
            1,234;12                                   | decimal(9,3) decimal ,
            0.123;4.567                                | decimal(9,3)
            1.5;1234.567                               | decimal(9,3)
            1e5;2.5e-3                                 | double
            3;n/a;4;-                                  | integer nothing - nothing n/a
            3;4;x                                      | text
            true;false;true                            | boolean
            ja;nein;ja                                 | boolean true ja
            Y;N;Y                                      | boolean true y
            NA;DE;FR                                   | text
            2026-01-31;2026-02-01                      | date
            2026-01-31 10:00;2026-02-01 11:30:05       | timestamp
            2026-01-31T10:00:00Z;2026-02-01T11:30:05Z  | timestamp
            2026-01-31T10:00:00+01:00                  | timestamp
            31.01.2026;01.02.2026                      | date dd.MM.yyyy
            1.1.2026;31.12.2026                        | date d.M.yyyy
            31/01/2026;01/02/2026                      | date dd/MM/yyyy
            01/31/2026;02/01/2026                      | date MM/dd/yyyy
            31.01.26;01.02.26                          | date dd.MM.yy
            31.01.2026 08:00;01.02.2026                | timestamp dd.MM.yyyy HH:mm dd.MM.yyyy
            20260131;20260201                          | date yyyyMMdd
            20260108T230500;20260109T000000            | timestamp yyyyMMdd'T'HHmmss
            Jun 12 1998;Jan 1 2001                     | date MMM d yyyy
            12 March 2026;1 May 2026                   | date d MMMM yyyy
            12-Jan-2026;01-Feb-2026                    | date dd-MMM-yyyy
            12. März 2026;1. Mai 2026                  | date d. MMMM yyyy in de
            12. Mär. 2026;01. Okt. 2025                | date dd. MMM. yyyy in de
            12 de marzo de 2026;1 de mayo de 2026      | date d 'de' MMMM 'de' yyyy in es
            3 марта 2026 10:30;14 мая 2025 08:00       | timestamp d MMMM yyyy HH:mm in ru
            12 févr. 2026;03 août 2025                 | date dd MMM. yyyy dd MMMM yyyy in fr
            12 Foo 2026;13 Bar 2026                    | text
            10:30;23:59                                | time
            9:30;23:59                                 | time H:mm
            1/31/2026 9:30 AM;2/1/2026 12:00 PM        | timestamp M/d/yyyy h:mm a
            1767225600;1767225660;1767225720;1767225780;1767225840 | timestamp epoch
            1767225600000;1767225660000;1767225720000;1767225780000;1767225840000 | timestamp epoch_ms
            192.168.1.1;10.0.0.1                       | text
            1.2.3;1.10.0                               | text
            12.30;23.59                                | decimal(9,2)
            99/99/2026;10/10/2026                      | text
            """)
    void typesAndPatterns(String values, String expected) {
        assertThat(said(find(Arrays.asList(values.split(";"))))).isEqualTo(expected.replace("` `", " "));
    }

    @Test
    void anUndecidedDateIsAskedForAndAValueThatDecidesIsNamed() {
        Conclusion open = find(List.of("03/04/2026", "05/06/2026"));
        assertThat(open.patterns()).containsExactly("dd/MM/yyyy");
        assertThat(open.doubts())
                .containsExactly("no value decides whether day or month stands first (a.csv:2 \"03/04/2026\"); the day "
                        + "is taken");
        assertThat(find(List.of("03/04/2026", "13/04/2026")).why())
                .contains("a 13 at the first place can only be a day");
    }

    @Test
    void namesOfMonthsThatMeanOthersElsewhereAreNotTakenInSilence() {
        Conclusion found = find(List.of("3 listopad 2025", "4 listopad 2025"));
        assertThat(found.doubts()).singleElement().asString().contains("listopad", "is another month in");
        assertThat(find(List.of("12. März 2026")).why()).contains("with names of German");
        Conclusion almost = find(List.of(
                "1. März 2026", "2. Mai 2026", "3. Juli 2026", "4. Juni 2026", "5. Dezember 2026", "6. Foo 2026"));
        assertThat(almost.type().toString()).isEqualTo("text");
        assertThat(almost.doubts())
                .containsExactly("would be dates with names of months of German (de), but for \"foo\"");
    }

    @Test
    void whatStandsInTheWayIsNamedWithTheFilesThatHoldIt() {
        ColumnProfile a = profile("a.csv", List.of("1", "2", "3"));
        ColumnProfile b = profile("b.csv", List.of("4", "12-A", "5"));
        ColumnProfile both = new ColumnProfile(line -> "");
        both.merge(a);
        both.merge(b);
        Conclusion found = new TypeFinder(both, List.of(a.brief(), b.brief()), (char) 0).find();
        assertThat(found.why())
                .isEqualTo(
                        "text, because 1 of 2 files holds letters here (b.csv:3 \"12-A\"); the other file would be integer");
        assertThat(find(List.of("00501", "10001")).why()).contains("a.csv:2 \"00501\": as a number it would lose");
    }

    @Test
    void rareValuesWithoutLettersDoNotMakeNumbersText() {
        List<String> values = new java.util.ArrayList<>(java.util.Collections.nCopies(200, "1,5"));
        values.set(50, "1.2,33");
        Conclusion found = find(values);
        assertThat(found.type().toString()).isEqualTo("decimal(9,1)");
        assertThat(found.doubts()).singleElement().asString().contains("a.csv:52 \"1.2,33\"", "would be rejected");
    }
}
