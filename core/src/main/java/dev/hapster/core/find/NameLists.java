package dev.hapster.core.find;

import dev.hapster.core.definition.NameList;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;

/** Reads files that name files. Asked of whoever knows formats. */
public interface NameLists {

    /**
     * A name, and where it stands.
     *
     * @param line in the list's file, or the row of its sheet, counted from 1
     */
    record Listed(long line, String name) {}

    /**
     * @param file the list's file, inside the roots
     * @throws IOException with a sentence for people, where no names can be had from it
     */
    List<Listed> read(Path file, NameList list) throws IOException;
}
