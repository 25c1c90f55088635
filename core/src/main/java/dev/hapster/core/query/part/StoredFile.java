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
 */
public final class StoredFile {

    private final Path path;
    private final List<PartFile> parts;
    private final List<Integer> numbers;
    /** Null until the file is read for the first time; never changed afterwards, since many may read at once. */
    private volatile RoaringBitmap others;

    private StoredFile(Path path, List<PartFile> parts, List<Integer> numbers) {
        this.path = path;
        this.parts = parts;
        this.numbers = numbers;
    }

    public Path path() {
        return path;
    }

    /** The numbers of its parts, in the order in which their rows lie in the file. */
    public List<Integer> numbers() {
        return numbers;
    }

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
        RoaringBitmap found = others;
        if (found == null) {
            found = gatherOthers(rows);
            others = found;
        }
        return Optional.of(found);
    }

    private RoaringBitmap gatherOthers(long rows) {
        RoaringBitmap found = new RoaringBitmap();
        long behind = 0;
        for (PartFile part : parts) {
            long first = part.span().first();
            found.add(behind, Math.max(behind, first));
            if (part.masked().isPresent()) {
                found.or(RoaringBitmap.addOffset(part.masked().get(), first));
            }
            behind = part.span().end();
        }
        found.add(behind, Math.max(behind, rows));
        return found;
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
