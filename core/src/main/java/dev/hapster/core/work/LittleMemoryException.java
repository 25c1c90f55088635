package dev.hapster.core.work;

import java.io.IOException;

/** Something needed more memory than the service has. What it held is let go of, and others go on. */
public final class LittleMemoryException extends IOException {

    /** @param much what the machine said */
    public LittleMemoryException(VirtualMachineError much) {
        super("The service has too little memory for it (" + much.getMessage() + ")");
        addSuppressed(much); // whoever looks for the deepest cause is to find these words
    }
}
