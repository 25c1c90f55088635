package dev.hapster.core.draft;

import dev.hapster.core.draft.reading.Reading;
import dev.hapster.core.find.Candidate;
import java.nio.file.Path;
import java.util.Optional;

/**
 * A file, a sheet or an entry that was looked at.
 *
 * @param file where it is
 * @param folder from which it was found
 * @param reading how it is read; empty where it cannot be
 * @param why it cannot; empty where it can
 */
record Found(Candidate file, Path folder, Optional<Reading> reading, String why) {

    /** As people call it: its path below the folder. */
    String name() {
        return file.relative();
    }

    /** The name of the file alone, without folders, sheets and entries. */
    String fileName() {
        return file.path().getFileName().toString();
    }

    /** How many folders lie between. */
    int depth() {
        return folder.relativize(file.path()).getNameCount() - 1;
    }
}
