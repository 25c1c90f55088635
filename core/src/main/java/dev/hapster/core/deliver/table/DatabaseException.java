package dev.hapster.core.deliver.table;

import java.io.IOException;

/** A database did not do what it was asked; the message says which, why, and what helps. */
public final class DatabaseException extends IOException {
    private static final long serialVersionUID = 1;

    DatabaseException(String message) {
        super(message);
    }
}
