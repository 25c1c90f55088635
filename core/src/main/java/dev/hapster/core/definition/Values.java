package dev.hapster.core.definition;

import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.pattern.DatePattern;
import java.time.Clock;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What <code>${name}</code> and <code>{date:yyyy-MM}</code> stand for in a job file. A name is looked up in the call,
 * then in the environment, the job's own {@code values}, {@code values.yaml}, and last {@code date} is the run's date.
 * Immutable.
 *
 * <p>Of the environment only variables that begin with {@value #ENVIRONMENT_PREFIX} are looked at, so that no job can
 * show what is kept there for others: <code>${month}</code> is {@code HAPSTER_VALUE_MONTH}.
 */
public final class Values {

    public static final String ENVIRONMENT_PREFIX = "HAPSTER_VALUE_";
    /** What a value may be called. */
    public static final String NAME_RULE = "[A-Za-z][A-Za-z0-9_]{0,62}";
    /** The value that nobody need give. */
    public static final String DATE = "date";

    private static final int LONGEST = 10_000;
    private static final Pattern RUN_DATE =
            Pattern.compile("\\{date(?:\\s*([+-])\\s*(\\d{1,4})\\s*(day|week|month|year)s?)?\\s*:([^{}]*)\\}");

    private static final Pattern MENTIONED = Pattern.compile("\\$\\{\\s*(" + NAME_RULE + ")\\s*}|\\{date\\b");

    /** Where a value came from. */
    public enum Origin {
        DATE("the run's date"),
        FILE("values.yaml"),
        JOB("the job"),
        ENVIRONMENT("the environment"),
        CALL("the call");

        private final String words;

        Origin(String words) {
            this.words = words;
        }

        public String words() {
            return words;
        }
    }

    /** A value that a job made use of. */
    public record Used(String name, String value, String from) {
        static Used of(String name, String value, Origin origin) {
            return new Used(name, value, origin.words());
        }
    }

    private final Map<Origin, Map<String, String>> given;
    private final ZonedDateTime now;

    private Values(Map<Origin, Map<String, String>> given, ZonedDateTime now) {
        this.given = given;
        this.now = now;
    }

    /** No values but the date. */
    public static Values none() {
        return of(Map.of(), Map.of(), Map.of(), Clock.system(ZoneId.systemDefault()));
    }

    /**
     * @param file values of the workspace, by name
     * @param environment all variables of the process
     * @param call values given for this run alone
     * @param clock the run's date, in its zone
     */
    public static Values of(
            Map<String, String> file, Map<String, String> environment, Map<String, String> call, Clock clock) {
        Map<Origin, Map<String, String>> given = new LinkedHashMap<>();
        given.put(Origin.CALL, Map.copyOf(call));
        Map<String, String> ours = new LinkedHashMap<>();
        environment.forEach((name, value) -> {
            if (name.startsWith(ENVIRONMENT_PREFIX)) {
                ours.put(name.substring(ENVIRONMENT_PREFIX.length()), value);
            }
        });
        given.put(Origin.ENVIRONMENT, ours);
        given.put(Origin.FILE, Map.copyOf(file));
        return new Values(given, ZonedDateTime.now(clock));
    }

    /** One reading of one job: collects which values were used. Not thread-safe. */
    public final class Expansion {
        private final Map<String, String> ofJob;
        private final Map<String, Used> used = new LinkedHashMap<>();

        public Expansion(Map<String, String> ofJob) {
            this.ofJob = ofJob;
        }

        public List<Used> used() {
            return List.copyOf(used.values());
        }

        /**
         * Puts the values in.
         *
         * @throws IllegalArgumentException with a sentence for people, where a name is not known or its value refers to
         *     itself
         */
        public String expand(String text) {
            return text.indexOf('{') < 0 ? text : dates(names(text, new TreeSet<>()));
        }

        private String names(String text, Set<String> open) {
            StringBuilder out = new StringBuilder();
            int at = 0;
            for (int next = text.indexOf("${"); next >= 0; next = text.indexOf("${", at)) {
                if (next > 0 && text.charAt(next - 1) == '$') {
                    out.append(text, at, next - 1).append("${");
                    at = next + 2;
                    continue;
                }
                int end = text.indexOf('}', next);
                String name = end < 0 ? "" : text.substring(next + 2, end).strip();
                if (!name.matches(NAME_RULE)) {
                    throw new IllegalArgumentException("'" + text.substring(next, end < 0 ? text.length() : end + 1)
                            + "' names no value; write ${name}, or $${ for the characters themselves");
                }
                out.append(text, at, next).append(value(name, open));
                at = end + 1;
                if (out.length() > LONGEST) {
                    throw new IllegalArgumentException(
                            "the values of " + text + " make a text of more than " + LONGEST + " characters");
                }
            }
            return out.append(text, at, text.length()).toString();
        }

        private String value(String name, Set<String> open) {
            Used before = used.get(name);
            if (before != null && !name.equals(DATE)) {
                return before.value(); // each value is put together once, however often it stands in others
            }
            if (!open.add(name)) {
                throw new IllegalArgumentException(
                        "the value of ${" + name + "} refers to itself, by way of " + String.join(", ", open));
            }
            Used found = look(name);
            String value = dates(names(found.value(), open));
            open.remove(name);
            used.put(name, new Used(name, value, found.from()));
            return value;
        }

        private Used look(String name) {
            for (Origin origin : List.of(Origin.CALL, Origin.ENVIRONMENT, Origin.JOB, Origin.FILE)) {
                String key = origin == Origin.ENVIRONMENT ? name.toUpperCase(Locale.ROOT) : name;
                String value = (origin == Origin.JOB ? ofJob : given.get(origin)).get(key);
                if (value != null) {
                    return Used.of(name, value, origin);
                }
            }
            if (name.equals(DATE)) {
                return Used.of(name, now.toLocalDate().toString(), Origin.DATE);
            }
            Set<String> known = new TreeSet<>(ofJob.keySet());
            given.values().forEach(values -> known.addAll(values.keySet()));
            String near = Nearest.word(name, known)
                    .map(word -> " Did you mean ${" + word + "}?")
                    .orElse("");
            throw new IllegalArgumentException("no value is known for ${" + name + "}." + near + " Give it with --set "
                    + name + "=…, or write it under `values` in the job or in values.yaml");
        }

        private String dates(String text) {
            Matcher form = RUN_DATE.matcher(text);
            StringBuilder out = new StringBuilder();
            while (form.find()) {
                String date = date(form);
                form.appendReplacement(out, Matcher.quoteReplacement(date));
            }
            return form.appendTail(out).toString();
        }

        private String date(Matcher form) {
            Used used = look(DATE);
            ZonedDateTime day = now;
            if (!used.from().equals(Origin.DATE.words())) {
                try {
                    day = LocalDate.parse(used.value()).atStartOfDay(now.getZone());
                } catch (DateTimeException wrong) {
                    throw new IllegalArgumentException(
                            "the value of date, '" + used.value() + "' from " + used.from()
                                    + ", is not a day; write it as 2026-01-31",
                            wrong);
                }
            }
            this.used.put(DATE, used);
            if (form.group(1) != null) {
                long count = Long.parseLong(form.group(2)) * (form.group(1).equals("-") ? -1 : 1);
                day = day.plus(count, ChronoUnit.valueOf(form.group(3).toUpperCase(Locale.ROOT) + "S"));
            }
            return DatePattern.partial(form.group(4)).format(day);
        }
    }

    /** The names of values that a text asks for: {@code ${month}}, and {@code date} in {@code {date:yyyy-MM}}. */
    public static Set<String> mentioned(String text) {
        Set<String> names = new TreeSet<>();
        Matcher form = MENTIONED.matcher(text);
        while (form.find()) {
            names.add(form.group(1) == null ? DATE : form.group(1));
        }
        return names;
    }

    /** Whether a text means the same whatever values are given; one that has characters escaped may not. */
    public static boolean areOutOf(String text) {
        return mentioned(text).isEmpty() && text.indexOf('\\') < 0;
    }

    /** Checks the names of values given by a caller; what is wrong with them, a sentence each. */
    public static List<String> mistakes(Map<String, String> call) {
        List<String> mistakes = new ArrayList<>();
        call.forEach((name, value) -> {
            if (!name.matches(NAME_RULE)) {
                mistakes.add(
                        "a value cannot be called '" + name + "'; use letters, digits and _, beginning with a letter");
            } else if (value.length() > LONGEST) {
                mistakes.add("the value of " + name + " is longer than " + LONGEST + " characters");
            }
        });
        return mistakes;
    }
}
