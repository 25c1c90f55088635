package dev.hapster.core.query.part;

import dev.hapster.core.query.value.Field;
import dev.hapster.core.store.Span;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.roaringbitmap.RoaringBitmap;

/**
 * One part.
 *
 * @param span where its rows lie
 * @param source the file that its rows are from: parts of one source are put in order by line; empty where that does
 *     not matter
 * @param rows rows of it that count
 * @param arrival what brought them, and of what, by which it is told whether rows are still the same; empty where that
 *     does not matter
 * @param masked those that do not, by their number in the part, counted from 0
 */
public record PartFile(Span span, String source, String arrival, long rows, Optional<RoaringBitmap> masked) {

    public PartFile(Path path, long rows, Optional<RoaringBitmap> masked) {
        this(Span.whole(path), "", "", rows, masked);
    }

    /** A part of which it does not matter what brought it. */
    public PartFile(Span span, String source, long rows, Optional<RoaringBitmap> masked) {
        this(span, source, "", rows, masked);
    }

    /** A part of which all rows count. */
    public PartFile(Path path, long rows) {
        this(path, rows, Optional.empty());
    }

    /** The file in which it lies. */
    public Path path() {
        return span.file();
    }

    /** Reads its rows that count. */
    public PartReader read(List<Field> fields) throws IOException {
        return new PartReader(span, fields, masked);
    }

    /** By which it is told that it is the same part, whichever of its rows count. */
    public String name() {
        return arrival.isEmpty() ? span + "\n" + source : arrival;
    }

    /** By which it is told that its rows are still the same, wherever they lie: as long as this is, so are they. */
    public byte[] identity() {
        byte[] start = (name() + "\n" + rows).getBytes(StandardCharsets.UTF_8);
        int length = masked.map(RoaringBitmap::serializedSizeInBytes).orElse(0);
        ByteBuffer all = ByteBuffer.allocate(start.length + length).put(start);
        masked.ifPresent(some -> some.serialize(all));
        return all.array();
    }
}
