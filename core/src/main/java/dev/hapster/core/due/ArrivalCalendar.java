package dev.hapster.core.due;

import dev.hapster.core.due.Cell.State;
import dev.hapster.core.pattern.Fact;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;

/**
 * What is due for a job, and what arrived: periods across, sources down.
 *
 * @param periods their first days, the earliest first
 * @param sources those that are due first, then others that arrived
 * @param astray files that belong to no period or no source
 * @param until as long as nothing arrives, all of this holds until then
 */
public record ArrivalCalendar(
        Due due, List<LocalDate> periods, List<Source> sources, List<Astray> astray, Instant until) {

    /**
     * One source, which is a combination of what names say.
     *
     * @param due whether its files are due; otherwise some arrived all the same
     * @param cells one for each period
     */
    public record Source(Map<String, String> facts, boolean due, List<Cell> cells) {}

    /**
     * A file that belongs nowhere.
     *
     * @param piece the piece of names that it lacks; empty where that is not why
     */
    public record Astray(Landed file, Why why, Optional<String> piece) {}

    /** Why a file belongs nowhere. */
    public enum Why {
        /** Its name lacks a piece. */
        LACKS_PIECE,
        /** It bears the date of a period that lies ahead. */
        LIES_AHEAD,
        /** It is of a source of which none is due, and there are too many of those. */
        OTHER_SOURCE
    }

    /** So many sources are shown of which nothing is due. */
    private static final int MOST_OTHERS = 200;

    /** Whether somebody should look at it. */
    public boolean hasFindings() {
        return !astray.isEmpty()
                || sources.stream()
                        .anyMatch(source ->
                                (!source.due() && source.cells().stream().anyMatch(cell -> cell.taken() > 0))
                                        || source.cells().stream()
                                                .anyMatch(cell -> cell.state().isFinding()));
    }

    /**
     * Puts what arrived beside what is due.
     *
     * @param landed all that arrived, at any time
     * @param since when the job first ran; empty where it never did. Nothing that was due before that is known to be
     *     late
     * @param periods how many are shown at most, up to the present one
     */
    public static ArrivalCalendar of(Due due, List<Landed> landed, Optional<Instant> since, Instant now, int periods) {
        return new Filling(due, since, now).fill(landed, periods);
    }

    /** Fills a calendar. */
    private static final class Filling {
        private final Due due;
        private final Optional<Instant> since;
        private final Instant now;
        private final LocalDate present;
        private final Map<Map<String, String>, TreeMap<LocalDate, List<Landed>>> arrived = new LinkedHashMap<>();
        private final List<Astray> astray = new ArrayList<>();

        Filling(Due due, Optional<Instant> since, Instant now) {
            this.due = due;
            this.since = since;
            this.now = now;
            present = due.period(now);
        }

        ArrivalCalendar fill(List<Landed> landed, int count) {
            landed.stream()
                    .sorted(Comparator.comparing(Landed::at).thenComparing(Landed::name))
                    .forEach(this::place);
            Optional<LocalDate> first =
                    arrived.values().stream().map(TreeMap::firstKey).min(LocalDate::compareTo);
            Optional<LocalDate> from = due.from()
                    .or(() -> Stream.concat(first.stream(), since.stream().map(due::period))
                            .min(LocalDate::compareTo));
            LocalDate shown = Stream.concat(from.stream(), first.stream())
                    .min(LocalDate::compareTo)
                    .orElse(present);
            LocalDate begin = due.each().plus(present, 1L - count);
            List<LocalDate> periods = new ArrayList<>();
            for (LocalDate period = shown.isAfter(begin) ? shown : begin;
                    !period.isAfter(present);
                    period = due.each().plus(period, 1)) {
                periods.add(period);
            }
            if (periods.isEmpty()) {
                periods.add(present);
            }
            List<Source> sources = new ArrayList<>();
            Set<Map<String, String>> expected = new LinkedHashSet<>(due.combinations());
            expected.forEach(facts -> sources.add(source(facts, true, periods, from)));
            List<Map<String, String>> others = arrived.keySet().stream()
                    .filter(facts -> !expected.contains(facts))
                    .sorted(Comparator.comparing(Object::toString))
                    .toList();
            int most = Math.min(others.size(), MOST_OTHERS);
            others.subList(0, most).forEach(facts -> sources.add(source(facts, false, periods, from)));
            others.subList(most, others.size()).forEach(facts -> arrived.get(facts)
                    .values()
                    .forEach(files -> files.forEach(file -> astray(file, Why.OTHER_SOURCE, Optional.empty()))));
            return new ArrivalCalendar(due, periods, sources, astray, until(from));
        }

        private void place(Landed file) {
            LocalDate period = due.period(file.at());
            if (due.dated().isPresent()) {
                Optional<LocalDate> said = Optional.ofNullable(
                                file.facts().get(due.dated().get()))
                        .flatMap(Fact::day)
                        .map(due.each()::start);
                if (said.isEmpty() || said.get().isAfter(present)) {
                    astray(file, said.isEmpty() ? Why.LACKS_PIECE : Why.LIES_AHEAD, due.dated());
                    return;
                }
                period = said.get();
            }
            Map<String, String> facts = new LinkedHashMap<>();
            for (String piece : due.facts().keySet()) {
                Fact fact = file.facts().get(piece);
                if (fact == null) {
                    astray(file, Why.LACKS_PIECE, Optional.of(piece));
                    return;
                }
                facts.put(piece, fact.text());
            }
            arrived.computeIfAbsent(facts, none -> new TreeMap<>())
                    .computeIfAbsent(period, none -> new ArrayList<>())
                    .add(file);
        }

        private void astray(Landed file, Why why, Optional<String> piece) {
            if (file.isTaken() || file.isRejected()) {
                astray.add(new Astray(file, why, why == Why.LACKS_PIECE ? piece : Optional.empty()));
            }
        }

        private Source source(
                Map<String, String> facts, boolean expected, List<LocalDate> periods, Optional<LocalDate> from) {
            Map<LocalDate, List<Landed>> there = arrived.getOrDefault(facts, new TreeMap<>());
            return new Source(
                    facts,
                    expected,
                    periods.stream()
                            .map(period -> cell(
                                    there.getOrDefault(period, List.of()),
                                    period,
                                    expected
                                            && from.filter(first -> !period.isBefore(first))
                                                    .isPresent()
                                            && due.isFor(period)))
                            .toList());
        }

        private Cell cell(List<Landed> files, LocalDate period, boolean expected) {
            List<Landed> taken = files.stream().filter(Landed::isTaken).toList();
            boolean rejected = files.stream().anyMatch(Landed::isRejected);
            if (!expected) {
                return new Cell(
                        rejected ? State.REJECTED : taken.isEmpty() ? State.NONE : State.ARRIVED,
                        Optional.empty(),
                        files,
                        Optional.empty());
            }
            Instant by = due.deadline(period);
            int least = Math.toIntExact(due.files().least());
            boolean all = taken.size() >= least;
            Optional<Instant> complete =
                    all && least > 0 ? Optional.of(taken.get(least - 1).at()) : Optional.empty();
            // what was due before anybody looked may have been there in time
            boolean late = complete.filter(at -> at.isAfter(by)).isPresent()
                    && since.filter(first -> !first.isAfter(by)).isPresent();
            long rows = taken.stream().mapToLong(Landed::rows).sum();
            boolean over = !now.isBefore(by);
            boolean unusual = taken.size() > due.files().most()
                    || rows > due.rows().most()
                    || (all
                            && rows < due.rows().least()
                            && (over || taken.size() >= due.files().most()));
            State state = rejected
                    ? State.REJECTED
                    : !all
                            ? over ? State.MISSING : State.AWAITED
                            : late
                                    ? State.LATE
                                    : unusual
                                            ? State.UNUSUAL
                                            : taken.isEmpty() && !over ? State.AWAITED : State.ARRIVED;
            return new Cell(state, Optional.of(by), files, complete);
        }

        /** The next moment at which something is late, or a period begins. */
        private Instant until(Optional<LocalDate> from) {
            Instant next = due.each().plus(present, 1).atStartOfDay(due.zone()).toInstant();
            // a period's files may be due long after it is over
            for (LocalDate period = due.each().plus(present, -1);
                    !period.isAfter(present);
                    period = due.each().plus(period, 1)) {
                Instant by = due.deadline(period);
                if (from.isPresent() && by.isAfter(now) && by.isBefore(next)) {
                    next = by;
                }
            }
            return next;
        }
    }
}
