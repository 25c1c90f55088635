package dev.hapster.core.read.tree;

import dev.hapster.core.reason.FileRejectedException;
import java.io.Closeable;
import java.io.IOException;

/** A nested file, piece after piece. */
interface TreeSource extends Closeable {

    /** Gives the next piece to the sink; false where there is none. */
    boolean advance(TreeSink sink) throws IOException, FileRejectedException;
}
