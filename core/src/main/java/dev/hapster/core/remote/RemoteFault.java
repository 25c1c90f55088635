package dev.hapster.core.remote;

import java.io.IOException;
import org.apache.commons.lang3.exception.ExceptionUtils;

/**
 * A server, or the way to it, did not do what was wanted. What has a class of its own in Java, such as a file that does
 * not exist or may not be read, is told by that class instead.
 */
public class RemoteFault extends IOException {

    private final boolean passing;

    /**
     * @param sentence for people: what happened, and what to do where somebody has to
     * @param passing whether the same may work in a while
     */
    public RemoteFault(String sentence, boolean passing, Throwable cause) {
        super(sentence, cause);
        this.passing = passing;
    }

    /** Whether the same may work in a while, without anybody doing something. */
    public boolean isPassing() {
        return passing;
    }

    /** Whether somewhere below an error lies a fault that may pass. */
    public static boolean isPassing(Throwable wrong) {
        RemoteFault fault = ExceptionUtils.throwableOfType(wrong, RemoteFault.class);
        return fault != null && fault.isPassing();
    }
}
