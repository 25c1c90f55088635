package dev.hapster.core.query.part;

import dev.hapster.core.query.value.Field;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.roaringbitmap.RoaringBitmap;

/**
 * A file of the store with those parts in it that count, so that a bundle is gone through once and not part by part.
 * Immutable.
 *
 * @param numbers of the parts, in the order in which their rows lie in the file
 */
public record StoredFile(Path path, List<PartFile> parts, List<Integer> numbers) {

    /** The files of parts, in the order in which their first parts come. */
    static List<StoredFile> of(List<PartFile> parts) {
        Map<Path, List<Integer>> byPath = new LinkedHashMap<>();
        for (int part = 0; part < parts.size(); part++) {
            byPath.computeIfAbsent(parts.get(part).path(), path -> new ArrayList<>())
                    .add(part);
        }
        List<StoredFile> files = new ArrayList<>();
        byPath.forEach((path, numbers) -> {
            numbers.sort(Comparator.comparingLong(part -> parts.get(part).span().first()));
            files.add(new StoredFile(path, numbers.stream().map(parts::get).toList(), numbers));
        });
        return files;
    }

    /** Reads the rows of its parts that count, in the order in which they lie in the file. */
    public PartReader read(List<Field> fields) throws IOException {
        return isBundle()
                ? new PartReader(path, fields, this::others)
                : parts.get(0).read(fields);
    }

    /** Whether it is shared by parts. */
    public boolean isBundle() {
        return !parts.get(0).span().isWhole();
    }

    /** Rows that do not count, or are of parts that do not. */
    private Optional<RoaringBitmap> others(long rows) {
        RoaringBitmap others = new RoaringBitmap();
        long behind = 0;
        for (PartFile part : parts) {
            long first = part.span().first();
            others.add(behind, Math.max(behind, first));
            part.masked().ifPresent(masked -> others.or(RoaringBitmap.addOffset(masked, first)));
            behind = part.span().end();
        }
        others.add(behind, Math.max(behind, rows));
        return Optional.of(others);
    }

    /**
     * The part in which a row lies, by its place among the parts of this file.
     *
     * @param from a part at or before it
     */
    public int partOf(long row, int from) {
        int part = from;
        while (part + 1 < parts.size() && parts.get(part + 1).span().first() <= row) {
            part++;
        }
        return part;
    }
}
