package dev.hapster.core.run.open;

import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Roots;
import java.nio.file.Path;
import java.util.Optional;

/**
 * Opens what jobs take. Whatever the path of a file leads to when it is opened must lie inside the roots, and exactly
 * that is opened. Immutable.
 *
 * @param scratch a folder for what must be unpacked to be read
 * @param watch looks at every reading whether it is to go on
 */
public record Opener(Roots roots, Path scratch, Watch watch) {

    public Opener(Roots roots, Path scratch) {
        this(roots, scratch, Watch.NONE);
    }

    /** The content of a file that was found. It is not opened before it is asked for. */
    public SourceContent content(Candidate file) {
        return content(file.path(), file.entry(), file.sheet());
    }

    /** The content of a file, of an entry of an archive, or of the workbook that holds a sheet. */
    public SourceContent content(Path path, Optional<String> entry, Optional<String> sheet) {
        return new SourceContent(this, path, entry, sheet);
    }

    /** The same with another folder for what must be unpacked. */
    public Opener unpackingTo(Path folder) {
        return new Opener(roots, folder, watch);
    }

    /** The same, where every reading is looked at. */
    public Opener watched(Watch other) {
        return new Opener(roots, scratch, other);
    }
}
