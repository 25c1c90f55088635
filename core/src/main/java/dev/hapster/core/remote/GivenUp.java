package dev.hapster.core.remote;

/** A file was not fetched to its end, since nobody wants it any more. */
public final class GivenUp extends RemoteFault {

    GivenUp(RemotePath path) {
        super(path + " is not fetched to its end, since nobody wants it any more", true, null);
    }
}
