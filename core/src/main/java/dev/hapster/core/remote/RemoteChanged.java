package dev.hapster.core.remote;

/** A file is not the version any more that was listed. */
public final class RemoteChanged extends RemoteFault {
    public RemoteChanged(Object path) {
        super(path + " has changed since it was listed", true, null);
    }
}
