package dev.hapster.core.query.part;

import dev.hapster.core.query.value.Field;
import dev.hapster.core.store.Span;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.roaringbitmap.RoaringBitmap;

/**
 * Reads the same columns of one part after another. Where parts lie in one bundle, and are asked for in the order in
 * which they lie there, the bundle is gone through once. Not thread-safe.
 */
public final class PartReaders implements AutoCloseable {

    /** Bundles that are open at once. */
    private static final int MOST_OPEN = 8;

    private final List<Field> fields;
    /** Readers of bundles, the one used last at the end. */
    private final Map<Path, PartReader> open = new LinkedHashMap<>(16, 0.75f, true);
    /** A reader of a part with a file of its own. */
    private PartReader whole;

    public PartReaders(List<Field> fields) {
        this.fields = List.copyOf(fields);
    }

    /**
     * A reader that stands before the first row of a part. It belongs to this, and is of use until the next one is
     * asked for.
     *
     * @param masked rows that do not count, by their number in the part, counted from 0: they are not seen at all
     */
    public PartReader at(Span span, Optional<RoaringBitmap> masked) throws IOException {
        if (whole != null) {
            PartReader done = whole;
            whole = null;
            done.close();
        }
        if (span.isWhole()) {
            whole = new PartReader(span, fields, masked);
            return whole;
        }
        PartReader there = open.get(span.file());
        if (there != null && there.canReach(span.first())) {
            there.moveTo(span, masked);
            return there;
        }
        if (there != null) {
            open.remove(span.file());
            there.close();
        } else if (open.size() == MOST_OPEN) {
            Path oldest = open.keySet().iterator().next();
            open.remove(oldest).close();
        }
        PartReader fresh = new PartReader(span, fields, masked);
        open.put(span.file(), fresh);
        return fresh;
    }

    @Override
    public void close() throws IOException {
        List<PartReader> all = new ArrayList<>(open.values());
        open.clear();
        if (whole != null) {
            all.add(whole);
            whole = null;
        }
        IOException failed = null;
        for (PartReader reader : all) {
            try {
                reader.close();
            } catch (IOException wrong) {
                failed = wrong;
            }
        }
        if (failed != null) {
            throw failed;
        }
    }
}
