package dev.hapster.core.reason;

/** A file that does not fit as a whole; none of its rows is loaded, and the run goes on with the others. */
public final class FileRejectedException extends Exception {

    private final transient Reason reason;

    public FileRejectedException(Reason reason) {
        super(reason.sentence(), null, false, false);
        this.reason = reason;
    }

    public Reason reason() {
        return reason;
    }
}
