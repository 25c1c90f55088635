package dev.hapster.core.draft;

import com.google.re2j.Pattern;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.draft.ColumnDrafts.Column;
import dev.hapster.core.draft.name.ColumnNames;
import dev.hapster.core.pattern.RegexSize;
import dev.hapster.core.shape.Binding;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;

/**
 * Which column of the files feeds which column of a dataset that exists: by name where the names are the same,
 * otherwise by what the values look like.
 */
final class IntoMatch {

    private static final int ENOUGH = 50;

    /**
     * A pair.
     *
     * @param column of the files
     * @param sure how sure it is, of 100
     * @param why what it rests on
     * @param clean steps by which its values fit; empty where none is needed
     */
    record Pair(Column column, int sure, String why, List<String> clean) {}

    private record Option(ColumnDef target, Column column, int sure, String why, List<String> clean) {}

    private IntoMatch() {}

    /** Pairs by the name of the dataset's column. */
    static Map<String, Pair> of(DatasetDef dataset, List<Column> columns) {
        Map<String, Pair> pairs = new LinkedHashMap<>();
        List<Column> left = new ArrayList<>(columns);
        List<ColumnDef> open = new ArrayList<>();
        for (ColumnDef target : dataset.columns()) {
            left.stream()
                    .filter(column -> isNamed(target, column))
                    .findFirst()
                    .ifPresentOrElse(
                            column -> {
                                left.remove(column);
                                pairs.put(
                                        target.name(),
                                        new Pair(
                                                column,
                                                100,
                                                "the names are the same",
                                                fitting(target, column).clean()));
                            },
                            () -> open.add(target));
        }
        List<Option> options = new ArrayList<>();
        for (ColumnDef target : open) {
            for (Column column : left) {
                Option option = option(dataset, target, column);
                if (option.sure >= ENOUGH) {
                    options.add(option);
                }
            }
        }
        options.sort(Comparator.comparing((Option option) -> -option.sure));
        for (Option option : options) {
            boolean rival = options.stream()
                    .anyMatch(other -> !other.equals(option)
                            && other.sure == option.sure
                            && other.target.equals(option.target) != other.column.equals(option.column));
            if (!pairs.containsKey(option.target.name()) && left.contains(option.column) && !rival) {
                left.remove(option.column);
                pairs.put(option.target.name(), new Pair(option.column, option.sure, option.why, option.clean));
            }
        }
        return pairs;
    }

    private static boolean isNamed(ColumnDef target, Column column) {
        return column.headers().stream()
                .map(Binding::fold)
                .anyMatch(header -> header.equals(Binding.fold(target.name()))
                        || target.was().stream()
                                .anyMatch(was -> Binding.fold(was).equals(header)));
    }

    private static Option option(DatasetDef dataset, ColumnDef target, Column column) {
        Kind wanted = target.type().kind();
        Kind found = column.found().type().kind();
        List<String> why = new ArrayList<>();
        int sure = 0;
        if (wanted == found && wanted != Kind.TEXT) {
            sure = 50;
            why.add("both are of type " + wanted.word());
        } else if (target.type().isNumber() && column.found().type().isNumber()) {
            sure = 50;
            why.add("both are numbers");
        } else if (wanted == Kind.TIMESTAMP && found == Kind.DATE) {
            sure = 50;
            why.add("both are days");
        } else if (wanted != Kind.TEXT) {
            return new Option(target, column, 0, "", List.of());
        }
        Fitting fitting = fitting(target, column);
        if (fitting.asked) {
            sure = fitting.fit * 2 > fitting.of ? 90 : Math.min(sure, 20);
            why.add(fitting.fit + " of " + fitting.of + " values are allowed there");
        }
        Set<String> words = words(target.name());
        words.retainAll(words(column.headers().get(0)));
        if (!words.isEmpty() && sure > 20) {
            sure = Math.min(99, sure + 20);
            why.add("both names have \"" + words.iterator().next() + "\"");
        } else if (!words.isEmpty() && !fitting.asked) {
            sure = 50;
            why.add("both names have \"" + words.iterator().next() + "\"");
        }
        if (sure > 0
                && dataset.key().contains(target.name())
                && column.profile().isUnique()) {
            sure = Math.min(99, sure + 10);
            why.add("its values differ, and it is the key");
        }
        boolean tooLong = target.length().isPresent()
                && column.profile().longest() > target.length().get();
        return new Option(target, column, tooLong ? 0 : sure, String.join(", ", why), fitting.clean);
    }

    /** How many of some values a column of the dataset takes, and what must be done to them. */
    private record Fitting(boolean asked, int fit, int of, List<String> clean) {}

    private static Fitting fitting(ColumnDef target, Column column) {
        Predicate<String> allowed;
        if (!target.oneOf().isEmpty()) {
            allowed = target.oneOf()::contains;
        } else if (target.matches().isPresent() && RegexSize.of(target.matches().get()) >= 0) {
            allowed = Pattern.compile(target.matches().get())::matches;
        } else {
            return new Fitting(false, 0, 0, List.of());
        }
        Set<String> values = column.profile().values().keySet();
        List<String> samples = values.isEmpty() ? column.profile().samples(20) : List.copyOf(values);
        Fitting best = new Fitting(true, -1, samples.size(), List.of());
        for (Map.Entry<List<String>, UnaryOperator<String>> step : STEPS.entrySet()) {
            int fit = (int) samples.stream()
                    .map(value -> step.getValue().apply(value.strip()))
                    .filter(allowed)
                    .count();
            if (fit > best.fit) {
                best = new Fitting(true, fit, samples.size(), step.getKey());
            }
        }
        return best;
    }

    private static final Map<List<String>, UnaryOperator<String>> STEPS = steps();

    private static Map<List<String>, UnaryOperator<String>> steps() {
        Map<List<String>, UnaryOperator<String>> steps = new LinkedHashMap<>();
        steps.put(List.of(), value -> value);
        steps.put(List.of("lower"), value -> value.toLowerCase(Locale.ROOT));
        steps.put(List.of("upper"), value -> value.toUpperCase(Locale.ROOT));
        return steps;
    }

    /** The words of a name that say something. */
    private static Set<String> words(String name) {
        Set<String> words = new TreeSet<>();
        for (String word : ColumnNames.of(List.of(name)).get(0).split("_")) {
            if (word.length() > 3) {
                words.add(word);
            }
        }
        return words;
    }
}
