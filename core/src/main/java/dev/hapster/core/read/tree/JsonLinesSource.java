package dev.hapster.core.read.tree;

import com.fasterxml.jackson.core.JsonProcessingException;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import java.io.IOException;
import java.io.InputStream;

/** One JSON value a line. A line that cannot be read is a rejected row, and the others are read. */
final class JsonLinesSource implements TreeSource {

    private final InputStream in;
    private final DelimitedReader lines;
    private final RawBatch batch = new RawBatch(1, 256);
    private int next;
    private boolean opened;

    /** @param rules that make each line one field */
    JsonLinesSource(InputStream in, Read rules) {
        this.in = in;
        lines = new DelimitedReader(in, rules);
    }

    @Override
    public boolean advance(TreeSink sink) throws IOException, FileRejectedException {
        if (!opened) {
            lines.header();
            opened = true;
        }
        if (next == batch.rows) {
            next = 0;
            if (!lines.next(batch)) {
                batch.rows = 0;
                return false;
            }
        }
        give(batch, next++, sink);
        return true;
    }

    /**
     * Gives what one line holds to a sink.
     *
     * @param lines each of them one field
     */
    static void give(RawBatch lines, int row, TreeSink sink) throws IOException, FileRejectedException {
        long line = lines.line[row];
        sink.mark();
        try (JsonSource one = new JsonSource(
                JsonSource.FACTORY.createParser(
                        lines.bytes, lines.recordFrom[row], lines.recordTo[row] - lines.recordFrom[row]),
                line)) {
            while (one.step(sink)) {
                continue;
            }
        } catch (JsonProcessingException wrong) {
            sink.broken(line, lines.original(row), JsonSource.sentence(wrong));
        }
    }

    @Override
    public void close() throws IOException {
        in.close();
    }
}
