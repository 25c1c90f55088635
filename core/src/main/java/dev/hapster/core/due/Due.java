package dev.hapster.core.due;

import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * What is to arrive for a job, again and again.
 *
 * @param dated the piece of names that says which period a file is about; empty where it is the one in which it lands
 * @param facts what other pieces of names say, and all that they are to say in each period; files of each combination
 *     are due
 * @param files how many, of each combination
 * @param rows how many they have together, of each combination
 * @param from the first day of the first period for which files are due; empty where that is the first for which any
 *     arrived, or the job ran
 * @param until the first day of the last period
 * @param notFor periods for which nothing is due
 * @param notOn days of the week for which nothing is due
 */
public record Due(
        Each each,
        Optional<String> dated,
        Map<String, List<String>> facts,
        By by,
        Amount files,
        Amount rows,
        Optional<LocalDate> from,
        Optional<LocalDate> until,
        List<Periods> notFor,
        Set<DayOfWeek> notOn,
        ZoneId zone) {

    public Due {
        facts = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(facts));
        notFor = List.copyOf(notFor);
        notOn = Set.copyOf(notOn);
    }

    /** Periods from one to another, both included, by their first days. */
    public record Periods(LocalDate from, LocalDate to) {
        boolean hold(LocalDate start) {
            return !start.isBefore(from) && !start.isAfter(to);
        }
    }

    /** The period in which a moment lies. */
    public LocalDate period(Instant moment) {
        return each.start(LocalDate.ofInstant(moment, zone));
    }

    /** Whether files are due for a period, as far as this says. */
    public boolean isFor(LocalDate period) {
        return from.filter(period::isBefore).isEmpty()
                && until.filter(period::isAfter).isEmpty()
                && notFor.stream().noneMatch(left -> left.hold(period))
                && !(each == Each.DAY && notOn.contains(period.getDayOfWeek()));
    }

    /** The moment at which the files of a period are late. */
    public Instant deadline(LocalDate period) {
        return by.at(period, each, dated.isPresent(), zone);
    }

    /** All combinations of what names are to say; one that says nothing where it does not matter. */
    public List<Map<String, String>> combinations() {
        List<Map<String, String>> all = List.of(Map.of());
        for (Map.Entry<String, List<String>> piece : facts.entrySet()) {
            List<Map<String, String>> longer = new ArrayList<>();
            for (Map<String, String> before : all) {
                for (String value : piece.getValue()) {
                    Map<String, String> one = new LinkedHashMap<>(before);
                    one.put(piece.getKey(), value);
                    longer.add(one);
                }
            }
            all = longer;
        }
        return all;
    }
}
