package dev.hapster.core.query.write;

import de.siegmar.fastcsv.writer.CsvWriter;
import de.siegmar.fastcsv.writer.LineDelimiter;
import de.siegmar.fastcsv.writer.QuoteStrategies;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.value.Field;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.nio.charset.CodingErrorAction;
import java.util.ArrayList;
import java.util.List;

/** CSV as RFC 4180 has it; usually in UTF-8, with the header once, dates in ISO 8601, decimal points. */
final class CsvRows implements RowWriter {

    private final Writer text;
    private final CsvWriter writer;
    private final RowStyle style;
    private final RowStyle.Values values;
    /** What writes batches; null where each value must become a text. */
    private final CsvBatches batches;
    /** Whether rows were written since the last batch. */
    private boolean pending;

    CsvRows(OutputStream out, RowStyle style) {
        this.style = style;
        values = style.new Values();
        text = new BufferedWriter(
                new OutputStreamWriter(
                        out,
                        style.encoding()
                                .newEncoder()
                                .onUnmappableCharacter(CodingErrorAction.REPORT)
                                .onMalformedInput(CodingErrorAction.REPLACE)),
                1 << 16);
        CsvWriter.CsvWriterBuilder builder =
                CsvWriter.builder().lineDelimiter(LineDelimiter.CRLF).fieldSeparator(style.separator());
        if (style.quoteAll()) {
            builder.quoteStrategy(QuoteStrategies.ALWAYS);
        }
        writer = builder.build(text);
        batches = CsvBatches.suits(style) ? new CsvBatches(out, style) : null;
    }

    @Override
    public void begin(List<Field> fields) {
        if (style.header()) {
            pending = true;
            writer.writeRecord(fields.stream().map(Field::name).toList());
        }
    }

    @Override
    public void row(List<Comparable<?>> row) throws IOException {
        if (batches != null && batches.isPending()) {
            batches.flush();
        }
        pending = true;
        List<String> texts = new ArrayList<>(row.size());
        for (Comparable<?> value : row) {
            texts.add(value == null ? "" : values.field(value));
        }
        writer.writeRecord(texts);
    }

    @Override
    public void batch(PartReader reader, int[] rows, int count, int columns) throws IOException {
        if (batches == null) {
            RowWriter.super.batch(reader, rows, count, columns);
            return;
        }
        if (pending) {
            writer.flush();
            text.flush();
            pending = false;
        }
        batches.write(reader, rows, count, columns);
    }

    @Override
    public void finish() throws IOException {
        if (batches != null) {
            batches.flush();
        }
        writer.flush();
        text.flush();
    }
}
