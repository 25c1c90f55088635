package dev.hapster.core.query.write;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Texts;
import java.io.IOException;
import java.io.OutputStream;
import java.math.BigDecimal;
import java.util.List;

/** JSON lines in UTF-8: an object a row, empty values as null. */
final class JsonRows implements RowWriter {

    private static final JsonFactory FACTORY = new JsonFactory();

    private final OutputStream out;
    private JsonGenerator json;
    private List<Field> fields = List.of();

    JsonRows(OutputStream out) {
        this.out = out;
    }

    @Override
    public void begin(List<Field> wanted) throws IOException {
        fields = List.copyOf(wanted);
        json = FACTORY.createGenerator(out)
                .setRootValueSeparator(null)
                .disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET)
                .enable(JsonGenerator.Feature.WRITE_BIGDECIMAL_AS_PLAIN);
    }

    @Override
    public void row(List<Comparable<?>> values) throws IOException {
        json.writeStartObject();
        for (int i = 0; i < fields.size(); i++) {
            json.writeFieldName(fields.get(i).name());
            Comparable<?> value = values.get(i);
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
                json.writeString(Texts.of(value));
            }
        }
        json.writeEndObject();
        json.writeRaw('\n');
    }

    @Override
    public void finish() throws IOException {
        json.close();
    }
}
