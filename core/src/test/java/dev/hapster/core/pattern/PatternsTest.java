package dev.hapster.core.pattern;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.ibm.icu.text.DateFormatSymbols;
import com.ibm.icu.util.GregorianCalendar;
import com.ibm.icu.util.ULocale;
import java.nio.file.FileSystems;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import java.util.Optional;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import net.jqwik.api.constraints.LongRange;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PatternsTest {

    @ParameterizedTest
    @CsvSource(
            delimiter = '#',
            value = {
                "samples-*.csv # samples-2026-01.csv # true",
                "samples-*.csv # sub/samples-1.csv # true",
                "samples-??.csv # samples-1.csv # false",
                "*.{csv,txt} # a.txt # true",
                "*.{csv,txt} # a.tsv # false",
                "[a-c]*.csv # bird.csv # true",
                "[!a-c]*.csv # bird.csv # false",
                "**/x.csv # x.csv # true",
                "**/x.csv # a/b/x.csv # true",
                "a/*.csv # a/b/x.csv # false",
                "a/** # a/b/x.csv # true",
                "a,b # a,b # true",
                "~$*.xlsx # ~$list.xlsx # true",
                "a\\*b # a*b # true",
                "a\\*b # axb # false",
                "(a+)+$ # aaaa # false"
            })
    void namesMatch(String pattern, String name, boolean matches) {
        assertThat(NamePattern.of(pattern).matches(name)).isEqualTo(matches);
    }

    @Test
    void badNamePatternsSayWhy() {
        assertThatThrownBy(() -> NamePattern.of("a[b")).hasMessage("'[' is never closed in a[b");
        assertThatThrownBy(() -> NamePattern.of("{a,b")).hasMessage("'{' is never closed in {a,b");
        assertThatThrownBy(() -> NamePattern.of("/etc/*")).hasMessageContaining("relative");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '#',
            value = {
                "{lab}/samples-{month:yyyy-MM}.csv # north/samples-2026-03.csv # {lab=north, month=2026-03 2026-03-01}",
                "{a}-{b}.csv # x-y-z.csv # {a=x, b=y-z}",
                "{year:yyyy}{month:MM}_{n:integer}.txt # 202603_017.txt # {year=2026 2026-01-01, month=03, n=017}",
                "d{day:dd.MM.yyyy HH-mm}*.csv # d31.01.2026 07-05 (2).csv # {day=31.01.2026 07-05 2026-01-31T07:05}",
                "q{q:yyyy-'Q'Q}.csv # q2026-Q2.csv # {q=2026-Q2 2026-04-01}",
                "{m:MMM yyyy}.csv # Mar 2026.csv # {m=Mar 2026 2026-03-01}"
            })
    void piecesOfNamesBecomeFacts(String pattern, String name, String facts) {
        assertThat(NamePattern.of(pattern).says(name).orElseThrow().entrySet().stream()
                        .map(fact -> fact.getKey() + "=" + fact.getValue().text()
                                + fact.getValue().iso().map(iso -> " " + iso).orElse(""))
                        .collect(java.util.stream.Collectors.joining(", ", "{", "}")))
                .isEqualTo(facts);
    }

    @Test
    void aHostileNameCostsNothing() {
        String name = "a".repeat(250);
        NamePattern pattern = NamePattern.of("{a,a*,*a,{a,*}*}".repeat(12) + "*".repeat(1) + "b");
        assertThat(pattern.matches(name)).isFalse();
        assertThat(pattern.matches(name + "b")).isTrue();
        assertThat(NamePattern.regex("(a+)+(a|aa)*$", false).matches(name + "b"))
                .isFalse();
    }

    @Test
    void piecesThatCannotBeMeantSayWhy() {
        assertThatThrownBy(() -> NamePattern.of("{lab}*.csv")).hasMessageContaining("nothing tells where {lab} ends");
        assertThatThrownBy(() -> NamePattern.of("{a}{b}.csv")).hasMessageContaining("nothing tells where {a} ends");
        assertThatThrownBy(() -> NamePattern.of("{x}-{x}.csv")).hasMessage("the piece {x} stands twice in one pattern");
        assertThatThrownBy(() -> NamePattern.of("{n,{lab}}.csv")).hasMessageContaining("among alternatives");
        assertThatThrownBy(() -> NamePattern.of("{m:QXJ}.csv")).hasMessageContaining("means nothing");
        assertThat(NamePattern.of("f-{day:yyyy-MM-dd}.csv").nearly("f-2026-02-30.csv"))
                .contains("day in its name, \"2026-02-30\", is not a date written as yyyy-MM-dd");
    }

    @Property
    void namePatternsAgreeWithThoseOfThePlatform(@ForAll("patterns") String pattern, @ForAll("names") String name) {
        boolean expected =
                FileSystems.getDefault().getPathMatcher("glob:" + pattern).matches(Path.of(name));
        assertThat(NamePattern.of(pattern).matches(name)).isEqualTo(expected);
    }

    @Provide
    Arbitrary<String> patterns() {
        return Arbitraries.of(
                        "*",
                        "?",
                        "a",
                        "b",
                        "ä",
                        ".",
                        "[ab]",
                        "[!b]",
                        "{a,bb}",
                        "{,b*,[a-c]ä}",
                        " ",
                        "'",
                        "\"",
                        "🜁",
                        "\n")
                .list()
                .ofMinSize(1)
                .ofMaxSize(6)
                .map(pieces -> String.join("", pieces).replaceAll("\\*+", "*"));
    }

    @Provide
    Arbitrary<String> names() {
        return Arbitraries.of("a", "b", "ä", ".", " ", "'", "\"", "🜁", "\n", "\t", "x")
                .list()
                .ofMinSize(1)
                .ofMaxSize(6)
                .map(pieces -> String.join("", pieces))
                .filter(name -> !name.equals(".") && !name.equals(".."));
    }

    @ParameterizedTest
    @CsvSource({
        "dd.MM.yyyy, 31.01.2026, 2026-01-31T00:00",
        "d.M.yy, 1.2.26, 2026-02-01T00:00",
        "d.M.yy, 1.2.70, 1970-02-01T00:00",
        "dd.MM.yyyy HH:mm, 31.01.2026 07:05, 2026-01-31T07:05",
        "yyyyMMdd'T'HHmmss, 20260131T235959, 2026-01-31T23:59:59",
        "MMM d yyyy, Jan 5 2026, 2026-01-05T00:00",
        "yyyy-MM-dd HH:mm:ss.SSS, 2026-01-31 00:00:00.250, 2026-01-31T00:00:00.250",
        "yyyy-MM-dd HH:mm XXX, 2026-01-31 12:00 +02:00, 2026-01-31T10:00"
    })
    void datesAreReadAsWritten(String pattern, String text, String expected) {
        assertThat(DatePattern.of(pattern).parse(text)).isEqualTo(micros(LocalDateTime.parse(expected)));
    }

    @ParameterizedTest
    @CsvSource({
        "2026-01-31, 2026-01-31T00:00",
        "2026-01-31T07:05, 2026-01-31T07:05",
        "2026-01-31 07:05:09.5, 2026-01-31T07:05:09.500",
        "2026-01-31T12:00Z, 2026-01-31T12:00",
        "2026-01-31T12:00:00+02:00, 2026-01-31T10:00",
        "0001-01-01, 0001-01-01T00:00"
    })
    void isoIsReadInAllItsLengths(String text, String expected) {
        assertThat(DatePattern.ISO.parse(text)).isEqualTo(micros(LocalDateTime.parse(expected)));
    }

    @ParameterizedTest
    @CsvSource({
        "dd.MM.yyyy, 31.02.2026, true",
        "dd.MM.yyyy, 29.02.2025, true",
        "dd.MM.yyyy, 1.2.2026, false",
        "dd.MM.yyyy, 01.02.2026 x, false",
        "dd.MM.yyyy, 01-02-2026, false",
        "d MMM yyyy, 31 Feb 2026, true",
        "d MMM yyyy, 1 Fbe 2026, false",
        "HH:mm, 24:00, true"
    })
    void daysThatDoNotExistAreToldFromTextsWrittenOtherwise(String pattern, String text, boolean written) {
        assertThat(DatePattern.of(pattern).parse(text))
                .isEqualTo(written ? DatePattern.NO_SUCH_DAY : DatePattern.UNREADABLE);
    }

    @Property
    void everyMomentIsReadBackAsItWasWritten(
            @ForAll @LongRange(min = -62_000_000_000L, max = 250_000_000_000L) long second) {
        LocalDateTime moment = LocalDateTime.ofEpochSecond(second, 0, ZoneOffset.UTC);
        for (String pattern : new String[] {"uuuu-MM-dd HH:mm:ss", "dd.MM.yyyy HH:mm:ss", "d MMMM yyyy HH:mm:ss"}) {
            String text = DateTimeFormatter.ofPattern(pattern.replace('y', 'u'), Locale.ENGLISH)
                    .format(moment);
            assertThat(DatePattern.of(pattern).parse(text)).as(text).isEqualTo(micros(moment));
        }
        assertThat(DatePattern.ISO.parse(DateTimeFormatter.ISO_LOCAL_DATE_TIME.format(moment)))
                .isEqualTo(micros(moment));
    }

    @Test
    void monthsOfAllLanguagesAreReadByTheirNames() {
        int read = 0;
        for (ULocale locale : ULocale.getAvailableLocales()) {
            Optional<DateNames> names = DateNames.of(locale.toLanguageTag());
            String[] months = new DateFormatSymbols(new GregorianCalendar(locale), locale).getMonths();
            for (int month = 1; names.isPresent() && month <= 12; month++) {
                String name = months[month - 1];
                if (name.matches("[\\p{L}\\p{M}]+")) {
                    DatePattern pattern = DatePattern.of("d MMMM yyyy").in(Optional.of(locale.toLanguageTag()));
                    assertThat(pattern.parse("12 " + name.toUpperCase(java.util.Locale.ROOT) + " 2026"))
                            .as(locale + " " + name)
                            .isEqualTo(micros(LocalDateTime.of(2026, month, 12, 0, 0)));
                    read++;
                }
            }
        }
        assertThat(read).isGreaterThan(5_000);
        Optional<String> german = Optional.of("de");
        assertThat(DatePattern.of("EEEE, d. MMM yyyy").in(german).parse("Donnerstag, 12. Mär. 2026"))
                .isEqualTo(micros(LocalDateTime.of(2026, 3, 12, 0, 0)));
        assertThat(DatePattern.of("d. MMMM yyyy").in(german).parse("30. Februar 2026"))
                .isEqualTo(DatePattern.NO_SUCH_DAY);
        assertThat(DatePattern.of("d. MMMM yyyy").in(german).flaw("30. Februar 2026"))
                .isEqualTo("February has no day 30");
        assertThatThrownBy(() -> DatePattern.of("d. MMMM yyyy").in(Optional.of("xx")))
                .hasMessageContaining("no names of months are known of the language xx");
    }

    @Test
    void badDatePatternsSayWhy() {
        assertThatThrownBy(() -> DatePattern.of("dd.MM.")).hasMessageContaining("neither a whole day");
        assertThatThrownBy(() -> DatePattern.of("yyyy-MM-dd'T")).hasMessageContaining("never closed");
        assertThatThrownBy(() -> DatePattern.of("yyyy-MM-dd jj")).hasMessageContaining("means nothing");
    }

    @ParameterizedTest
    @CsvSource({
        "last 7 days, 2026-03-08T12:00:00Z, ",
        "last 12 hours, 2026-03-15T00:00:00Z, ",
        "today, 2026-03-14T23:00:00Z, 2026-03-15T23:00:00Z",
        "last month, 2026-01-31T23:00:00Z, 2026-02-28T23:00:00Z",
        "this week, 2026-03-08T23:00:00Z, 2026-03-15T23:00:00Z",
        "since last month, 2026-01-31T23:00:00Z, ",
        "since 31.01.2026, 2026-01-30T23:00:00Z, ",
        "before 2026-01-01T06:00, , 2026-01-01T05:00:00Z",
        "2026-01-01 to 2026-03-31, 2025-12-31T23:00:00Z, 2026-03-31T22:00:00Z"
    })
    void rangesOfTimeAreWhatTheWordsSay(String words, java.time.Instant from, java.time.Instant to) {
        TimeRange.Span span = TimeRange.of(words)
                .at(java.time.Instant.parse("2026-03-15T12:00:00Z"), java.time.ZoneId.of("Europe/Vienna"));
        assertThat(span.from().orElse(null)).isEqualTo(from);
        assertThat(span.to().orElse(null)).isEqualTo(to);
    }

    @ParameterizedTest
    @CsvSource({"500, 500", "1 kB, 1000", "1 KiB, 1024", "2.5 MB, 2500000", "1 GiB, 1073741824"})
    void sizesKeepThousandAndItsBinaryNeighbourApart(String text, long bytes) {
        assertThat(ByteSize.parse(text)).isEqualTo(bytes);
    }

    private static long micros(LocalDateTime moment) {
        return moment.toEpochSecond(ZoneOffset.UTC) * 1_000_000 + moment.getNano() / 1000;
    }

    @Test
    void aTextBeforeADateMayHaveTheMarksThatDivideThem() {
        NamePattern pattern = NamePattern.of("{lab}-{month:yyyy-MM}.csv");
        assertThat(pattern.says("north-lab-2026-01.csv")
                        .orElseThrow()
                        .get("lab")
                        .text())
                .isEqualTo("north-lab");
        assertThat(pattern.says("a-2026-01.csv").orElseThrow().get("month").iso())
                .hasValue("2026-01-01");
        assertThat(pattern.nearly("a-2026-1.csv"))
                .hasValueSatisfying(why -> assertThat(why).contains("month in its name"));
        assertThat(pattern.nearly("a.csv")).isEmpty();
        assertThat(pattern.nearly("a-2026-01.csv")).isEmpty();
        assertThat(NamePattern.of("a-*.csv").nearly("A-1.CSV"))
                .hasValue("only case differs from \"a-*.csv\"; any_case: true takes it");
        assertThat(NamePattern.regex("a-[0-9].csv", false).nearly("A-1.CSV")).isPresent();
        assertThat(NamePattern.of("a-*.csv", true).nearly("A-1.CSV")).isEmpty();
    }
}
