package dev.hapster.core.query.write;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.util.MinimalPrettyPrinter;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.QueryException;
import java.io.IOException;
import java.io.OutputStream;
import java.math.BigDecimal;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;

/**
 * JSON in UTF-8: an object a row, empty values as null; one behind the other in an array, or each on a line. Columns
 * with points in their names lie in objects of their own, and behind {@code []} in lists of those.
 */
final class JsonRows implements RowWriter {

    private static final JsonFactory FACTORY = new JsonFactory();

    private final OutputStream out;
    private final boolean lines;
    private final RowStyle.Values texts;
    private JsonGenerator json;
    private Nesting nesting;
    private Levels levels;
    /** What is to be ended, and how much of it was before something of each level began. */
    private final Deque<JsonToken> open = new ArrayDeque<>();

    private int[] before = new int[0];
    private boolean some;

    /** @param lines whether each row is a line; otherwise all are one array */
    JsonRows(OutputStream out, boolean lines, RowStyle style) {
        this.out = out;
        this.lines = lines;
        texts = style.new Values();
    }

    @Override
    public void begin(List<Field> wanted) throws IOException {
        try {
            nesting = Nesting.of(wanted.stream().map(Field::name).toList());
        } catch (QueryException wrong) {
            throw new IOException(wrong.getMessage(), wrong);
        }
        levels = new Levels(nesting);
        before = new int[levels.count()];
        json = FACTORY.createGenerator(out)
                .setRootValueSeparator(null)
                .disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET)
                .enable(JsonGenerator.Feature.WRITE_BIGDECIMAL_AS_PLAIN);
        if (!lines) {
            json.setPrettyPrinter(new RowOnALine());
            json.writeStartArray();
        }
    }

    @Override
    public void row(List<Comparable<?>> values) throws IOException {
        int level = levels.next(values);
        if (level == 0) {
            endRow();
        } else {
            end(before[level]);
        }
        begin(nesting.level(level), level, values);
        some = true;
        if (levels.count() == 1) {
            endRow();
        }
    }

    private void endRow() throws IOException {
        end(0);
        if (lines && some) {
            json.writeRaw('\n');
        }
        some = false;
    }

    private void end(int left) throws IOException {
        while (open.size() > left) {
            if (open.pop() == JsonToken.END_ARRAY) {
                json.writeEndArray();
            } else {
                json.writeEndObject();
            }
        }
    }

    /** Writes one of a level, up to what comes in further rows. */
    private void begin(Nesting of, int level, List<Comparable<?>> values) throws IOException {
        before[level] = open.size();
        if (of.column >= 0) {
            value(values.get(of.column));
        } else {
            object(of, level, values);
        }
    }

    private void object(Nesting of, int level, List<Comparable<?>> values) throws IOException {
        json.writeStartObject();
        open.push(JsonToken.END_OBJECT);
        for (Nesting one : of.inside) {
            json.writeFieldName(one.name);
            if (one.list) {
                json.writeStartArray();
                open.push(JsonToken.END_ARRAY);
                begin(one, level + 1, values);
            } else if (one.column >= 0) {
                value(values.get(one.column));
            } else {
                int depth = open.size();
                object(one, level, values);
                if (!one.holdsList()) {
                    end(depth);
                }
            }
        }
    }

    private void value(Comparable<?> value) throws IOException {
        if (value == null) {
            json.writeNull();
        } else if (value instanceof Long number) {
            json.writeNumber(number);
        } else if (value instanceof BigDecimal number) {
            json.writeNumber(number);
        } else if (value instanceof Double number && !number.isNaN() && !number.isInfinite()) {
            json.writeNumber(number);
        } else if (value instanceof Boolean truth) {
            json.writeBoolean(truth);
        } else {
            json.writeString(texts.of(value));
        }
    }

    /** Rows of an array, each on a line of its own. */
    private static final class RowOnALine extends MinimalPrettyPrinter {
        private int depth;

        @Override
        public void writeStartObject(JsonGenerator to) throws IOException {
            depth++;
            super.writeStartObject(to);
        }

        @Override
        public void writeEndObject(JsonGenerator to, int entries) throws IOException {
            depth--;
            super.writeEndObject(to, entries);
        }

        @Override
        public void beforeArrayValues(JsonGenerator to) throws IOException {
            if (depth == 0) {
                to.writeRaw('\n');
            }
        }

        @Override
        public void writeArrayValueSeparator(JsonGenerator to) throws IOException {
            to.writeRaw(depth == 0 ? ",\n" : ",");
        }

        @Override
        public void writeEndArray(JsonGenerator to, int values) throws IOException {
            to.writeRaw(depth == 0 ? "\n]" : "]");
        }
    }

    @Override
    public void finish() throws IOException {
        endRow();
        if (!lines) {
            json.writeEndArray();
            json.writeRaw('\n');
        }
        json.close();
    }
}
