package dev.hapster.core.catalogue;

import java.util.Optional;
import org.roaringbitmap.RoaringBitmap;

/**
 * Rows that one arrival brought and that are in the dataset.
 *
 * @param arrival which
 * @param name the file with the rows, by the name under which the part store finds it
 * @param source the file, sheet or entry that they are from
 * @param path absolute path of that file when it was read, with the place inside it
 * @param rows how many of them count
 * @param content what was read, and by which rules: as long as it is the same, so are the rows
 * @param masked which do not, by number, counted from 0
 */
public record Part(
        long arrival,
        String name,
        String dataset,
        String job,
        String source,
        String path,
        long rows,
        long run,
        String content,
        Optional<RoaringBitmap> masked) {}
