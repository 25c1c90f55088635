package dev.hapster.core.store;

import java.io.IOException;
import java.nio.file.Path;

/** A part is missing, or is not what was written. */
public final class DamagedPartException extends IOException {

    private final transient Path part;

    /** @param what is wrong with it, as the rest of a sentence that begins with its name */
    public DamagedPartException(Path part, String what) {
        super("The part " + part.getFileName() + " " + what);
        this.part = part;
    }

    /** The file that cannot be read as it was written. */
    public Path part() {
        return part;
    }
}
