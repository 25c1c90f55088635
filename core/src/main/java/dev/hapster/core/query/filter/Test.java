package dev.hapster.core.query.filter;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.filter.Condition.Empty;
import dev.hapster.core.query.filter.Condition.Span;
import dev.hapster.core.query.filter.Condition.Spans;
import dev.hapster.core.query.filter.Condition.Text;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.value.Texts;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import org.apache.parquet.column.statistics.DoubleStatistics;
import org.apache.parquet.column.statistics.Statistics;
import org.apache.parquet.io.api.Binary;

/**
 * One condition, asked of the values of a batch as they are stored; of a column with a dictionary, once of each of its
 * entries. Not thread-safe.
 */
final class Test implements Node {

    private final Condition condition;
    private final int asked;
    private final Optional<Bounds> bounds;
    /** The texts that are looked for, in UTF-8; empty where it is not about certain texts. */
    private final List<byte[]> texts;

    private final Predicate<Comparable<?>> holdsForValue;
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
        texts = condition.field().type().kind() == Kind.TEXT
                        && condition.values() instanceof Spans spans
                        && spans.spans().stream().allMatch(Span::isOne)
                ? spans.spans().stream()
                        .map(span -> ((String) span.from()).getBytes(StandardCharsets.UTF_8))
                        .toList()
                : List.of();
        holdsForValue = predicate();
        ofEmpty = condition.holdsForEmpty();
    }

    /** What is asked of values that are there. */
    private Predicate<Comparable<?>> predicate() {
        boolean not = condition.not();
        if (condition.values() instanceof Text text) {
            Predicate<String> test = text.test();
            return value -> test.test(Texts.of(value)) != not;
        }
        if (texts.size() > 1) {
            Set<Comparable<?>> all = new HashSet<>();
            ((Spans) condition.values()).spans().forEach(span -> all.add(span.from()));
            return value -> all.contains(value) != not;
        }
        return condition.values() instanceof Spans spans ? value -> spans.has(value) != not : value -> not;
    }

    @Override
    public boolean holds(PartReader reader, int row) throws IOException {
        Comparable<?> value = reader.value(asked, row);
        return value == null ? ofEmpty : holdsForValue.test(value);
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

    @Override
    public int keep(PartReader reader, int[] rows, int count) throws IOException {
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
        if (texts.size() == 1) {
            return texts((Vector.Bytes) vector, rows, count);
        }
        int kept = 0;
        for (int i = 0; i < count; i++) {
            int row = rows[i];
            rows[kept] = row;
            kept += holds(reader, row) ? 1 : 0;
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
                    : texts.size() == 1
                            ? isText((Vector.Bytes) values, entry) != condition.not()
                            : holdsForValue.test(reader.entry(asked, entry));
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
        boolean not = condition.not();
        int kept = 0;
        for (int i = 0; i < count; i++) {
            int row = rows[i];
            rows[kept] = row;
            kept += (vector.empty[row] ? ofEmpty : isText(vector, row) != not) ? 1 : 0;
        }
        return kept;
    }

    private boolean isText(Vector.Bytes vector, int row) {
        byte[] text = texts.get(0);
        int from = vector.from[row];
        return vector.length[row] == text.length
                && Arrays.equals(vector.data, from, from + text.length, text, 0, text.length);
    }

    @Override
    public boolean mayHold(PartReader reader, int group) {
        Statistics<?> known = reader.statistics(asked, group).orElse(null);
        if (known == null) {
            return true;
        }
        boolean someEmpty = !known.isNumNullsSet() || known.getNumNulls() > 0;
        if (someEmpty && ofEmpty) {
            return true;
        }
        if (known.isNumNullsSet() && known.getNumNulls() == reader.rowsOf(group)) {
            return ofEmpty;
        }
        if (condition.values() instanceof Empty) {
            return condition.not(); // there are values
        }
        if (!known.hasNonNullValue()) {
            return true;
        }
        if (bounds.isPresent()) {
            return bounds.get().mayHold(number(known.genericGetMin()), number(known.genericGetMax()));
        }
        if (condition.not()) {
            return true;
        }
        if (known instanceof DoubleStatistics range && condition.values() instanceof Spans spans) {
            return spans.spans().stream().anyMatch(span -> mayBeIn(span, range.getMin(), range.getMax()));
        }
        return texts.isEmpty()
                || !(known.genericGetMin() instanceof Binary least)
                || !(known.genericGetMax() instanceof Binary greatest)
                || texts.stream()
                        .anyMatch(text -> Arrays.compareUnsigned(least.getBytes(), text) <= 0
                                && Arrays.compareUnsigned(greatest.getBytes(), text) >= 0);
    }

    private static long number(Object value) {
        return value instanceof Boolean truth ? truth ? 1 : 0 : ((Number) value).longValue();
    }

    private static boolean mayBeIn(Span span, double least, double greatest) {
        return (span.from() == null || Double.compare(greatest, (Double) span.from()) >= 0)
                && (span.to() == null || Double.compare(least, (Double) span.to()) <= 0);
    }
}
