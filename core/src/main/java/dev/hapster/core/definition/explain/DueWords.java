package dev.hapster.core.definition.explain;

import dev.hapster.core.due.Amount;
import dev.hapster.core.due.By;
import dev.hapster.core.due.Due;
import dev.hapster.core.due.Each;
import java.time.DayOfWeek;
import java.time.format.TextStyle;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/** What is due for a job, in sentences. */
public final class DueWords {

    private DueWords() {}

    /** What a job's file says of what is due. */
    public static List<String> of(Optional<Due> declared) {
        if (declared.isEmpty()) {
            return List.of("Its file does not say which files are to arrive.");
        }
        Due due = declared.get();
        Each each = due.each();
        List<String> sentences = new ArrayList<>();
        String amount = due.files().equals(Amount.SOME) ? "at least one file" : due.files() + " " + files(due.files());
        sentences.add("For each " + each.word() + ", " + amount + (due.facts().isEmpty() ? "" : " of each ")
                + due.facts().entrySet().stream()
                        .map(fact -> fact.getKey() + " (" + some(fact.getValue()) + ")")
                        .collect(Collectors.joining(" and "))
                + (files(due.files()).equals("file") ? " is" : " are") + " due by " + by(due) + " (" + due.zone()
                + ").");
        sentences.add(due.dated()
                .map(piece -> "Which " + each.word() + " a file is about, {" + piece + "} in its name says.")
                .orElse("A file belongs to the " + each.word() + " in which it arrives."));
        if (!due.rows().equals(Amount.ANY)) {
            sentences.add("Usual are " + due.rows() + " rows for each " + each.word()
                    + (due.facts().isEmpty() ? "" : " and source") + ".");
        }
        due.from().ifPresent(from -> sentences.add("The first " + each.word() + " is " + each.name(from) + "."));
        due.until().ifPresent(until -> sentences.add("The last " + each.word() + " is " + each.name(until) + "."));
        List<String> not = new ArrayList<>();
        due.notOn().stream()
                .sorted()
                .map(day -> day.getDisplayName(TextStyle.FULL, Locale.ENGLISH) + "s")
                .forEach(not::add);
        due.notFor()
                .forEach(periods -> not.add(
                        periods.from().equals(periods.to())
                                ? each.name(periods.from())
                                : each.name(periods.from()) + " to " + each.name(periods.to())));
        if (!not.isEmpty()) {
            sentences.add("Nothing is due for " + some(not) + ".");
        }
        return sentences;
    }

    private static String files(Amount amount) {
        return amount.most() == 1 || (amount.least() == 1 && amount.most() == Long.MAX_VALUE) ? "file" : "files";
    }

    private static String by(Due due) {
        By by = due.by();
        Each each = due.each();
        boolean after = due.dated().isPresent() && !by.same();
        String clock = by.time().map(time -> ", " + time).orElse("");
        if (each == Each.DAY) {
            return (after ? "the next day" : "that day") + clock;
        }
        String of = (after ? " of the next " : " of that ") + each.word();
        return (by.day() == By.LAST
                        ? "the last day"
                        : each == Each.WEEK
                                ? DayOfWeek.of(by.day()).getDisplayName(TextStyle.FULL, Locale.ENGLISH)
                                : "day " + by.day())
                + of
                + clock;
    }

    private static String some(List<String> all) {
        int most = 10;
        return String.join(", ", all.subList(0, Math.min(all.size(), most)))
                + (all.size() > most ? " and " + (all.size() - most) + " more" : "");
    }
}
