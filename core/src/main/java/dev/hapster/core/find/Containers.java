package dev.hapster.core.find;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** Tells what lies inside files. Asked of whoever knows formats. */
public interface Containers {

    /**
     * Something in an archive.
     *
     * @param name its path there, with {@code /} between its pieces
     * @param size bytes, unpacked
     */
    record Entry(String name, long size) {}

    /** @throws IOException with a sentence for people, where the archive cannot be looked into */
    List<Entry> entries(Path archive) throws IOException;

    /**
     * The names of a workbook's sheets, in their order.
     *
     * @param entry the workbook's path in the archive {@code file}; empty where it is the workbook
     * @throws IOException with a sentence for people, where it cannot be looked into
     */
    List<String> sheets(Path file, Optional<String> entry) throws IOException;
}
