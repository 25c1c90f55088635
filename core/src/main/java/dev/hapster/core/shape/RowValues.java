package dev.hapster.core.shape;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.expression.Expression;
import dev.hapster.core.expression.Names;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.row.Vector;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalTime;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;

/** What the names of expressions stand for in one row of a file after the other. Not thread-safe. */
public final class RowValues implements Names {

    private static final long SECONDS_PER_DAY = 86_400L;
    private static final long MICROS_PER_SECOND = 1_000_000L;

    private final Map<String, Integer> places = new HashMap<>();
    private final List<ColumnDef> columns;
    private final List<String> header;
    private final List<String> folded;
    private final Map<String, Object> file;
    private final Map<String, Object> facts = new HashMap<>();
    private final TypedBatch typed;
    private RawBatch raw;
    private int row;
    private Map<String, Optional<String>> instead = Map.of();

    RowValues(DatasetDef dataset, FileSays says, List<String> header, TypedBatch typed) {
        columns = dataset.columns();
        columns.forEach(column -> places.put(column.name(), places.size()));
        this.header = header;
        folded = header.stream().map(Binding::fold).toList();
        this.typed = typed;
        file = Map.of("name", says.name(), "path", says.path(), "size", says.size());
        says.facts().forEach((name, fact) -> facts.put(name, fact.text()));
    }

    /** From now on, names stand for what a row of a batch has. */
    public void at(RawBatch batch, int at) {
        raw = batch;
        row = at;
    }

    /** The same for a row with faults, of which some columns have a text instead of a value. */
    public void at(RawBatch batch, int at, Map<String, Optional<String>> texts) {
        at(batch, at);
        instead = texts;
    }

    /** Ends that some columns have a text instead of a value. */
    public void asTyped() {
        instead = Map.of();
    }

    @Override
    public Supplier<Object> of(String name) {
        return switch (name) {
            case Expression.FILE -> () -> file;
            case Expression.FACT -> () -> facts;
            case Expression.SOURCE -> this::texts;
            case Expression.ROW -> this::all;
            default -> column(places.get(name));
        };
    }

    @Override
    public Supplier<Object> source(String column) {
        int exact = header.indexOf(column);
        int at = exact >= 0 ? exact : folded.indexOf(Binding.fold(column));
        return at < 0 ? null : () -> at < raw.fields[row] ? raw.text(row, at) : null;
    }

    private Map<String, Object> texts() {
        Map<String, Object> source = new HashMap<>();
        List<String> values = raw.texts(row);
        for (int i = 0; i < Math.min(values.size(), header.size()); i++) {
            source.put(header.get(i), values.get(i));
        }
        return source;
    }

    private Map<String, Object> all() {
        Map<String, Object> all = new HashMap<>();
        places.forEach((column, place) -> all.put(column, column(place).get()));
        return all;
    }

    /** Told apart by type once, and not for each row. */
    private Supplier<Object> column(int place) {
        ColumnDef column = columns.get(place);
        Vector vector = typed.columns.get(place);
        Supplier<Object> plain = plain(column.type(), vector);
        return () -> {
            if (!instead.isEmpty()) {
                Optional<String> text = instead.getOrDefault(column.name(), Optional.empty());
                if (text.isPresent()) {
                    return text.get();
                }
            }
            return vector.empty[row] ? null : plain.get();
        };
    }

    private Supplier<Object> plain(ColumnType type, Vector vector) {
        if (vector instanceof Vector.Longs longs) {
            int scale = type.scale();
            return switch (type.kind()) {
                case DECIMAL -> () -> BigDecimal.valueOf(longs.values[row], scale);
                case BOOLEAN -> () -> longs.values[row] != 0;
                case DATE -> () -> Instant.ofEpochSecond(longs.values[row] * SECONDS_PER_DAY);
                case TIMESTAMP ->
                    () -> Instant.ofEpochSecond(
                            Math.floorDiv(longs.values[row], MICROS_PER_SECOND),
                            Math.floorMod(longs.values[row], MICROS_PER_SECOND) * 1000);
                case TIME ->
                    () -> LocalTime.ofNanoOfDay(longs.values[row] * 1000).toString();
                default -> () -> longs.values[row];
            };
        }
        if (vector instanceof Vector.Doubles doubles) {
            return () -> doubles.values[row];
        }
        Vector.Bytes bytes = (Vector.Bytes) vector;
        return type.isNumber()
                ? () -> new BigDecimal(
                        new BigInteger(
                                Arrays.copyOfRange(bytes.data, bytes.from[row], bytes.from[row] + bytes.length[row])),
                        type.scale())
                : () -> new String(bytes.data, bytes.from[row], bytes.length[row], StandardCharsets.UTF_8);
    }
}
