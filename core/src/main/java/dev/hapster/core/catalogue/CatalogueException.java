package dev.hapster.core.catalogue;

/**
 * The catalogue cannot be read or written: its disk is full, read-only or gone, or what it holds is damaged. What was
 * committed before stays. The call that failed changed nothing; where it is not known whether a change reached the
 * disk, all of it may have been made, and who goes on asks the catalogue.
 */
public final class CatalogueException extends RuntimeException {

    /** @param message what is wrong, as a sentence for people */
    public CatalogueException(String message, Throwable cause) {
        super(message, cause);
    }
}
