package dev.hapster.core.schedule;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.time.zone.ZoneOffsetTransition;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class CronTimesTest {

    private static final ZoneId VIENNA = ZoneId.of("Europe/Vienna");

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "0 6 * * *       | 2026-11-30T04:59:59Z | 2026-11-30T05:00:00Z",
                "0 6 * * *       | 2026-11-30T05:00:00Z | 2026-12-01T05:00:00Z",
                "0 6 1 */3 *     | 2026-11-30T05:00:00Z | 2027-01-01T05:00:00Z",
                "0 6 * * MON-FRI | 2026-12-04T12:00:00Z | 2026-12-07T05:00:00Z",
                "0 6 13 * FRI    | 2026-12-04T12:00:00Z | 2026-12-11T05:00:00Z",
                "0 6 13 * FRI    | 2026-12-11T12:00:00Z | 2026-12-13T05:00:00Z",
                "0 6 29 feb *    | 2026-12-11T12:00:00Z | 2028-02-29T05:00:00Z",
                "0 0 * * 7       | 2026-12-11T12:00:00Z | 2026-12-12T23:00:00Z",
                // clocks are put forward on 28 March 2027 at 02:00, and back on 31 October 2027 at 03:00
                "30 2 * * *      | 2027-03-27T12:00:00Z | 2027-03-28T01:00:00Z",
                "30 2 * * *      | 2027-03-28T01:00:00Z | 2027-03-29T00:30:00Z",
                "30 2 * * *      | 2027-10-30T12:00:00Z | 2027-10-31T00:30:00Z",
                "30 2 * * *      | 2027-10-31T00:30:00Z | 2027-11-01T01:30:00Z",
                "30 * * * *      | 2027-10-31T00:30:00Z | 2027-10-31T01:30:00Z",
                "30 * * * *      | 2027-03-28T00:30:00Z | 2027-03-28T01:30:00Z"
            })
    void comesNextAt(String cron, Instant after, Instant expected) {
        assertThat(CronTimes.of(cron).next(after, VIENNA)).isEqualTo(expected);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "0 6 * *       | has 4 fields",
                "0 0 6 * * *   | has 6 fields",
                "@daily        | has 1 fields",
                "60 6 * * *    | '60' in '60 6 * * *' is not a valid minute; write 0 to 59",
                "0 24 * * *    | not a valid hour; write 0 to 23",
                "0 6 0 * *     | not a valid day of the month; write 1 to 31",
                "0 6 * 13 *    | not a valid month; write 1 to 12, or JAN to DEC",
                "0 6 * * 8     | not a valid day of the week; write 0 to 7, or SUN to SAT",
                "0 6 * * FRI-MON | not a valid day of the week",
                "0 6 L * *     | not a valid day of the month",
                "0 6 * * 5#2   | not a valid day of the week",
                "5/15 * * * *  | needs a range in front of the step: 5-59/15",
                "*/0 * * * *   | not a valid minute",
                "'1,,2 * * * *' | '' in",
                "0 6 30 2 *    | never comes",
                "9999999999 * * * * | not a valid minute"
            })
    void saysWhichFieldIsWrong(String cron, String sentence) {
        assertThatIllegalArgumentException()
                .isThrownBy(() -> CronTimes.of(cron))
                .withMessageContaining(sentence);
    }

    /** Against a plain reference that looks at every minute of some days around each change of clocks. */
    @Test
    void agreesWithAPlainReference() {
        Random random = new Random(20261130);
        for (int round = 0; round < 120; round++) {
            ZoneId zone = ZoneId.of(List.of("Europe/Vienna", "America/New_York", "Australia/Lord_Howe", "UTC")
                    .get(random.nextInt(4)));
            String[] fields = {
                random(random, 0, 59, 20),
                random(random, 0, 23, 3),
                random(random, 1, 31, 2),
                random(random, 1, 12, 4),
                random(random, 0, 7, 2)
            };
            String cron = String.join(" ", fields);
            Instant start = random.nextBoolean()
                    ? ZoneId.of("America/New_York")
                            .getRules()
                            .nextTransition(Instant.parse("2027-01-01T00:00:00Z"))
                            .getInstant()
                            .minus(40, ChronoUnit.HOURS)
                    : Instant.parse("2027-01-01T00:00:00Z").plus(random.nextInt(8000), ChronoUnit.HOURS);
            Instant end = start.plus(6, ChronoUnit.DAYS);
            List<Instant> expected = reference(fields, zone, start, end);
            List<Instant> found = new ArrayList<>();
            CronTimes times;
            try {
                times = CronTimes.of(cron);
            } catch (IllegalArgumentException never) {
                assertThat(never).hasMessageContaining("never comes");
                assertThat(expected).isEmpty();
                continue;
            }
            for (Instant next = times.next(start, zone); !next.isAfter(end); next = times.next(next, zone)) {
                found.add(next);
            }
            assertThat(found).as(cron + " in " + zone + " from " + start).isEqualTo(expected);
        }
    }

    private static String random(Random random, int least, int most, int step) {
        int a = least + random.nextInt(most - least + 1);
        int b = least + random.nextInt(most - least + 1);
        return switch (random.nextInt(6)) {
            case 0 -> Integer.toString(a);
            case 1 -> Math.min(a, b) + "-" + Math.max(a, b);
            case 2 -> Math.min(a, b) + "-" + Math.max(a, b) + "/" + step;
            case 3 -> a + "," + b;
            case 4 -> "*/" + step;
            default -> "*";
        };
    }

    private static List<Instant> reference(String[] fields, ZoneId zone, Instant start, Instant end) {
        TreeSet<Instant> times = new TreeSet<>();
        if (fields[1].startsWith("*")) {
            for (Instant at = start; !at.isAfter(end); at = at.plus(1, ChronoUnit.MINUTES)) {
                if (matches(fields, LocalDateTime.ofInstant(at, zone))) {
                    times.add(at);
                }
            }
        } else {
            LocalDateTime local = LocalDateTime.ofInstant(start, ZoneOffset.UTC).minusDays(2);
            for (int minute = 0; minute < 12 * 24 * 60; minute++, local = local.plusMinutes(1)) {
                if (matches(fields, local)) {
                    ZoneOffsetTransition change = zone.getRules().getTransition(local);
                    times.add(
                            change != null && change.isGap()
                                    ? change.getInstant()
                                    : local.atZone(zone)
                                            .withEarlierOffsetAtOverlap()
                                            .toInstant());
                }
            }
        }
        return new ArrayList<>(times.subSet(start, false, end, true));
    }

    private static boolean matches(String[] fields, LocalDateTime at) {
        int weekday = at.getDayOfWeek().getValue() % 7;
        boolean day = matches(fields[2], at.getDayOfMonth(), 1);
        boolean ofWeek = matches(fields[4], weekday, 0) || (weekday == 0 && matches(fields[4], 7, 0));
        boolean days = (fields[2].equals("*") || fields[4].equals("*")) ? (day && ofWeek) : (day || ofWeek);
        return matches(fields[0], at.getMinute(), 0)
                && matches(fields[1], at.getHour(), 0)
                && matches(fields[3], at.getMonthValue(), 1)
                && days;
    }

    private static boolean matches(String field, int value, int least) {
        for (String item : field.split(",")) {
            String[] step = item.split("/");
            String[] range = step[0].equals("*") ? new String[] {"" + least, "99"} : step[0].split("-");
            int from = Integer.parseInt(range[0]);
            int to = range.length > 1 ? Integer.parseInt(range[1]) : from;
            int each = step.length > 1 ? Integer.parseInt(step[1]) : 1;
            if (value >= from && value <= to && (value - from) % each == 0) {
                return true;
            }
        }
        return false;
    }

    @Test
    void namesMayBeInAnyCase() {
        String months = "jan,Mar,DEC";
        assertThat(CronTimes.of("0 0 1 " + months + " sun").next(Instant.parse("2027-01-15T00:00:00Z"), ZoneOffset.UTC))
                .isEqualTo(CronTimes.of("0 0 1 " + months.toUpperCase(Locale.ROOT) + " SUN")
                        .next(Instant.parse("2027-01-15T00:00:00Z"), ZoneOffset.UTC));
    }
}
