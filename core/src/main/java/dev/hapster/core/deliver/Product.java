package dev.hapster.core.deliver;

import java.nio.file.Path;
import java.time.Instant;

/**
 * A file that a delivery wrote.
 *
 * @param path absolute
 * @param bytes how large it is
 * @param modified when it was last written, to the microsecond
 * @param checksum SHA-256 of its bytes, in hexadecimal digits
 * @param content a short name for the rows in it and how they are written: as long as it is the same, so is the file
 */
public record Product(Path path, long rows, long bytes, Instant modified, String checksum, String content) {}
