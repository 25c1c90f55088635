package dev.hapster.service.remote;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.Secret;
import dev.hapster.core.definition.AccountDef.Sftp;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.workspace.Secrets;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Semaphore;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.NamedFactory;
import org.apache.sshd.common.SshConstants;
import org.apache.sshd.common.SshException;
import org.apache.sshd.common.config.keys.FilePasswordProvider;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.keyprovider.KeyIdentityProvider;
import org.apache.sshd.common.signature.Signature;
import org.apache.sshd.common.util.security.SecurityUtils;
import org.apache.sshd.core.CoreModuleProperties;
import org.apache.sshd.sftp.client.SftpClient;
import org.apache.sshd.sftp.client.SftpClientFactory;

/** Connections to one SFTP server: made when they are wanted, lent out, and closed when nobody wants them any more. */
final class SftpSessions implements AutoCloseable {

    private static final Duration TO_CONNECT = Duration.ofSeconds(10);
    private static final Duration TO_SIGN_IN = Duration.ofSeconds(15);
    private static final Duration UNUSED = Duration.ofSeconds(20);

    private final AccountDef account;
    private final Sftp server;
    private final Path workspace;
    private final HostKeys hosts;
    private final Semaphore free;
    private final Deque<Lent> idle = new ArrayDeque<>();
    private SshClient client;

    /** A connection, to be given back. */
    static final class Lent {
        private final ClientSession session;
        private final SftpClient sftp;
        private final String home;
        private long used;

        private Lent(ClientSession session, SftpClient sftp, String home) {
            this.session = session;
            this.sftp = sftp;
            this.home = home;
        }

        SftpClient sftp() {
            return sftp;
        }

        /** The path on the server of a path below the account's folder. */
        String at(String below) {
            return below.isEmpty() ? home : home.equals("/") ? "/" + below : home + "/" + below;
        }

        private void end() {
            session.close(true);
        }
    }

    SftpSessions(AccountDef account, Sftp server, Path workspace) {
        this.account = account;
        this.server = server;
        this.workspace = workspace;
        hosts = new HostKeys(workspace.resolve(server.knownHosts()), server.toString(), server.trustFirst());
        free = new Semaphore(server.connections(), true);
    }

    /** A connection that nobody else uses; waits where as many are open as the account allows. */
    Lent borrow() throws IOException {
        free.acquireUninterruptibly();
        boolean lent = false;
        try {
            Optional<Lent> there = rested();
            Lent one = there.isPresent() ? there.get() : connect();
            lent = true;
            return one;
        } finally {
            if (!lent) {
                free.release();
            }
        }
    }

    private Optional<Lent> rested() {
        synchronized (idle) {
            for (Lent one = idle.pollLast(); one != null; one = idle.pollLast()) {
                if (one.sftp.isOpen()) {
                    return Optional.of(one);
                }
                one.end();
            }
            return Optional.empty();
        }
    }

    /** @param sound whether it can be used again */
    void giveBack(Lent one, boolean sound) {
        if (sound && one.sftp.isOpen()) {
            one.used = System.nanoTime();
            synchronized (idle) {
                idle.addLast(one);
            }
        } else {
            one.end();
        }
        free.release();
    }

    void rest() {
        List<Lent> old = new ArrayList<>();
        synchronized (idle) {
            while (!idle.isEmpty() && System.nanoTime() - idle.peekFirst().used > UNUSED.toNanos()) {
                old.add(idle.pollFirst());
            }
        }
        old.forEach(Lent::end);
    }

    private synchronized SshClient client() throws IOException {
        if (client == null) {
            SshClient fresh = SshClient.setUpDefaultClient();
            fresh.setServerKeyVerifier(hosts);
            fresh.setKeyIdentityProvider(KeyIdentityProvider.EMPTY_KEYS_PROVIDER); // none but what the account names
            CoreModuleProperties.IDLE_TIMEOUT.set(fresh, server.patience());
            CoreModuleProperties.CHANNEL_OPEN_TIMEOUT.set(fresh, TO_CONNECT);
            fresh.start();
            client = fresh;
        }
        Set<String> known = hosts.kinds(server.host(), server.port());
        List<NamedFactory<Signature>> ways = new ArrayList<>(client.getSignatureFactories());
        // a server has keys of several kinds, and is to show one that is known
        ways.sort(Comparator.comparing(way -> !known.contains(KeyUtils.getCanonicalKeyType(way.getName()))));
        client.setSignatureFactories(ways);
        return client;
    }

    private Lent connect() throws IOException {
        ClientSession session = null;
        boolean whole = false;
        try {
            hosts.forget();
            session = client().connect(server.user(), server.host(), server.port())
                    .verify(TO_CONNECT)
                    .getSession();
            signIn(session);
            SftpClient sftp = SftpClientFactory.instance().createSftpClient(session);
            String home = sftp.canonicalPath(server.folder());
            whole = true;
            return new Lent(session, sftp, home);
        } catch (RemoteFault wrong) {
            throw wrong;
        } catch (IOException wrong) {
            throw new RemoteFault("The server " + server + " cannot be reached: " + why(wrong), true, wrong);
        } finally {
            if (!whole && session != null) {
                session.close(true);
            }
        }
    }

    private static String why(IOException wrong) {
        Throwable deepest = wrong;
        while (deepest.getCause() != null) {
            deepest = deepest.getCause();
        }
        return deepest instanceof java.nio.channels.UnresolvedAddressException
                ? "no such host is known"
                : String.valueOf(deepest.getMessage());
    }

    private void signIn(ClientSession session) throws IOException {
        if (server.keyFile().isPresent()) {
            keys(session).forEach(session::addPublicKeyIdentity);
        } else {
            session.addPasswordIdentity(secret(server.password().orElseThrow(), "password"));
        }
        try {
            session.auth().verify(TO_SIGN_IN);
        } catch (SshException wrong) {
            if (!hosts.objection().isEmpty()) {
                throw new RemoteFault(hosts.objection(), false, wrong);
            }
            if (wrong.getDisconnectCode() == SshConstants.SSH2_DISCONNECT_NO_MORE_AUTH_METHODS_AVAILABLE) {
                throw new RemoteFault(
                        "The server " + server + " does not let " + server.user() + " in. Look at user, "
                                + (server.keyFile().isPresent() ? "'key_file'" : "password") + " of the account '"
                                + account.name() + "', and whether the server knows them",
                        false,
                        wrong);
            }
            throw wrong;
        }
    }

    private String secret(Secret secret, String what) throws RemoteFault {
        return secret(secret, what, account, workspace);
    }

    /** @param what it is, such as {@code password} */
    static String secret(Secret secret, String what, AccountDef account, Path workspace) throws RemoteFault {
        try {
            return Secrets.read(secret, "The " + what + " of the account " + account.name(), workspace);
        } catch (Secrets.MissingException missing) {
            throw new RemoteFault(missing.getMessage(), false, missing);
        } catch (IOException wrong) {
            throw new RemoteFault(
                    "The " + what + " of the account " + account.name() + " cannot be read: " + wrong, false, wrong);
        }
    }

    private Iterable<KeyPair> keys(ClientSession session) throws RemoteFault {
        Path file = workspace.resolve(server.keyFile().orElseThrow());
        FilePasswordProvider passphrase = server.passphrase().isEmpty()
                ? FilePasswordProvider.EMPTY
                : FilePasswordProvider.of(secret(server.passphrase().get(), "passphrase"));
        try {
            Iterable<KeyPair> keys = SecurityUtils.loadKeyPairIdentities(
                    session, () -> file.toString(), Files.newInputStream(file), passphrase);
            if (keys == null) {
                throw new RemoteFault(
                        file + ", the key of the account '" + account.name() + "', holds no private key", false, null);
            }
            return keys;
        } catch (NoSuchFileException missing) {
            throw new RemoteFault(
                    "The key of the account '" + account.name() + "' is to be " + file + ", which does not exist",
                    false,
                    missing);
        } catch (RemoteFault wrong) {
            throw wrong;
        } catch (IOException | GeneralSecurityException wrong) {
            throw new RemoteFault(
                    "The key of the account '" + account.name() + "', " + file + ", cannot be read: "
                            + wrong.getMessage() + ". Is its 'passphrase' right?",
                    false,
                    wrong);
        }
    }

    @Override
    public synchronized void close() {
        synchronized (idle) {
            idle.forEach(Lent::end);
            idle.clear();
        }
        if (client != null) {
            client.stop();
        }
    }
}
