package dev.hapster.core.definition;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.expression.Expression;
import dev.hapster.core.expression.FailedException;
import dev.hapster.core.expression.GivenNames;
import dev.hapster.core.pattern.ByteSize;
import dev.hapster.core.pattern.DatePattern;
import dev.hapster.core.pattern.Durations;
import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.pattern.RegexSize;
import dev.hapster.core.pattern.TimeRange;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Spoils texts that people write at random. Whatever happens is a mistake that is named; nothing takes long. */
class TextFuzzTest {

    private static final int FEW = 400;
    private static final Duration LONG = Duration.ofSeconds(5);

    private static final String DATASET =
            """
            dataset: samples
            key: [id]
            columns:
              - {name: id, type: text, required: true, matches: "[A-Z]{2}[0-9]+", length: 12}
              - {name: day, type: date, min: 2020-01-01}
              - {name: value, type: "decimal(10,3)", default: 0}
              - {name: at, type: timestamp}
            retain: {replaced: 30d, history: 365d}
            """;

    private static final String JOB =
            """
            job: small
            into: samples
            values: {month: 2026-01, dir: "in/${month}"}
            find:
              - folder: "${dir}"
                depth: 2
                settle: 5s
                take: ["lab_{site}_{day:yyyyMMdd}*.csv", {regex: "x[0-9]+[.]csv"}]
                skip: ["*.tmp"]
                modified: last 14 days
                size: {from: 1 kB}
            read: {separator: [";", ","], empty_as: ["", "-"], slow: 5min, lines_above: 2}
            map:
              id: {from: [Probe, Sample], clean: [trim, upper]}
              day: {from: Tag, pattern: ["dd.MM.yyyy", "yyyy-MM-dd"]}
              value: Wert
            keep: 'value > 0.0 && id.matches("^A") || source["Art"] == "x"'
            duplicates: {by: [id], then: keep_last}
            after: {loaded: {move: "done/{run:yyyy-MM}"}, rejected: {copy: bad, as: "{stem}-{run}{ending}"}}
            rejects: {file_at: 10%}
            """;

    private static final List<String> TOKENS = List.of(
            "{",
            "}",
            "[",
            "]",
            ":",
            ",",
            "\"",
            "'",
            "\n",
            "  ",
            "- ",
            "#",
            "&x ",
            "*x",
            "!!int ",
            "? ",
            "|\n",
            ">\n",
            "\t",
            "${",
            "}",
            "${month}",
            "{date:yyyy}",
            "..",
            "/",
            "\\",
            "*",
            "**",
            "?",
            "(",
            ")",
            "(a{1,1000}){1,1000}",
            "[^",
            "+",
            "\u0000",
            "\u001b",
            "\ud800",
            "\ud83d\udca7",
            "\u00e4",
            "\ufeff",
            "null",
            "true",
            "1e999",
            "-1",
            "99999999999999999999",
            "0x",
            ".inf",
            "2026-13-45",
            "&&",
            "||",
            "!",
            "==",
            "has(",
            ".matches(",
            "size(",
            "row",
            "source[",
            "%",
            "d",
            "y".repeat(300));

    private enum Kind {
        DATASET,
        JOB,
        VALUES,
        CONDITION,
        NAMES,
        REGEX,
        DATE,
        RANGE,
        SIZES
    }

    @ParameterizedTest
    @EnumSource(Kind.class)
    void spoiltTextsAreMistakes(Kind kind) throws Exception {
        long seconds = Long.getLong("hapster.fuzz.seconds", 0);
        long seed = seconds == 0 ? 7 : System.nanoTime();
        long end = System.nanoTime() + Duration.ofSeconds(seconds).toNanos();
        Random random = new Random(seed);
        if (kind == Kind.JOB || kind == Kind.DATASET) {
            read(kind, good(kind, random)); // what is spoilt was good
        }
        long tries = 0;
        while (seconds == 0 ? tries < FEW : System.nanoTime() < end) {
            tries++;
            String text = spoil(good(kind, random), random);
            long begun = System.nanoTime();
            try {
                read(kind, text);
            } catch (DefinitionException | Expression.WrongException | FailedException told) {
                assertThat(told.getMessage()).isNotBlank();
            } catch (IllegalArgumentException told) {
                assertThat(told.getMessage()).as(text).isNotBlank();
                assertThat(told).as(text).isExactlyInstanceOf(IllegalArgumentException.class);
            } catch (RuntimeException | StackOverflowError | OutOfMemoryError wrong) {
                throw new AssertionError(kind + " with seed " + seed + ", try " + tries + ":\n" + text, wrong);
            }
            assertThat(Duration.ofNanos(System.nanoTime() - begun)).as(text).isLessThan(LONG);
        }
        assertThat(tries).isPositive();
    }

    private static String good(Kind kind, Random random) {
        List<String> all =
                switch (kind) {
                    case DATASET -> List.of(DATASET);
                    case JOB -> List.of(JOB);
                    case VALUES -> List.of("a: b\nmonth: \"2026-${a}\"\nc: ${month}\n");
                    case CONDITION ->
                        List.of(
                                "value > 1 && id.matches(\"^A.*\")",
                                "source[\"Art\"] in [\"a\", \"b\"] ? has(row.id) : size(id) > 3",
                                "[1, 2].exists(x, x > value) || double(id) * 2.0 > 1.0",
                                "id.split(\"A\").map(x, x.padLeft(9, \"b\").replace(\"b\", id)).join(id).size() > value",
                                "date(id, \"dd.MM.yyyy\").format(\"d. MMM\") == coalesce(null, id).replaceAll(\"A+\", \"$0\")");
                    case NAMES -> List.of("lab_{site}_{day:yyyyMMdd}*.csv", "{a,b{c,d}}/**/[!x]?.csv", "a.zip!/*.csv");
                    case REGEX -> List.of("^(?<site>[A-Z]+)_(\\d{2,8})[.]csv$", "(a|b)*?c{2}");
                    case DATE -> List.of("dd.MM.yyyy HH:mm", "d MMM yyyy", "yyyy-MM-dd'T'HH:mm:ss.SSSXXX", "epoch_ms");
                    case RANGE -> List.of("after 7 days ago", "between 2026-01-01 and 2026-02-01", "last month");
                    case SIZES -> List.of("10 kB", "1.5 GiB", "2h", "PT5M", "10 min");
                };
        return all.get(random.nextInt(all.size()));
    }

    private static String spoil(String good, Random random) {
        StringBuilder text = new StringBuilder(good);
        for (int i = random.nextInt(4) + 1; i > 0; i--) {
            int at = random.nextInt(text.length() + 1);
            switch (random.nextInt(4)) {
                case 0 -> text.insert(at, TOKENS.get(random.nextInt(TOKENS.size())));
                case 1 -> text.delete(at, Math.min(text.length(), at + random.nextInt(12)));
                case 2 -> text.insert(at, text.substring(at, Math.min(text.length(), at + random.nextInt(60))));
                default ->
                    text.insert(at, TOKENS.get(random.nextInt(TOKENS.size())).repeat(random.nextInt(40)));
            }
        }
        return text.toString();
    }

    private static void read(Kind kind, String text) throws Exception {
        switch (kind) {
            case DATASET -> Definitions.dataset("datasets/samples.yaml", text);
            case JOB -> {
                DatasetDef dataset = TestJobs.dataset(
                        "{name: id, type: text}", "{name: day, type: date}", "{name: value, type: integer}");
                Definitions.job(
                        "jobs/small.yaml", text, name -> Optional.of(dataset), Set.of("samples"), Values.none());
            }
            case VALUES -> {
                Values values = Values.of(
                        Definitions.values("values.yaml", text), Map.of(), Map.of(), java.time.Clock.systemUTC());
                values.new Expansion(Map.of()).expand("x${c}y${month}{date:yyyy-MM}");
            }
            case CONDITION ->
                Expression.of(text, Map.of("id", Expression.Type.TEXT, "value", Expression.Type.INTEGER))
                        .in(new GivenNames(
                                name -> name.equals("value") ? 5L : name.equals("id") ? "A".repeat(2_000) : Map.of()))
                        .holds();
            case NAMES -> NamePattern.of(text).matches("lab_x_20260101/" + "a".repeat(2_000) + ".csv");
            case REGEX -> {
                assertThat(RegexSize.of(text)).isNotNegative();
                NamePattern.regex(text, false).matches("a".repeat(2_000) + ".csv");
            }
            case DATE -> DatePattern.of(text);
            case RANGE -> TimeRange.of(text);
            case SIZES -> {
                try {
                    ByteSize.parse(text);
                } catch (IllegalArgumentException none) {
                    Durations.parse(text);
                }
            }
        }
    }
}
