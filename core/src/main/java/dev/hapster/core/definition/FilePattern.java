package dev.hapster.core.definition;

import com.dynatrace.hash4j.hashing.Hashing;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.disk.FileNames;
import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.time.temporal.TemporalAccessor;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Paths of files that rows are written to, each to the one that its values say:
 * {@code out/{lab}/{sampled_at:yyyy-MM}.csv}. Pieces are columns, dates and timestamps also with a pattern (CLDR, UTS
 * #35), and <code>{file.name}</code> and <code>{file.stem}</code> of the file that a row is from. Immutable.
 */
public final class FilePattern {

    /** The column with the name of the file that a row is from. */
    private static final String FILE = "_file";

    private static final Pattern PIECE = Pattern.compile("\\{([A-Za-z][A-Za-z0-9_.]*)(?::([^{}]+))?}");
    private static final String EMPTY = "empty";
    /** What some file systems do not take, or take for something else. */
    private static final Pattern UNSAFE = Pattern.compile("[/\\\\<>:\"|?*\\p{Cntrl}]|^[. ~]|[. ]$");

    private final String text;
    private final List<Piece> pieces;

    private FilePattern(String text, List<Piece> pieces) {
        this.text = text;
        this.pieces = List.copyOf(pieces);
    }

    /**
     * A piece that a row fills.
     *
     * @param column whose value it is
     * @param what its name in the pattern
     * @param form how a date or timestamp is written
     */
    public record Piece(String column, String what, Optional<DateTimeFormatter> form) {

        /** The same value leads to the same text, and values that are written otherwise to other texts. */
        String fill(Object value) {
            if (value == null) {
                return EMPTY;
            }
            String raw = raw(value);
            String safe = UNSAFE.matcher(raw).replaceAll("_");
            boolean same = safe.equals(raw) && !raw.isEmpty() && !raw.equals(EMPTY);
            return same
                    ? raw
                    : safe + String.format("~%08x", (int) Hashing.xxh3_64().hashCharsToLong(raw));
        }

        private String raw(Object value) {
            if (form.isPresent()) {
                return form.get().format((TemporalAccessor) value);
            }
            if (value instanceof BigDecimal number) {
                return number.toPlainString();
            }
            String plain = value.toString();
            return what.equals("file.stem") ? plain.substring(0, FileNames.ending(plain)) : plain;
        }
    }

    /**
     * Reads a pattern.
     *
     * @param columns those of the dataset
     * @throws IllegalArgumentException with a sentence for people
     */
    public static FilePattern of(String text, List<ColumnDef> columns) {
        if (text.isBlank() || text.endsWith("/")) {
            throw new IllegalArgumentException("a file is needed, such as out/{lab}.csv");
        }
        for (String step : text.split("/", -1)) {
            if (step.equals("..") || step.equals(".")) {
                throw new IllegalArgumentException("'" + text + "' must not go up; name the folder itself");
            }
        }
        List<Piece> pieces = new ArrayList<>();
        Matcher piece = PIECE.matcher(text);
        while (piece.find()) {
            pieces.add(piece(piece.group(1), piece.group(2), columns));
        }
        String rest = PIECE.matcher(text).replaceAll("");
        if (rest.contains("{") || rest.contains("}")) {
            throw new IllegalArgumentException("'" + text
                    + "' has a brace that belongs to no piece; write pieces like {lab} or {sampled_at:yyyy-MM}");
        }
        return new FilePattern(text, pieces);
    }

    private static Piece piece(String name, String form, List<ColumnDef> columns) {
        if (name.equals("file.stem") || name.equals("file.name")) {
            if (form != null) {
                throw new IllegalArgumentException("{" + name + "} takes no form");
            }
            return new Piece(FILE, name, Optional.empty());
        }
        ColumnDef column = columns.stream()
                .filter(one -> one.name().equals(name))
                .findFirst()
                .orElseThrow(() -> new IllegalArgumentException("there is no column '" + name + "', and no {" + name
                        + "} otherwise. "
                        + Nearest.hint(
                                name, columns.stream().map(ColumnDef::name).toList())));
        boolean dated =
                column.type().kind() == ColumnType.Kind.DATE || column.type().kind() == ColumnType.Kind.TIMESTAMP;
        if (form == null) {
            if (column.type().kind() == ColumnType.Kind.TIMESTAMP) {
                throw new IllegalArgumentException(
                        "{" + name + "} is a timestamp and needs a form, such as {" + name + ":yyyy-MM}");
            }
            return new Piece(name, name, Optional.empty());
        }
        if (form.contains("/")) {
            throw new IllegalArgumentException(
                    "'" + form + "' must not have a /; write {" + name + ":yyyy}/{" + name + ":MM} for folders");
        }
        if (!dated) {
            throw new IllegalArgumentException("{" + name + "} is neither a date nor a timestamp and takes no form");
        }
        try {
            DateTimeFormatter formatter = DateTimeFormatter.ofPattern(form, Locale.ROOT);
            String unused = formatter.format(
                    column.type().kind() == ColumnType.Kind.DATE
                            ? LocalDate.of(2026, 1, 31)
                            : LocalDateTime.of(2026, 1, 31, 12, 0));
            return new Piece(name, name, Optional.of(formatter));
        } catch (IllegalArgumentException | DateTimeException wrong) {
            throw new IllegalArgumentException(
                    "'" + form + "' is not a pattern for " + name + "; write it like yyyy-MM", wrong);
        }
    }

    /** What fills it, in the order in which the pieces stand. */
    public List<Piece> pieces() {
        return pieces;
    }

    /**
     * The path for a row.
     *
     * @param values of the pieces' columns, null where empty
     */
    public String path(List<? extends Object> values) {
        int[] at = {0};
        List<String> steps = new ArrayList<>();
        for (String step : text.split("/", -1)) {
            String filled = PIECE.matcher(step).replaceAll(piece -> {
                int number = at[0]++;
                return Matcher.quoteReplacement(pieces.get(number).fill(values.get(number)));
            });
            steps.add(step.contains("{") ? FileNames.fitting(filled) : step);
        }
        return String.join("/", steps);
    }

    /** The folder that is the same for all files; empty for the workspace itself. */
    public String fixed() {
        int brace = text.indexOf('{');
        return text.substring(0, Math.max(0, text.lastIndexOf('/', brace < 0 ? text.length() : brace)));
    }

    /** As it was written. */
    @Override
    public String toString() {
        return text;
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof FilePattern pattern && pattern.text.equals(text);
    }

    @Override
    public int hashCode() {
        return text.hashCode();
    }
}
