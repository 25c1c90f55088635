package dev.hapster.core.remote;

/** A file was not fetched to its end, since nobody wants it any more. */
public final class GivenUp extends RemoteFault {

    GivenUp(RemotePath path) {
        super(path + " is not fetched to its end, since nobody wants it any more", false, null);
    }

    /** Whether that is why something else failed. */
    public static boolean isBehind(Throwable wrong) {
        for (Throwable cause = wrong; cause != null; cause = cause.getCause()) {
            if (cause instanceof GivenUp) {
                return true;
            }
        }
        return false;
    }
}
