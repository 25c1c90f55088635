package dev.hapster.core.definition;

import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.disk.FileNames;
import dev.hapster.core.pattern.Fact;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.temporal.TemporalAccessor;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A folder, and a name in it, with pieces that a run and a file fill: <code>{run}</code>, <code>{run:yyyy-MM}</code>,
 * <code>{job}</code>, <code>{outcome}</code>, <code>{name}</code>, <code>{stem}</code>, <code>{ending}</code>, <code>
 * {modified:yyyy}</code>, and what the file's name says. Date patterns are in the letters of CLDR (UTS #35). Immutable.
 */
public final class TargetPattern {

    /** The pieces that every file fills. */
    public static final Set<String> PIECES =
            new TreeSet<>(Set.of("run", "job", "outcome", "name", "stem", "ending", "modified"));

    private static final Set<String> DATED = Set.of("run", "modified");
    private static final Pattern PIECE = Pattern.compile("\\{([A-Za-z][A-Za-z0-9_]*)(?::([^{}]+))?}");

    private final String folder;
    private final String name;

    private TargetPattern(String folder, String name) {
        this.folder = folder;
        this.name = name;
    }

    /**
     * @param folder absolute, or relative to the workspace
     * @param name of the file there; empty for the one that it has
     * @param facts names of what the job's file names say
     * @throws IllegalArgumentException with a sentence for people
     */
    public static TargetPattern of(String folder, String name, Set<String> facts) {
        if (folder.isBlank()) {
            throw new IllegalArgumentException("a folder is needed, such as done/{run:yyyy-MM}");
        }
        if (name.contains("/") || name.contains("\\")) {
            throw new IllegalArgumentException("'" + name + "' must be a name; folders belong to the other key");
        }
        for (String text : List.of(folder, name)) {
            Matcher piece = PIECE.matcher(text);
            while (piece.find()) {
                check(piece.group(1), piece.group(2), facts);
            }
            String rest = piece.replaceAll("");
            if (rest.contains("{") || rest.contains("}")) {
                throw new IllegalArgumentException(
                        "'" + text + "' has a brace that belongs to no piece; write pieces like {run:yyyy-MM}");
            }
        }
        return new TargetPattern(folder, name.isEmpty() ? "{name}" : name);
    }

    private static void check(String piece, String form, Set<String> facts) {
        boolean fact = facts.contains(piece);
        if (!PIECES.contains(piece) && !fact) {
            Set<String> known = new TreeSet<>(PIECES);
            known.addAll(facts);
            throw new IllegalArgumentException("there is no piece {" + piece + "}. " + Nearest.hint(piece, known));
        }
        if (piece.equals("modified") && form == null) {
            throw new IllegalArgumentException("{modified} needs a form, such as {modified:yyyy-MM}");
        }
        if (form != null) {
            if (!DATED.contains(piece) && !fact) {
                throw new IllegalArgumentException("{" + piece + "} is not a date and takes no form");
            }
            try {
                String unused = DateTimeFormatter.ofPattern(form)
                        .format(ZonedDateTime.of(2026, 1, 31, 12, 0, 0, 0, ZoneId.of("UTC")));
            } catch (IllegalArgumentException | java.time.DateTimeException wrong) {
                throw new IllegalArgumentException(
                        "'" + form + "' is not a date pattern; write it like yyyy-MM-dd", wrong);
            }
        }
    }

    /**
     * What fills the pieces.
     *
     * @param name of the file
     * @param at when the run began
     * @param modified when the file was last written
     * @param zone in which days begin
     */
    public record Filling(
            String job,
            long run,
            Instant at,
            String outcome,
            String name,
            Instant modified,
            Map<String, Fact> facts,
            ZoneId zone) {}

    /** The folder for a file, as it is written. */
    public String folder(Filling with) {
        List<String> steps = new ArrayList<>();
        for (String step : folder.split("/", -1)) {
            steps.add(step.contains("{") ? FileNames.fitting(plain(fill(step, with))) : step);
        }
        return String.join("/", steps);
    }

    /** The name for a file; always a plain name, that file systems take. */
    public String name(Filling with) {
        return FileNames.fitting(plain(fill(name, with)));
    }

    /** The part of the folder that is the same for all files. */
    public String fixed() {
        int brace = folder.indexOf('{');
        return brace < 0 ? folder : folder.substring(0, Math.max(0, folder.lastIndexOf('/', brace)));
    }

    /** A folder such as files are put into, with an x for each piece. */
    public String example() {
        return PIECE.matcher(folder).replaceAll("x");
    }

    /** What a file's name puts in must not lead anywhere else. */
    private static String plain(String step) {
        String safe = step.replaceAll("[/\\\\\\p{Cntrl}]", "_");
        return safe.equals(".") || safe.equals("..") || safe.isBlank() ? "_" : safe;
    }

    private static String fill(String text, Filling with) {
        return PIECE.matcher(text)
                .replaceAll(piece -> Matcher.quoteReplacement(value(piece.group(1), piece.group(2), with)));
    }

    private static String value(String piece, String form, Filling with) {
        Fact fact = with.facts.get(piece);
        if (fact != null && !PIECES.contains(piece)) {
            return form == null || fact.iso().isEmpty()
                    ? fact.text()
                    : DateTimeFormatter.ofPattern(form).format(moment(fact.iso().get()));
        }
        int dot = with.name.indexOf('.', 1);
        return switch (piece) {
            case "run" ->
                form == null
                        ? Long.toString(with.run)
                        : DateTimeFormatter.ofPattern(form).format(with.at.atZone(with.zone));
            case "modified" -> DateTimeFormatter.ofPattern(form).format(with.modified.atZone(with.zone));
            case "job" -> with.job;
            case "outcome" -> with.outcome;
            case "name" -> with.name;
            case "stem" -> dot < 0 ? with.name : with.name.substring(0, dot);
            case "ending" -> dot < 0 ? "" : with.name.substring(dot);
            default -> "unknown";
        };
    }

    private static TemporalAccessor moment(String iso) {
        return iso.contains("T")
                ? LocalDateTime.parse(iso)
                : LocalDate.parse(iso).atStartOfDay();
    }

    /** As it was written. */
    @Override
    public String toString() {
        return name.equals("{name}") ? folder : folder + "/" + name;
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof TargetPattern pattern && pattern.folder.equals(folder) && pattern.name.equals(name);
    }

    @Override
    public int hashCode() {
        return folder.hashCode() * 31 + name.hashCode();
    }
}
