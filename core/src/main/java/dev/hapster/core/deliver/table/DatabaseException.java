package dev.hapster.core.deliver.table;

import java.io.IOException;

/** A database did not do what it was asked; the message says which, why, and what helps. */
public final class DatabaseException extends IOException {
    private static final long serialVersionUID = 1;

    private final boolean login;

    DatabaseException(String message) {
        this(message, false);
    }

    DatabaseException(String message, boolean login) {
        super(message);
        this.login = login;
    }

    /** Whether the database does not take user and password: trying them again and again gets an account locked. */
    public boolean isLogin() {
        return login;
    }
}
