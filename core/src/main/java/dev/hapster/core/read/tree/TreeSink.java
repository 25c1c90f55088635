package dev.hapster.core.read.tree;

import dev.hapster.core.reason.FileRejectedException;
import java.io.IOException;

/**
 * Gets the elements of a nested file, in the order of the file. An array has no element of its own: each of its members
 * has one, with the array's name.
 */
interface TreeSink {

    /**
     * An element begins.
     *
     * @param line on which it does, counted from 1
     */
    void begin(String name, long line) throws IOException, FileRejectedException;

    /** Whether a value of the present element matters; otherwise it may come without its bytes. */
    boolean wantsText();

    /** The present element has a value of its own. */
    void value(byte kind, byte[] bytes, int from, int length) throws IOException, FileRejectedException;

    /** The present element ends. */
    void end() throws IOException, FileRejectedException;

    /** Something that would have been rows cannot be read; what came since {@link #mark} is forgotten. */
    void broken(long line, String original, String why) throws IOException, FileRejectedException;

    /** A place to which {@link #broken} goes back. */
    void mark();
}
