package dev.hapster.core.store;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.util.Optional;
import org.apache.parquet.hadoop.metadata.ParquetMetadata;

/**
 * What the footers of files of the store say, kept until a file looks otherwise: a question about many small files is
 * otherwise answered more slowly for what stands behind their rows than for the rows. Kept are only footers of which
 * the names of their files tell that they are what was written, and each block of rows is compared with such a footer
 * whenever it is read. Bounded, and let go of where memory is short. Thread-safe.
 */
final class Footers {

    /** A footer that was read, with the sums that it holds. */
    record Footer(ParquetMetadata metadata, Sums sums) {

        /** About how many bytes of memory it takes. */
        int weight() {
            long columns = metadata.getBlocks().stream()
                    .mapToLong(group -> group.getColumns().size())
                    .sum();
            long notes = metadata.getFileMetaData().getKeyValueMetaData().values().stream()
                    .mapToLong(String::length)
                    .sum();
            long all = FOR_EACH + FOR_A_COLUMN * columns + notes + (long) Long.BYTES * sums.blocks().length;
            return (int) Math.min(all, Integer.MAX_VALUE);
        }
    }

    private static final long FOR_EACH = 2000;
    private static final long FOR_A_COLUMN = 700;
    /** Of the heap, one such piece is for footers at most. */
    private static final long PIECE_OF_HEAP = 32;

    /** How a file looks; one that was replaced or written to looks otherwise. */
    record Look(Path path, long size, FileTime changed, Object key) {}

    private static final Cache<Look, Footer> KNOWN = Caffeine.newBuilder()
            .maximumWeight(Runtime.getRuntime().maxMemory() / PIECE_OF_HEAP)
            .weigher((Look look, Footer footer) -> footer.weight())
            .softValues()
            .build();

    private Footers() {}

    /** How a file looks now; nothing where it is missing, or the file system cannot tell one file from another. */
    static Optional<Look> look(Path path) throws IOException {
        try {
            BasicFileAttributes now = Files.readAttributes(path, BasicFileAttributes.class);
            return now.fileKey() == null
                    ? Optional.empty()
                    : Optional.of(new Look(path, now.size(), now.lastModifiedTime(), now.fileKey()));
        } catch (NoSuchFileException gone) {
            return Optional.empty();
        }
    }

    /** The footer of a file that looked so when it was read. */
    static Optional<Footer> of(Look look) {
        return Optional.ofNullable(KNOWN.getIfPresent(look));
    }

    /** Keeps a footer that was read after the look, and that is what was written under the name of its file. */
    static void keep(Look look, Footer footer) {
        KNOWN.put(look, footer);
    }
}
