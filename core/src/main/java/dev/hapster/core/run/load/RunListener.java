package dev.hapster.core.run.load;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.Route;

/** Hears how a run goes on. Called from several threads at once; must be quick. */
public interface RunListener {

    /** Nobody listens. */
    RunListener NONE = new RunListener() {};

    /** The files are known: how many the job takes, and how many bytes they have together. */
    default void found(long files, long bytes) {}

    default void fileStarted(int ordinal, String name, long bytes) {}

    /** So many bytes and rows of a file have been dealt with. */
    default void fileProgress(int ordinal, long bytes, long rows) {}

    default void fileDone(FileResult result) {}

    /** A file was moved, copied or deleted once it was done with, or could not be. */
    default void routed(Route.Done done) {}
}
