package dev.hapster.core.calendar;

import dev.hapster.core.catalogue.History;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.edit.ReadEdit;
import dev.hapster.core.due.Amount;
import dev.hapster.core.due.By;
import dev.hapster.core.due.Due;
import dev.hapster.core.due.Each;
import dev.hapster.core.due.Landed;
import dev.hapster.core.pattern.Fact;
import dev.hapster.core.pattern.NamePattern;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.LongSummaryStatistics;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;

/** What may be due for a job, from the names of the files that arrived for it up to now, and when they did. */
public final class DueProposal {

    /** So many values of a piece at most are taken for sources that deliver again and again. */
    private static final int MOST_VALUES = 50;
    /** So many are needed to tell what is usual. */
    private static final int ENOUGH = 3;

    private final List<Landed> files;
    private final List<String> pieces;
    private final Optional<String> dated;
    private final List<String> notes = new ArrayList<>();
    private final StringBuilder text = new StringBuilder("due:\n");

    private DueProposal(List<Landed> files, List<String> pieces, Optional<String> dated) {
        this.files = files;
        this.pieces = pieces;
        this.dated = dated;
    }

    /**
     * A section {@code due} for a job's file.
     *
     * @param text empty where nothing arrived yet
     * @param notes what it is based on, and what could not be told, a sentence each
     */
    public record Proposed(String text, List<String> notes) {}

    /** @param began when runs and retries of the job began, by their number */
    public static Proposed of(
            Collection<Place> places, ArrivedFiles arrived, History history, Map<Long, Instant> began, Instant now) {
        List<NamePattern> names =
                places.stream().flatMap(place -> place.naming().stream()).toList();
        Set<String> dates =
                names.stream().flatMap(name -> name.dates().stream()).collect(Collectors.toSet());
        List<String> pieces = names.stream()
                .flatMap(name -> name.facts().stream())
                .filter(piece -> !dates.contains(piece))
                .distinct()
                .toList();
        Due plain = new Due(
                Each.DAY,
                dates.stream().findFirst(),
                Map.of(),
                By.END,
                Amount.SOME,
                Amount.ANY,
                Optional.empty(),
                Optional.empty(),
                List.of(),
                Set.of(),
                ZoneId.systemDefault());
        List<Landed> all = arrived.of(history, began, plain).stream()
                .filter(Landed::isTaken)
                .toList();
        if (all.isEmpty()) {
            return new Proposed("", List.of("No file was loaded yet, so nothing can be told of what is due."));
        }
        Optional<String> dated = dates.stream()
                .sorted()
                .filter(piece -> 4L
                                * all.stream()
                                        .filter(file -> date(file, piece).isPresent())
                                        .count()
                        >= 3L * all.size())
                .findFirst();
        List<Landed> files = all.stream()
                .filter(file -> dated.isEmpty() || date(file, dated.get()).isPresent())
                .toList();
        DueProposal proposal = new DueProposal(files, pieces, dated);
        if (files.size() < all.size()) {
            Landed other = all.stream()
                    .filter(file -> !files.contains(file))
                    .findFirst()
                    .orElseThrow();
            proposal.notes.add((all.size() - files.size()) + " of " + all.size() + " files, such as " + other.name()
                    + ", bear no date that the job's patterns read, and are left out.");
        }
        return proposal.propose(
                dates, began.values().stream().min(Instant::compareTo).orElse(now));
    }

    private static Optional<LocalDate> date(Landed file, String piece) {
        return Optional.ofNullable(file.facts().get(piece)).flatMap(Fact::day);
    }

    private LocalDate day(Landed file) {
        return dated.map(piece -> date(file, piece).orElseThrow())
                .orElseGet(() -> LocalDate.ofInstant(file.at(), ZoneId.systemDefault()));
    }

    private Proposed propose(Set<String> dates, Instant since) {
        Each each = dated.isPresent() ? named(dated.get()) : landing();
        TreeMap<LocalDate, List<Landed>> periods = new TreeMap<>();
        files.forEach(file -> periods.computeIfAbsent(each.start(day(file)), none -> new ArrayList<>())
                .add(file));
        line(
                "each: " + each.word(),
                "in " + periods.size() + " of them files arrived, " + each.name(periods.firstKey()) + " to "
                        + each.name(periods.lastKey()));
        dated.ifPresent(piece -> {
            if (dates.size() > 1) {
                line("dated: " + piece, "");
            }
        });
        if (dated.isEmpty()) {
            notes.add(
                    dates.isEmpty()
                            ? "No name pattern of the job reads a date, so that a file belongs to the " + each.word()
                                    + " in which it arrived. A piece such as {month:yyyy-MM} in `take` tells what a file "
                                    + "is about."
                            : "Most names lack the date that the job's patterns read, so that a file belongs to the "
                                    + each.word() + " in which it arrived.");
        }
        Map<String, List<String>> facts = facts(each, periods);
        if (!facts.isEmpty()) {
            line("facts: " + ReadEdit.inLine(new LinkedHashMap<String, Object>(facts)), "");
        }
        by(each, since);
        amounts(each, facts.keySet());
        return new Proposed(text.toString(), notes);
    }

    private void line(String key, String why) {
        text.append("  ").append(key).append(why.isEmpty() ? "" : "   # " + why).append('\n');
    }

    /** What periods the dates in names are about. */
    private Each named(String piece) {
        List<String> texts =
                files.stream().map(file -> file.facts().get(piece).text()).toList();
        if (texts.stream().allMatch(name -> name.contains("Q"))) {
            return Each.QUARTER;
        }
        if (texts.stream().allMatch(name -> name.contains("W"))) {
            return Each.WEEK;
        }
        List<LocalDate> days =
                files.stream().map(file -> date(file, piece).orElseThrow()).toList();
        boolean years = files.stream().allMatch(file -> file.facts()
                .get(piece)
                .text()
                .equals(String.valueOf(date(file, piece).orElseThrow().getYear())));
        boolean inMonths = days.stream().anyMatch(day -> day.getDayOfMonth() != 1)
                || texts.stream()
                        .allMatch(
                                name -> name.chars().filter(Character::isDigit).count() >= 8);
        return years ? Each.YEAR : inMonths ? Each.DAY : Each.MONTH;
    }

    /** How far the days on which files arrived lie apart. */
    private Each landing() {
        List<LocalDate> days = files.stream().map(this::day).distinct().sorted().toList();
        List<Long> gaps = new ArrayList<>();
        for (int i = 1; i < days.size(); i++) {
            gaps.add(ChronoUnit.DAYS.between(days.get(i - 1), days.get(i)));
        }
        if (gaps.size() < ENOUGH - 1) {
            notes.add("Files arrived on " + (days.size() == 1 ? "one day" : days.size() + " days")
                    + " only, which does not tell how often they are due: put in what you know.");
        }
        long usual = gaps.isEmpty() ? 1 : gaps.stream().sorted().toList().get(gaps.size() / 2);
        return usual <= 1
                ? Each.DAY
                : usual <= 10 ? Each.WEEK : usual <= 45 ? Each.MONTH : usual <= 135 ? Each.QUARTER : Each.YEAR;
    }

    /** Pieces of names of which the values come again and again. */
    private Map<String, List<String>> facts(Each each, Map<LocalDate, List<Landed>> periods) {
        Map<String, List<String>> facts = new LinkedHashMap<>();
        for (String piece : pieces) {
            Set<String> values = new TreeSet<>();
            Set<String> times = new HashSet<>();
            for (Landed file : files) {
                Fact fact = file.facts().get(piece);
                if (fact != null) {
                    values.add(fact.text());
                    times.add(each.start(day(file)) + " " + fact.text());
                }
            }
            boolean always = files.stream().allMatch(file -> file.facts().containsKey(piece));
            boolean again = values.size() <= MOST_VALUES && 2L * times.size() >= (long) values.size() * periods.size();
            if (always && again && !values.isEmpty()) {
                facts.put(piece, List.copyOf(values));
            } else {
                notes.add("{" + piece + "} in names is not among `facts`: "
                        + (always
                                ? values.size() + " values came, most of them in fewer than half of the periods."
                                : "not all names have it."));
            }
        }
        return facts;
    }

    private void by(Each each, Instant since) {
        List<Long> days = new ArrayList<>();
        for (Landed file : files) {
            if (file.at().isAfter(since)) { // what was there before may have come at any time
                LocalDate first = each.start(day(file));
                LocalDate awaited = dated.isPresent() ? each.plus(first, 1) : first;
                days.add(ChronoUnit.DAYS.between(awaited, LocalDate.ofInstant(file.at(), ZoneId.systemDefault())) + 1);
            }
        }
        days.sort(null);
        if (days.size() < ENOUGH) {
            notes.add("Nobody can tell yet by when files are due: " + (days.isEmpty() ? "none" : days.size())
                    + " arrived since the job first ran. Put in what you know, such as "
                    + (each == Each.DAY ? "`by: \"08:00\"`." : "`by: day 5 08:00`."));
            return;
        }
        long day = days.get((days.size() - 1) * 19 / 20);
        long inTime = days.stream().filter(one -> one <= day).count();
        String why = inTime + " of " + days.size() + " files were there by the end of it";
        if (day < 1) {
            line("by: last day of the same " + each.word(), why);
        } else if (each != Each.DAY && day <= each.days(each.start(LocalDate.of(2026, 2, 1)))) {
            line("by: " + new By((int) day, Optional.empty(), false).words(each), why);
        } else if (day > 1) {
            notes.add("Files arrived up to day " + day + " of the " + each.word()
                    + " in which they are awaited, which is longer than that is; 'by' is left out.");
        }
    }

    private void amounts(Each each, Set<String> facts) {
        Map<String, Long> counts = new HashMap<>();
        Map<String, Long> rows = new HashMap<>();
        for (Landed file : files) {
            String cell = each.start(day(file))
                    + facts.stream()
                            .map(piece -> " " + file.facts().get(piece).text())
                            .collect(Collectors.joining());
            counts.merge(cell, 1L, Long::sum);
            rows.merge(cell, file.rows(), Long::sum);
        }
        LongSummaryStatistics count =
                counts.values().stream().mapToLong(Long::longValue).summaryStatistics();
        line(
                "files: " + (count.getMin() == count.getMax() ? count.getMin() : "at least " + count.getMin()),
                count.getMin() == count.getMax() ? "" : "up to " + count.getMax() + " up to now");
        if (counts.size() >= ENOUGH) {
            LongSummaryStatistics row =
                    rows.values().stream().mapToLong(Long::longValue).summaryStatistics();
            line(
                    "rows: " + rounded(row.getMin() / 2, false) + " to " + rounded(Math.max(1, row.getMax() * 2), true),
                    row.getMin() + " to " + row.getMax() + " up to now");
        }
    }

    /** With one digit that is not zero. */
    private static long rounded(long number, boolean up) {
        long unit = 1;
        while (number / unit >= 10) {
            unit *= 10;
        }
        return (number + (up ? unit - 1 : 0)) / unit * unit;
    }
}
