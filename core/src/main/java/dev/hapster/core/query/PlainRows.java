package dev.hapster.core.query;

import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.part.Parts;
import dev.hapster.core.query.part.SourceRows;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.QueryException;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.roaringbitmap.RoaringBitmap;

/** Rows by source and line, all of them. Whole sources are passed unread, and so are pages of others. Immutable. */
final class PlainRows {

    private final Parts parts;
    private final List<Field> fields;

    PlainRows(Parts parts, List<Field> fields) {
        this.parts = parts;
        this.fields = fields;
    }

    /** So many rows behind the first ones. */
    List<List<Comparable<?>>> some(long offset, int limit) throws IOException, QueryException {
        List<List<Comparable<?>>> found = new ArrayList<>();
        long before = 0;
        for (int part = 0, end; part < parts.all().size() && found.size() < limit; part = end) {
            end = parts.endOfSource(part);
            long rows = parts.all().subList(part, end).stream()
                    .mapToLong(PartFile::rows)
                    .sum();
            long from = Math.max(0, offset - before);
            if (from < rows) {
                int wanted = (int) Math.min(limit - found.size(), rows - from);
                found.addAll(end == part + 1 ? ofOne(part, from, wanted) : ofSeveral(part, end, from, wanted));
            }
            before += rows;
        }
        return found;
    }

    private List<List<Comparable<?>>> ofOne(int part, long from, int count) throws IOException, QueryException {
        PartFile one = parts.all().get(part);
        long first = one.span().isWhole() ? 0 : one.span().first();
        long[] rows = new long[count];
        long row = one.masked().map(masked -> counting(masked, from)).orElse(from);
        for (int i = 0; i < count; row++) {
            if (one.masked().isEmpty() || !one.masked().get().contains((int) row)) {
                rows[i++] = first + row;
            }
        }
        int[] files = new int[count];
        Arrays.fill(files, parts.fileOf(part));
        return parts.fetch(files, rows, fields);
    }

    /** The number of the row before which so many others count. */
    private static long counting(RoaringBitmap masked, long count) {
        long least = count;
        long most = count + masked.getLongCardinality();
        while (least < most) {
            long middle = (least + most) >>> 1;
            long counted = middle + 1 - masked.rankLong((int) middle);
            if (counted > count) {
                most = middle;
            } else {
                least = middle + 1;
            }
        }
        return least;
    }

    private List<List<Comparable<?>>> ofSeveral(int part, int end, long from, int count) throws IOException {
        List<List<Comparable<?>>> found = new ArrayList<>();
        long[] at = {0};
        try (SourceRows sources = new SourceRows(parts, fields)) {
            sources.rows(part, end, (reader, row) -> {
                if (at[0]++ >= from) {
                    found.add(Parts.values(reader, row, fields.size()));
                }
                return found.size() < count;
            });
        }
        return found;
    }
}
