package dev.hapster.core.query.value;

import java.io.IOException;

/** A part holds a column in a type that cannot be turned into the one that is declared now. */
public final class StoredOtherwiseException extends IOException {

    StoredOtherwiseException(String message) {
        super(message);
    }
}
