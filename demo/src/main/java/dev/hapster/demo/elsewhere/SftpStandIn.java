package dev.hapster.demo.elsewhere;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.MessageDigest;
import java.util.List;
import org.apache.sshd.common.config.keys.PublicKeyEntry;
import org.apache.sshd.common.file.virtualfs.VirtualFileSystemFactory;
import org.apache.sshd.server.SshServer;
import org.apache.sshd.server.keyprovider.SimpleGeneratorHostKeyProvider;
import org.apache.sshd.sftp.server.SftpSubsystemFactory;

/** The SFTP server of a laboratory, which lets in one user with a password. */
final class SftpStandIn implements AutoCloseable {

    static final String USER = "vessa";

    private final SshServer server;

    private SftpStandIn(SshServer server) {
        this.server = server;
    }

    /**
     * @param folder all that its user sees
     * @param key where its own key is kept, which is made the first time
     */
    static SftpStandIn start(Path folder, Path key, String password) throws IOException {
        Files.createDirectories(folder);
        SshServer server = SshServer.setUpDefaultServer();
        server.setHost("127.0.0.1");
        SimpleGeneratorHostKeyProvider keys = new SimpleGeneratorHostKeyProvider(key);
        keys.setAlgorithm("EC");
        server.setKeyPairProvider(keys);
        server.setFileSystemFactory(new VirtualFileSystemFactory(folder));
        server.setPasswordAuthenticator(
                (user, given, session) -> user.equals(USER) && MessageDigest.isEqual(bytes(given), bytes(password)));
        server.setSubsystemFactories(List.of(new SftpSubsystemFactory()));
        server.start();
        return new SftpStandIn(server);
    }

    private static byte[] bytes(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }

    int port() {
        return server.getPort();
    }

    /** Its line in a file of known hosts. */
    String knownHost() throws IOException {
        try {
            for (KeyPair pair : server.getKeyPairProvider().loadKeys(null)) {
                return "[127.0.0.1]:" + port() + " " + PublicKeyEntry.toString(pair.getPublic()) + "\n";
            }
        } catch (GeneralSecurityException wrong) {
            throw new IOException("Its key cannot be read", wrong);
        }
        throw new IOException("It has no key");
    }

    @Override
    public void close() throws IOException {
        server.stop(true);
    }
}
