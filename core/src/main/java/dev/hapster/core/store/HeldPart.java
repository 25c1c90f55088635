package dev.hapster.core.store;

import dev.hapster.core.store.column.ColumnChunk;
import java.util.List;
import java.util.Map;
import org.apache.parquet.schema.MessageType;

/** A small part that was read to its end and has no file yet: it will share one with others. Not thread-safe. */
public final class HeldPart {

    final MessageType schema;
    final List<ColumnChunk> chunks;
    final Map<String, String> notes;

    /** @param notes what is to be known of it besides its rows, by name */
    HeldPart(MessageType schema, List<ColumnChunk> chunks, Map<String, String> notes) {
        this.schema = schema;
        this.chunks = chunks;
        this.notes = notes;
    }

    public long rows() {
        return chunks.get(0).rows();
    }

    /** Bytes held, about. */
    public long bytes() {
        return chunks.stream().mapToLong(ColumnChunk::bytes).sum();
    }
}
