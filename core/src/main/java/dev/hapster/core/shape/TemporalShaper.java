package dev.hapster.core.shape;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.pattern.DatePattern;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.Vector;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;

/** Dates (days since 1970), times (microseconds of the day) and timestamps (microseconds since 1970). */
final class TemporalShaper extends ColumnShaper {

    private static final DatePattern[] ISO = {DatePattern.ISO};
    private static final Pattern PARTIAL = Pattern.compile("\\d{4}(-\\d{2})?");
    private static final int YEAR_LENGTH = 4;
    private static final Map<Kind, String> EXPECTED =
            Map.of(Kind.DATE, "yyyy-MM-dd", Kind.TIME, "HH:mm:ss", Kind.TIMESTAMP, "yyyy-MM-dd HH:mm:ss");

    private final Vector.Longs vector = new Vector.Longs(0);
    private final DatePattern[] patterns;
    private final Kind kind;
    private final long min;
    private final long max;

    TemporalShaper(ColumnDef column, Mapping.Source source, List<String> emptyAs) {
        super(column, source, emptyAs);
        kind = column.type().kind();
        patterns = source.patterns().isEmpty()
                ? new DatePattern[] {DatePattern.ISO}
                : source.datePatterns().toArray(DatePattern[]::new);
        min = column.min().map(text -> unit(DatePattern.ISO.parse(text))).orElse(Long.MIN_VALUE);
        max = column.max().map(text -> unit(DatePattern.ISO.parse(text))).orElse(Long.MAX_VALUE);
    }

    @Override
    Vector vector() {
        return vector;
    }

    /** As in every shaper of which files are full, a loop of its own: so the machine puts the conversion into it. */
    @Override
    void shape(RawBatch batch, int field, Faults faults) {
        if (!isPlain(batch)) {
            super.shape(batch, field, faults);
            return;
        }
        vector.reset(batch.rows);
        int width = batch.width;
        byte[] bytes = batch.bytes;
        int[] starts = batch.from;
        int[] ends = batch.to;
        int[] fields = batch.fields;
        for (int row = 0, at = field; row < batch.rows; row++, at += width) {
            int from = starts[at];
            int to = ends[at];
            if (fields[row] != width || from == to || bytes[from] <= ' ' || bytes[to - 1] <= ' ') {
                one(batch, row, field, vector, faults);
                continue;
            }
            Reason reason = put(row, bytes, from, to);
            if (reason != null) {
                refuse(batch, row, field, reason, vector, faults);
            }
        }
    }

    @Override
    Reason put(int row, byte[] bytes, int from, int to) {
        return put(row, patterns, bytes, from, to);
    }

    @Override
    Reason put(int row, byte kind, byte[] bytes, int from, int to) {
        return put(row, kind == RawBatch.MOMENT ? ISO : patterns, bytes, from, to);
    }

    private Reason put(int row, DatePattern[] ways, byte[] bytes, int from, int to) {
        DatePattern invalid = null;
        for (DatePattern pattern : ways) {
            long micros = pattern.parse(bytes, from, to);
            if (micros > DatePattern.NO_SUCH_DAY) {
                long value = unit(micros);
                vector.values[row] = value;
                return value >= min && value <= max
                        ? null
                        : value < min
                                ? Reasons.belowMinimum(
                                        text(bytes, from, to), column.min().orElseThrow())
                                : Reasons.aboveMaximum(
                                        text(bytes, from, to), column.max().orElseThrow());
            }
            invalid = micros == DatePattern.NO_SUCH_DAY && invalid == null ? pattern : invalid;
        }
        String text = text(bytes, from, to);
        if (invalid != null) {
            return Reasons.dateInvalid(text, kind == Kind.TIME ? "time of day" : "date", invalid.flaw(text));
        }
        boolean iso = Arrays.asList(ways).contains(DatePattern.ISO);
        if (iso && kind != Kind.TIME && PARTIAL.matcher(text).matches()) {
            return Reasons.datePartial(text, text.length() == YEAR_LENGTH ? "year" : "month", EXPECTED.get(kind));
        }
        return Reasons.dateUnreadable(
                text,
                Arrays.stream(ways)
                        .map(way -> way == DatePattern.ISO ? "ISO 8601 (" + EXPECTED.get(kind) + ")" : way.toString())
                        .toList());
    }

    private long unit(long micros) {
        return switch (kind) {
            case DATE -> Math.floorDiv(micros, DatePattern.MICROS_PER_DAY);
            case TIME -> Math.floorMod(micros, DatePattern.MICROS_PER_DAY);
            default -> micros;
        };
    }
}
