package dev.hapster.core.query.filter;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.filter.Condition.Operator;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Optional;
import org.apache.parquet.column.statistics.DoubleStatistics;
import org.apache.parquet.column.statistics.Statistics;
import org.apache.parquet.io.api.Binary;

/**
 * One condition, asked of the values of a batch as they are stored; of a column with a dictionary, once of each of its
 * entries. Not thread-safe.
 */
final class Test {

    private final Condition condition;
    private final int asked;
    private final Optional<Bounds> bounds;
    /** The text that is looked for, in UTF-8; null where none is. */
    private final byte[] text;

    private final boolean ofEmpty;

    /** What is known of the entries of a dictionary, and of which. */
    private boolean[] holds = new boolean[0];

    private boolean holdsForAny;
    private PartReader of;
    private int opening = -1;

    /** The reader and its row group of which it is known whether the condition holds for all rows. */
    private PartReader ofAll;

    private int openingOfAll = -1;
    private boolean forAll;

    Test(Condition condition, int asked) {
        this.condition = condition;
        this.asked = asked;
        bounds = Bounds.of(condition);
        boolean equality = condition.operator() == Operator.IS || condition.operator() == Operator.IS_NOT;
        text = equality && condition.field().type().kind() == Kind.TEXT
                ? ((String) condition.value()).getBytes(StandardCharsets.UTF_8)
                : null;
        ofEmpty = condition.test(null);
    }

    private boolean holdsForAll(PartReader reader) {
        if (ofAll != reader || openingOfAll != reader.opening()) {
            ofAll = reader;
            openingOfAll = reader.opening();
            forAll = bounds.isPresent()
                    && reader.statistics(asked, reader.group())
                            .filter(known -> known.isNumNullsSet() && known.getNumNulls() == 0)
                            .filter(Statistics::hasNonNullValue)
                            .filter(known -> bounds.get()
                                    .holdsWithin(number(known.genericGetMin()), number(known.genericGetMax())))
                            .isPresent();
        }
        return forAll;
    }

    /** Leaves those of some rows for which the condition holds; returns how many these are. */
    int keep(PartReader reader, int[] rows, int count) throws IOException {
        if (holdsForAll(reader)) {
            return count;
        }
        if (reader.isCoded(asked)) {
            return coded(reader, rows, count);
        }
        Vector vector = reader.vector(asked);
        if (bounds.isPresent()) {
            return numbers((Vector.Longs) vector, bounds.get(), rows, count);
        }
        if (text != null) {
            return texts((Vector.Bytes) vector, rows, count);
        }
        int kept = 0;
        for (int i = 0; i < count; i++) {
            int row = rows[i];
            rows[kept] = row;
            kept += condition.test(reader.value(asked, row)) ? 1 : 0;
        }
        return kept;
    }

    private int coded(PartReader reader, int[] rows, int count) throws IOException {
        if (of != reader || opening != reader.opening()) {
            ask(reader);
        }
        if (!holdsForAny) {
            return 0;
        }
        int[] codes = reader.codes(asked);
        int kept = 0;
        for (int i = 0; i < count; i++) {
            int row = rows[i];
            rows[kept] = row;
            kept += holds[codes[row] + 1] ? 1 : 0;
        }
        return kept;
    }

    private void ask(PartReader reader) throws IOException {
        of = reader;
        opening = reader.opening();
        int entries = reader.entryCount(asked);
        holds = new boolean[entries + 1];
        holds[0] = ofEmpty;
        holdsForAny = ofEmpty;
        Vector values = reader.entries(asked);
        for (int entry = 0; entry < entries; entry++) {
            holds[entry + 1] = bounds.isPresent()
                    ? bounds.get().holds(((Vector.Longs) values).values[entry])
                    : text != null
                            ? isText((Vector.Bytes) values, entry) == (condition.operator() == Operator.IS)
                            : condition.test(reader.entry(asked, entry));
            holdsForAny |= holds[entry + 1];
        }
    }

    private int numbers(Vector.Longs vector, Bounds range, int[] rows, int count) {
        int kept = 0;
        for (int i = 0; i < count; i++) {
            int row = rows[i];
            rows[kept] = row;
            kept += (vector.empty[row] ? ofEmpty : range.holds(vector.values[row])) ? 1 : 0;
        }
        return kept;
    }

    private int texts(Vector.Bytes vector, int[] rows, int count) {
        boolean is = condition.operator() == Operator.IS;
        int kept = 0;
        for (int i = 0; i < count; i++) {
            int row = rows[i];
            rows[kept] = row;
            kept += (vector.empty[row] ? ofEmpty : isText(vector, row) == is) ? 1 : 0;
        }
        return kept;
    }

    private boolean isText(Vector.Bytes vector, int row) {
        int from = vector.from[row];
        return vector.length[row] == text.length
                && Arrays.equals(vector.data, from, from + text.length, text, 0, text.length);
    }

    boolean mayHold(PartReader reader, int group) {
        Statistics<?> known = reader.statistics(asked, group).orElse(null);
        if (known == null) {
            return true;
        }
        boolean someEmpty = !known.isNumNullsSet() || known.getNumNulls() > 0;
        if (condition.operator() == Operator.EMPTY || (someEmpty && ofEmpty)) {
            return someEmpty;
        }
        if (known.isNumNullsSet() && known.getNumNulls() == reader.rowsOf(group)) {
            return ofEmpty;
        }
        if (!known.hasNonNullValue()) {
            return true;
        }
        if (bounds.isPresent()) {
            return bounds.get().mayHold(number(known.genericGetMin()), number(known.genericGetMax()));
        }
        if (known instanceof DoubleStatistics range && condition.value() instanceof Double value) {
            return mayHold(range.getMin(), range.getMax(), value);
        }
        return text == null
                || condition.operator() != Operator.IS
                || !(known.genericGetMin() instanceof Binary least)
                || !(known.genericGetMax() instanceof Binary greatest)
                || (Arrays.compareUnsigned(least.getBytes(), text) <= 0
                        && Arrays.compareUnsigned(greatest.getBytes(), text) >= 0);
    }

    private static long number(Object value) {
        return value instanceof Boolean truth ? truth ? 1 : 0 : ((Number) value).longValue();
    }

    private boolean mayHold(double least, double greatest, double value) {
        return switch (condition.operator()) {
            case IS -> Double.compare(least, value) <= 0 && Double.compare(greatest, value) >= 0;
            case UNDER -> Double.compare(least, value) < 0;
            case AT_MOST -> Double.compare(least, value) <= 0;
            case OVER -> Double.compare(greatest, value) > 0;
            case AT_LEAST -> Double.compare(greatest, value) >= 0;
            default -> true;
        };
    }
}
