package dev.hapster.core.query.write;

import de.siegmar.fastcsv.writer.CsvWriter;
import de.siegmar.fastcsv.writer.LineDelimiter;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Texts;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/** CSV as RFC 4180 has it, in UTF-8: the header once, dates in ISO 8601, decimal points. */
final class CsvRows implements RowWriter {

    private final Writer text;
    private final CsvWriter writer;

    CsvRows(OutputStream out) {
        text = new BufferedWriter(new OutputStreamWriter(out, StandardCharsets.UTF_8), 1 << 16);
        writer = CsvWriter.builder().lineDelimiter(LineDelimiter.CRLF).build(text);
    }

    @Override
    public void begin(List<Field> fields) {
        writer.writeRecord(fields.stream().map(Field::name).toList());
    }

    @Override
    public void row(List<Comparable<?>> values) {
        List<String> texts = new ArrayList<>(values.size());
        for (Comparable<?> value : values) {
            texts.add(value == null ? "" : Texts.of(value));
        }
        writer.writeRecord(texts);
    }

    @Override
    public void finish() throws IOException {
        writer.flush();
        text.flush();
    }
}
