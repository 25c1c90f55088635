package dev.hapster.core.run.repair;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Clean;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.edit.ColumnEdit;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;

/**
 * Looks for changes to the definitions by which values that were rejected would fit. Whatever seems likely is tried on
 * the values themselves, and on those of the same file that fit already: what would spoil one of these is not proposed.
 * Nothing is proposed for values that are merely out of bounds: whether those are right only people know.
 */
public final class FixSearch {

    private static final int MOST = 3;
    private static final List<String> DAYS = List.of(
            "yyyy-MM-dd",
            "dd.MM.yyyy",
            "d.M.yyyy",
            "dd.MM.yy",
            "dd/MM/yyyy",
            "MM/dd/yyyy",
            "d/M/yyyy",
            "M/d/yyyy",
            "dd-MM-yyyy",
            "yyyy/MM/dd",
            "yyyy.MM.dd",
            "yyyyMMdd",
            "yyyy-M-d",
            "dd/MM/yy",
            "MM/dd/yy",
            "d/M/yy",
            "M/d/yy",
            "d.M.yy",
            "d MMM yyyy",
            "d-MMM-yyyy",
            "d-MMM-yy",
            "MMM d yyyy",
            "MMM d, yyyy",
            "d MMMM yyyy",
            "MMMM d yyyy",
            "MMMM d, yyyy");
    private static final List<String> HOURS =
            List.of("HH:mm", "HH:mm:ss", "H:mm", "HH.mm", "HH:mm:ss.SSS", "h:mm a", "hh:mm a", "HHmm");
    /** What stands within codes and can be left out: no sign, no bracket, no mark of decimals or thousands. */
    private static final Pattern DASH = Pattern.compile("\\d([-/_\u2010\u2011\u2013])(?=\\d)");
    /** What must not be taken away from a number, since it says what the number means. */
    private static final Pattern MEANING = Pattern.compile(".*[()\\[\\]+\u2212%\u2030-].*");

    private static final Map<String, String> TRUTHS =
            Map.of("ja", "nein", "y", "n", "oui", "non", "wahr", "falsch", "t", "f", "x", "", "si", "no", "on", "off");
    private static final Set<String> LIMITS = Set.of("<", ">", "<=", ">=", "\u2264", "\u2265", "~");
    private static final int MOST_WORDS = 5;
    private static final int LONGEST_WORD = 20;

    private final Workspace workspace;
    private final JobDef job;
    private final DatasetDef dataset;
    private final ColumnDef column;
    /** Values that are rejected, with how many rows have each. */
    private final Map<String, Long> rejected;

    private final Set<String> fitting;
    private final List<Fix> found = new ArrayList<>();
    private final long all;

    /**
     * @param rejected values that the rules reject as they are now, with how many rows have each
     * @param fitting values of the same column that fit now, and must go on to
     */
    public FixSearch(
            Workspace workspace,
            JobDef job,
            DatasetDef dataset,
            ColumnDef column,
            Map<String, Long> rejected,
            Set<String> fitting) {
        this.workspace = workspace;
        this.job = job;
        this.dataset = dataset;
        this.column = column;
        this.rejected = rejected;
        this.fitting = fitting;
        all = rejected.values().stream().mapToLong(Long::longValue).sum();
    }

    /** The best, those that help most rows first. */
    public List<Fix> propose(ReasonCode code) throws IOException {
        Mapping mapping = job.map().get(column.name());
        if (mapping != null && mapping.computed().isPresent()) { // nothing of the file is cleaned or read here
            switch (code) {
                case NUMBER_TOO_LARGE, NUMBER_TOO_FINE -> wider();
                case TEXT_TOO_LONG -> longer();
                case VALUE_NOT_ALLOWED -> allowed();
                default -> {
                    return List.of();
                }
            }
            return best();
        }
        switch (code) {
            case DATE_UNREADABLE -> {
                patterns();
                nothing();
            }
            case NUMBER_UNREADABLE -> {
                marks();
                dashes();
                units();
                nothing();
            }
            case NUMBER_TOO_LARGE, NUMBER_TOO_FINE -> wider();
            case BOOLEAN_UNREADABLE -> truths();
            case TEXT_TOO_LONG -> longer();
            case VALUE_NOT_ALLOWED -> {
                cleaner();
                allowed();
            }
            case PATTERN_DIFFERS -> cleaner();
            default -> {
                return List.of();
            }
        }
        return best();
    }

    private List<Fix> best() {
        found.sort(Comparator.comparing((Fix fix) -> -fix.count())
                .thenComparing(mend -> mend.after().length()));
        Set<String> texts = new LinkedHashSet<>();
        return found.stream().filter(fix -> texts.add(fix.text())).limit(MOST).toList();
    }

    private Mapping.Source source() {
        Mapping mapping = job.map().get(column.name());
        return mapping instanceof Mapping.Source given
                ? given
                : mapping instanceof Mapping.Fact fact ? fact.how() : Mapping.Source.PLAIN;
    }

    // what may be tried

    private void patterns() throws IOException {
        List<String> now = source().patterns().isEmpty() ? List.of("iso") : source().patterns();
        List<String> candidates = new ArrayList<>();
        if (column.type().kind() == Kind.TIME) {
            candidates.addAll(HOURS);
        } else {
            for (String day : DAYS) {
                candidates.add(day);
                if (column.type().kind() == Kind.TIMESTAMP) {
                    HOURS.forEach(hour -> candidates.add(day + " " + hour));
                    candidates.add(day + "'T'HH:mm");
                }
            }
            candidates.add("iso");
        }
        for (String candidate : candidates) {
            if (!now.contains(candidate)) {
                List<String> both = new ArrayList<>(now);
                both.add(candidate);
                inJob(
                        "pattern",
                        both,
                        "also reads dates written as " + (candidate.equals("iso") ? "ISO 8601" : candidate)
                                + order(candidate));
            }
        }
    }

    /** Which of two numbers is the day, where people write both ways. */
    private static String order(String pattern) {
        return pattern.matches("d+/M+/y+.*")
                ? " (the day first)"
                : pattern.matches("M+/d+/y+.*") ? " (the month first)" : "";
    }

    /** Codes of digits with something between them. */
    private void dashes() throws IOException {
        Set<String> between = new TreeSet<>();
        rejected.keySet()
                .forEach(value -> DASH.matcher(value.strip()).results().forEach(match -> between.add(match.group(1))));
        for (String mark : between) {
            clean(List.of(Map.of("remove", mark)), "takes '" + mark + "' away, so that 12" + mark + "5 becomes 125");
        }
        if (!between.isEmpty() && column.type().kind() == Kind.INTEGER) {
            inDataset("type", "text", "keeps the codes as they are: the column becomes text");
        }
    }

    private void marks() throws IOException {
        if (source().decimal() == '.') {
            inJob("decimal", ",", "reads the comma as the decimal mark");
        } else {
            inJob("decimal", ".", "reads the point as the decimal mark");
        }
        for (String mark : List.of(",", ".", " ", "'", "\u00a0", "\u202f")) {
            if (!mark.equals(String.valueOf(source().decimal()))
                    && source().thousands().isEmpty()) {
                inJob("thousands", mark, "skips '" + mark + "' between groups of thousands");
            }
        }
        if (source().decimal() == '.' && source().thousands().isEmpty()) {
            try {
                String once = ColumnEdit.inJob(job.text(), column.name(), "decimal", ",");
                attempt(
                        true,
                        ColumnEdit.inJob(once, column.name(), "thousands", "."),
                        "reads the comma as the decimal mark, and skips points between groups of thousands");
            } catch (IllegalArgumentException elsewhere) {
                return; // how the file is written leaves no room for it
            }
        }
    }

    /** Signs and units around numbers. */
    private void units() throws IOException {
        Set<String> around = new TreeSet<>(
                Comparator.comparing((String text) -> -text.length()).thenComparing(text -> text));
        rejected.keySet().forEach(value -> {
            String bare = value.strip();
            String front = bare.replaceFirst("[0-9+.,-].*$", "").strip();
            String back = bare.replaceFirst("^.*[0-9.,]", "").strip();
            if (bare.matches(".*[0-9].*")) {
                around.add(front);
                around.add(back);
            }
        });
        around.removeIf(text -> text.isEmpty()
                || text.length() > LONGEST_WORD
                || MEANING.matcher(text).matches());
        for (String text : around.stream().limit(MOST_WORDS).toList()) {
            clean(
                    List.of(Map.of("remove", text)),
                    "takes '" + text + "' away before the number is read"
                            + (LIMITS.contains(text) ? ", so that a limit counts as a value" : ""));
        }
    }

    /** Words that mean nothing. */
    private void nothing() throws IOException {
        Set<String> words = new LinkedHashSet<>();
        rejected.keySet().stream()
                .map(String::strip)
                .filter(value -> !value.isEmpty()
                        && value.length() <= LONGEST_WORD
                        && value.chars().noneMatch(Character::isDigit))
                .forEach(words::add);
        List<String> empty =
                new ArrayList<>(source().emptyAs().orElse(job.read().get(ReadSection.EMPTY_AS)));
        empty.forEach(words::remove);
        if (column.required() || words.isEmpty() || words.size() > MOST_WORDS) {
            return;
        }
        empty.addAll(words);
        inJob(
                "empty_as",
                empty,
                "takes "
                        + String.join(
                                ", ",
                                words.stream().map(word -> "'" + word + "'").toList()) + " as no value");
    }

    private void wider() throws IOException {
        if (column.type().kind() != Kind.DECIMAL) {
            return;
        }
        int whole = column.type().precision() - column.type().scale();
        int scale = column.type().scale();
        for (String value : rejected.keySet()) {
            try {
                BigDecimal number = new BigDecimal(value.strip()
                        .replace(source().thousands().map(String::valueOf).orElse(" "), "")
                        .replace(source().decimal(), '.'));
                scale = Math.max(scale, number.scale());
                whole = Math.max(whole, number.precision() - number.scale());
            } catch (NumberFormatException other) {
                continue;
            }
        }
        if (whole + scale <= ColumnType.MOST_DIGITS) {
            String type = "decimal(" + (whole + scale) + "," + scale + ")";
            inDataset("type", type, "widens the column to " + type);
        }
    }

    private void truths() throws IOException {
        Set<String> words = new TreeSet<>();
        rejected.keySet().forEach(value -> words.add(value.strip().toLowerCase(Locale.ROOT)));
        for (Map.Entry<String, String> pair : TRUTHS.entrySet()) {
            if (!Set.of(pair.getKey(), pair.getValue()).containsAll(words)) {
                continue;
            }
            List<String> yes = new ArrayList<>(source().trueAs());
            List<String> no = new ArrayList<>(source().falseAs());
            yes.add(pair.getKey());
            if (!pair.getValue().isEmpty() && !no.contains(pair.getValue())) {
                no.add(pair.getValue());
            }
            String once = ColumnEdit.inJob(job.text(), column.name(), "true_as", yes);
            attempt(
                    true,
                    ColumnEdit.inJob(once, column.name(), "false_as", no),
                    "reads '" + pair.getKey() + "'"
                            + (pair.getValue().isEmpty() ? "" : " and '" + pair.getValue() + "'") + " as true"
                            + (pair.getValue().isEmpty() ? "" : " and false"));
        }
    }

    private void longer() throws IOException {
        int longest = rejected.keySet().stream()
                .mapToInt(value -> value.codePointCount(0, value.length()))
                .max()
                .orElse(0);
        inDataset("length", longest, "lets texts have " + longest + " characters");
    }

    private void allowed() throws IOException {
        Set<String> words = new TreeSet<>(rejected.keySet());
        if (words.size() <= MOST_WORDS) {
            List<String> all = new ArrayList<>(column.oneOf());
            all.addAll(words);
            inDataset(
                    "one_of",
                    all,
                    "allows "
                            + String.join(
                                    ", ",
                                    words.stream().map(word -> "'" + word + "'").toList()) + " as well");
        }
    }

    private void cleaner() throws IOException {
        clean(List.of("trim"), "takes white space off both ends");
        clean(List.of("lower"), "turns the text to lower case");
        clean(List.of("upper"), "turns the text to upper case");
        clean(List.of("trim", "lower"), "takes white space off both ends and turns the text to lower case");
        clean(List.of("trim", "upper"), "takes white space off both ends and turns the text to upper case");
        Set<String> signs = new TreeSet<>();
        rejected.keySet().forEach(value -> value.codePoints()
                .filter(sign -> !Character.isLetterOrDigit(sign))
                .forEach(sign -> signs.add(Character.toString(sign))));
        for (String sign : signs) {
            clean(List.of(Map.of("remove", sign)), "takes '" + sign + "' away");
            clean(
                    List.of("trim", "upper", Map.of("remove", sign)),
                    "takes white space and '" + sign + "' away and turns the text to upper case");
        }
    }

    // trying

    private void clean(List<Object> more, String says) throws IOException {
        List<Object> steps = new ArrayList<>();
        for (Clean step : source().clean()) {
            steps.add(
                    step instanceof Clean.Remove remove
                            ? Map.of(
                                    "remove",
                                    remove.texts().size() == 1 ? remove.texts().get(0) : remove.texts())
                            : step instanceof Clean.Replace replace
                                    ? Map.of("replace", new LinkedHashMap<>(replace.pairs()))
                                    : step instanceof Clean.Trim
                                            ? "trim"
                                            : step instanceof Clean.Upper ? "upper" : "lower");
        }
        steps.addAll(more);
        inJob("clean", steps, says);
    }

    private void inJob(String key, Object value, String says) throws IOException {
        try {
            attempt(true, ColumnEdit.inJob(job.text(), column.name(), key, value), says);
        } catch (IllegalArgumentException elsewhere) {
            return; // how the file is written leaves no room for it
        }
    }

    private void inDataset(String key, Object value, String says) throws IOException {
        try {
            attempt(false, ColumnEdit.inDataset(dataset.text(), column.name(), key, value), says);
        } catch (IllegalArgumentException elsewhere) {
            return;
        }
    }

    private void attempt(boolean ofJob, String text, String says) throws IOException {
        String old = ofJob ? job.text() : dataset.text();
        if (text.equals(old)) {
            return;
        }
        try {
            JobDef other = ofJob ? workspace.job(job.name(), text, Map.of()) : job;
            ColumnDef changed = ofJob
                    ? column
                    : Definitions.dataset("datasets/" + dataset.name() + ".yaml", text)
                            .column(column.name())
                            .orElse(column);
            long rows = rejected.entrySet().stream()
                    .filter(value -> Shaper.refuseConstant(changed, other, value.getKey())
                            .isEmpty())
                    .mapToLong(Map.Entry::getValue)
                    .sum();
            if (rows == 0
                    || fitting.stream().anyMatch(value -> Shaper.refuseConstant(changed, other, value)
                            .isPresent())) {
                return;
            }
            String[] lines = difference(old, text);
            found.add(new Fix(
                    (ofJob ? "jobs/" + job.name() : "datasets/" + dataset.name()) + ".yaml",
                    ofJob ? job.version() : dataset.version(),
                    says,
                    lines[0],
                    lines[1],
                    text,
                    "row",
                    rows,
                    all));
        } catch (DefinitionException unsuitable) {
            return; // the file would have mistakes
        }
    }

    /** The lines that differ, as they are and as they would be. */
    static String[] difference(String before, String after) {
        List<String> old = before.lines().toList();
        List<String> fresh = after.lines().toList();
        int top = 0;
        while (top < Math.min(old.size(), fresh.size()) && old.get(top).equals(fresh.get(top))) {
            top++;
        }
        int bottom = 0;
        while (bottom < Math.min(old.size(), fresh.size()) - top
                && old.get(old.size() - 1 - bottom).equals(fresh.get(fresh.size() - 1 - bottom))) {
            bottom++;
        }
        return new String[] {
            String.join("\n", old.subList(top, old.size() - bottom)),
            String.join("\n", fresh.subList(top, fresh.size() - bottom))
        };
    }
}
