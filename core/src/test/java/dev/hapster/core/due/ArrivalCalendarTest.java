package dev.hapster.core.due;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.due.Cell.State;
import dev.hapster.core.due.Due.Periods;
import dev.hapster.core.due.Landed.Became;
import dev.hapster.core.pattern.Fact;
import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** What is due, and what arrived. */
class ArrivalCalendarTest {

    private static final ZoneId VIENNA = ZoneId.of("Europe/Vienna");

    private static Instant at(String local) {
        return LocalDateTime.parse(local).atZone(VIENNA).toInstant();
    }

    private static Due monthly(String by, Map<String, List<String>> facts, String files, String rows) {
        return new Due(
                Each.MONTH,
                Optional.of("month"),
                facts,
                By.of(by, Each.MONTH),
                Amount.of(files),
                Amount.of(rows),
                Optional.empty(),
                Optional.empty(),
                List.of(new Periods(LocalDate.of(2026, 8, 1), LocalDate.of(2026, 8, 1))),
                Set.of(),
                VIENNA);
    }

    private static Landed file(String lab, String month, String at, Became became, long rows) {
        Map<String, Fact> facts = new HashMap<>();
        facts.put("lab", new Fact(lab, Optional.empty()));
        if (!month.isEmpty()) {
            facts.put("month", new Fact(month, Optional.of(month + "-01")));
        }
        return new Landed(lab + "-" + month + ".csv", facts, at(at), 1, became, rows, 0, "");
    }

    private static List<State> states(ArrivalCalendar calendar, int source) {
        return calendar.sources().get(source).cells().stream().map(Cell::state).toList();
    }

    @Test
    void tellsWhatArrivedLateRejectedMissingAndUnusual() {
        Due due = monthly("day 5 08:00", Map.of("lab", List.of("north", "east")), "1", "100 to 1000");
        List<Landed> files = List.of(
                file("north", "2026-03", "2026-04-05T08:00:00", Became.TAKEN, 500),
                file("north", "2026-04", "2026-05-05T08:00:01", Became.TAKEN, 500),
                file("north", "2026-05", "2026-06-01T08:00:00", Became.REJECTED, 0),
                file("north", "2026-06", "2026-07-01T08:00:00", Became.TAKEN, 99),
                file("north", "2026-07", "2026-08-01T08:00:00", Became.TAKEN_OUT, 0),
                file("north", "2026-08", "2026-09-01T08:00:00", Became.TAKEN, 3),
                file("east", "2026-06", "2026-07-01T08:00:00", Became.COPY, 0),
                file("wset", "2026-06", "2026-07-01T08:00:00", Became.TAKEN, 500),
                file("east", "", "2026-07-01T08:00:00", Became.TAKEN, 500),
                file("east", "+12345-01", "2026-07-01T08:00:00", Became.TAKEN, 500),
                file("east", "2027-05", "2026-07-01T08:00:00", Became.TAKEN, 500));
        ArrivalCalendar calendar =
                ArrivalCalendar.of(due, files, Optional.of(at("2026-03-20T06:00:00")), at("2026-10-05T07:59:59"), 12);
        assertThat(calendar.periods().stream().map(Each.MONTH::name))
                .containsExactly(
                        "2026-03", "2026-04", "2026-05", "2026-06", "2026-07", "2026-08", "2026-09", "2026-10");
        assertThat(states(calendar, 0))
                .containsExactly(
                        State.ARRIVED,
                        State.LATE,
                        State.REJECTED,
                        State.UNUSUAL,
                        State.MISSING,
                        State.ARRIVED, // nothing is due for August
                        State.AWAITED,
                        State.AWAITED);
        assertThat(states(calendar, 1))
                .containsExactly(
                        State.MISSING,
                        State.MISSING,
                        State.MISSING,
                        State.MISSING,
                        State.MISSING,
                        State.NONE,
                        State.AWAITED,
                        State.AWAITED);
        assertThat(calendar.sources().get(2).facts()).containsEntry("lab", "wset");
        assertThat(calendar.sources().get(2).due()).isFalse();
        assertThat(calendar.astray())
                .extracting(ArrivalCalendar.Astray::piece)
                .containsExactlyInAnyOrder(Optional.of("month"), Optional.of("month"), Optional.empty());
        assertThat(calendar.until()).as("September is late in a second").isEqualTo(at("2026-10-05T08:00:00"));
        assertThat(calendar.hasFindings()).isTrue();
    }

    @Test
    void whatWasThereBeforeAnybodyLookedIsNotCalledLate() {
        Due due = monthly("day 5 08:00", Map.of(), "1", "at least 0");
        List<Landed> files = List.of(file("", "2026-01", "2026-06-01T08:00:00", Became.TAKEN, 1));
        Instant first = at("2026-06-02T08:00:00");
        ArrivalCalendar calendar = ArrivalCalendar.of(due, files, Optional.of(first), first, 12);
        assertThat(states(calendar, 0).get(0)).isEqualTo(State.ARRIVED);
        assertThat(states(calendar, 0).get(1))
                .as("what is not there is missing")
                .isEqualTo(State.MISSING);
        assertThat(ArrivalCalendar.of(due, List.of(), Optional.empty(), first, 12)
                        .hasFindings())
                .as("nobody ever looked")
                .isFalse();
    }

    @Test
    void filesWithoutADateBelongToTheDayOnWhichTheyArrive() {
        Due due = new Due(
                Each.DAY,
                Optional.empty(),
                Map.of(),
                By.of("08:00", Each.DAY),
                Amount.of("2 to 3"),
                Amount.ANY,
                Optional.of(LocalDate.of(2026, 3, 27)),
                Optional.empty(),
                List.of(),
                Set.of(DayOfWeek.SATURDAY, DayOfWeek.SUNDAY),
                VIENNA);
        List<Landed> files = new ArrayList<>();
        for (String time : List.of(
                "2026-03-27T07:00:00",
                "2026-03-27T07:59:59",
                "2026-03-28T03:00:00",
                "2026-03-30T07:00:00",
                "2026-03-30T09:00:00",
                "2026-03-31T07:00:00")) {
            files.add(file("", "", time, Became.TAKEN, 1));
        }
        Instant since = at("2026-03-01T00:00:00");
        ArrivalCalendar calendar = ArrivalCalendar.of(due, files, Optional.of(since), at("2026-03-31T08:00:00"), 31);
        assertThat(calendar.periods()).first().isEqualTo(LocalDate.of(2026, 3, 27));
        assertThat(states(calendar, 0))
                .as("Friday, a file on Saturday, Sunday with a change of clocks, Monday, Tuesday")
                .containsExactly(State.ARRIVED, State.ARRIVED, State.NONE, State.LATE, State.MISSING);
        assertThat(states(ArrivalCalendar.of(due, files, Optional.of(since), at("2026-03-31T07:59:59"), 1), 0))
                .containsExactly(State.AWAITED);
    }

    @Test
    void deadlinesAreThoseOfTheCalendar() {
        assertThat(by("day 31", Each.MONTH, "2026-01-01")).as("February has 28").isEqualTo(at("2026-03-01T00:00:00"));
        assertThat(by("last day 12:00", Each.MONTH, "2026-02-01")).isEqualTo(at("2026-03-31T12:00:00"));
        assertThat(by("day 20 of the same month", Each.MONTH, "2026-02-01")).isEqualTo(at("2026-02-21T00:00:00"));
        assertThat(by("Tuesday 8:30", Each.WEEK, "2026-12-28")).isEqualTo(at("2027-01-05T08:30:00"));
        assertThat(by("08:00", Each.DAY, "2026-03-28"))
                .as("across a change of clocks")
                .isEqualTo(at("2026-03-29T08:00:00"));
        assertThat(by("day 31 18:00", Each.YEAR, "2025-01-01")).isEqualTo(at("2026-01-31T18:00:00"));
        assertThat(by("day 10", Each.QUARTER, "2026-10-01")).isEqualTo(at("2027-01-11T00:00:00"));
        for (String wrong : List.of(
                "",
                "soon",
                "day 0",
                "day 32",
                "25:00",
                "day 5 08:00 of the same week",
                "Tuesday",
                "08:00",
                "day 5 day 6")) {
            assertThatThrownBy(() -> By.of(wrong, Each.MONTH))
                    .as(wrong)
                    .isInstanceOf(IllegalArgumentException.class)
                    .hasMessageContaining("'" + wrong + "'");
        }
    }

    private static Instant by(String text, Each each, String period) {
        By by = By.of(text, each);
        assertThat(By.of(by.words(each), each)).isEqualTo(by);
        return by.at(LocalDate.parse(period), each, true, VIENNA);
    }

    @Test
    void periodsFollowOneAnotherAndAreFoundByTheirNames() {
        Random random = new Random(7);
        for (Each each : Each.values()) {
            LocalDate start = each.start(LocalDate.of(2019, 12, 30));
            for (int i = 0; i < 500; i++) {
                assertThat(each.parse(each.name(start))).contains(start);
                LocalDate within = start.plusDays(random.nextInt(each.days(start)));
                assertThat(each.start(within)).isEqualTo(start);
                assertThat(each.plus(start, 1)).isEqualTo(start.plusDays(each.days(start)));
                start = each.plus(start, 1);
            }
            assertThat(each.parse("2026-13")).isEmpty();
            assertThat(each.parse("yesterday")).isEmpty();
        }
        assertThat(Each.WEEK.name(LocalDate.of(2020, 12, 28))).isEqualTo("2020-W53");
        assertThat(Each.QUARTER.parse("2026-08")).contains(LocalDate.of(2026, 7, 1));
    }

    @Test
    void amountsAreReadAsTheyAreWritten() {
        for (String text : List.of("3", "at least 1", "at most 5", "100 to 10000")) {
            assertThat(Amount.of(text)).hasToString(text);
        }
        assertThat(Amount.of("2 to 4").holds(5)).isFalse();
        for (String wrong : List.of("", "many", "5 to 3", "-1", "at least 1 to 3")) {
            assertThatThrownBy(() -> Amount.of(wrong)).as(wrong).isInstanceOf(IllegalArgumentException.class);
        }
    }
}
