package dev.hapster.core.run.act;

import com.dynatrace.hash4j.hashing.HashValue128;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.StoredOtherwiseException;
import dev.hapster.core.row.Vector;
import dev.hapster.core.run.duplicates.KeyHash;
import dev.hapster.core.store.PartStore;
import java.io.IOException;
import java.nio.file.Files;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Counts rows that two contents of one file have in common, so that it can be said what an act really changes. Memory:
 * about 80 bytes for each row of the first content, of which there are at most {@value #MOST_ROWS}.
 */
final class SameRows {

    private static final int MOST_ROWS = 1_000_000;

    private final List<Field> fields;
    private final PartStore parts;
    private final KeyHash hash = new KeyHash();

    SameRows(DatasetDef dataset, PartStore parts) {
        this.parts = parts;
        fields = dataset.columns().stream().map(Field::of).toList();
    }

    /**
     * @param out arrivals of a file, with their rows that go
     * @param back arrivals of the same file, with their rows that come
     * @return how many rows go and come back with equal values; 0 where there are too many to compare
     */
    long count(List<LedgerEntry> out, List<LedgerEntry> back) throws IOException {
        if (out.isEmpty()
                || back.isEmpty()
                || out.stream().mapToLong(LedgerEntry::countingRows).sum() > MOST_ROWS) {
            return 0;
        }
        for (LedgerEntry entry : out) {
            if (!Files.exists(parts.path(entry.arrival().part()))) {
                return 0; // it is lost, which does not keep it from being taken out
            }
        }
        try {
            return same(out, back);
        } catch (StoredOtherwiseException otherwise) {
            return 0; // values of other types are not the same
        }
    }

    private long same(List<LedgerEntry> out, List<LedgerEntry> back) throws IOException {
        Map<HashValue128, Integer> going = new HashMap<>();
        for (LedgerEntry entry : out) {
            each(entry, key -> going.merge(key, 1, Integer::sum));
        }
        long[] same = {0};
        for (LedgerEntry entry : back) {
            each(entry, key -> {
                if (going.containsKey(key)) {
                    same[0]++;
                    going.computeIfPresent(key, (one, left) -> left == 1 ? null : left - 1);
                }
            });
        }
        return same[0];
    }

    private interface EachRow {
        void of(HashValue128 key);
    }

    private void each(LedgerEntry entry, EachRow each) throws IOException {
        try (PartReader reader = new PartReader(
                parts.span(entry.arrival().part()), fields, entry.standing().masked())) {
            for (int rows = reader.next(); rows > 0; rows = reader.next()) {
                List<Vector> values = reader.vectors(fields.size());
                for (int row = 0; row < rows; row++) {
                    each.of(hash.of(values, row));
                }
            }
        }
    }
}
