package dev.hapster.service.remote;

import java.io.IOException;
import java.net.SocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.PublicKey;
import java.util.HashSet;
import java.util.Set;
import org.apache.sshd.client.config.hosts.KnownHostEntry;
import org.apache.sshd.client.keyverifier.AcceptAllServerKeyVerifier;
import org.apache.sshd.client.keyverifier.KnownHostsServerKeyVerifier;
import org.apache.sshd.client.keyverifier.RejectAllServerKeyVerifier;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.config.keys.KeyUtils;

/** Compares the key that a server shows with what a file of known hosts says. Remembers why one was not trusted. */
final class HostKeys extends KnownHostsServerKeyVerifier {

    private final Path file;
    private final String server;
    private final boolean trustFirst;
    private volatile String objection = "";

    /**
     * @param server how sentences call it
     * @param trustFirst whether the key of a host that the file does not name is added to it
     */
    HostKeys(Path file, String server, boolean trustFirst) {
        super(trustFirst ? AcceptAllServerKeyVerifier.INSTANCE : RejectAllServerKeyVerifier.INSTANCE, file);
        this.file = file;
        this.server = server;
        this.trustFirst = trustFirst;
    }

    /** Why the last key was not trusted, a sentence; empty where it was. */
    String objection() {
        return objection;
    }

    void forget() {
        objection = "";
    }

    /** Kinds of keys by which a host is known, such as {@code ssh-ed25519}. */
    Set<String> kinds(String host, int port) throws IOException {
        Set<String> kinds = new HashSet<>();
        if (Files.isRegularFile(file)) {
            for (KnownHostEntry entry : KnownHostEntry.readKnownHostEntries(file)) {
                if (entry.isHostMatch(host, port)) {
                    kinds.add(entry.getKeyEntry().getKeyType());
                }
            }
        }
        return kinds;
    }

    private static String fingerprint(PublicKey key) {
        return KeyUtils.getKeyType(key) + " " + KeyUtils.getFingerPrint(key);
    }

    @Override
    protected boolean acceptUnknownHostKey(ClientSession session, SocketAddress address, PublicKey key) {
        if (!trustFirst) {
            objection = "The server " + server + " is not in " + file + ". Its key is " + fingerprint(key)
                    + ": if whoever runs it confirms that, add it (`ssh-keyscan`), or let the account say "
                    + "`unknown_host: add`";
        }
        return super.acceptUnknownHostKey(session, address, key);
    }

    @Override
    protected boolean acceptIncompleteHostKeys(
            ClientSession session, SocketAddress address, PublicKey key, Throwable reason) {
        objection = "The known hosts in " + file + " cannot be read: " + reason.getMessage();
        return false;
    }

    @Override
    public boolean acceptModifiedServerKey(
            ClientSession session, SocketAddress address, KnownHostEntry entry, PublicKey expected, PublicKey actual) {
        objection = "The server " + server + " shows another key than " + file + " says: " + fingerprint(actual)
                + " and not " + fingerprint(expected) + ". Somebody may be pretending to be it; nothing was sent. "
                + "Where its key was changed on purpose, replace it in that file";
        return false;
    }

    @Override
    protected void handleRevokedKey(ClientSession session, SocketAddress address, PublicKey key) {
        objection = "The server " + server + " shows a key that " + file + " calls revoked";
    }
}
