package dev.hapster.acceptance.elsewhere;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;

/** Debian's OpenSSH server, which lets in whoever has the right key, as whoever runs the tests. */
public final class SshServer extends Machine {

    private final Path folder;
    private final Process server;

    private SshServer(Path folder, Path data, int port, Process server) throws IOException {
        super(data, port);
        this.folder = folder;
        this.server = server;
    }

    public static SshServer start(Path folder) throws Exception {
        int port;
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            port = free.getLocalPort();
        }
        Path data = Files.createDirectories(folder.resolve("data"));
        for (String key : List.of("host", "other", "key", "stranger")) {
            exec(
                    "ssh-keygen",
                    "-q",
                    "-t",
                    "ed25519",
                    "-N",
                    "",
                    "-f",
                    folder.resolve(key).toString());
        }
        exec(
                "ssh-keygen",
                "-q",
                "-t",
                "rsa",
                "-N",
                "",
                "-f",
                folder.resolve("rsa").toString());
        Files.writeString(
                folder.resolve("config"),
                String.join(
                        "\n",
                        "Port " + port,
                        "ListenAddress 127.0.0.1",
                        "HostKey " + folder.resolve("rsa"),
                        "HostKey " + folder.resolve("host"),
                        "AuthorizedKeysFile " + folder.resolve("key.pub"),
                        "PidFile none",
                        "StrictModes no",
                        "PermitRootLogin yes",
                        "UsePAM no",
                        "PasswordAuthentication no",
                        "MaxStartups 100",
                        "Subsystem sftp internal-sftp -d " + data,
                        ""));
        if (System.getProperty("user.name").equals("root")) {
            Files.createDirectories(Path.of("/run/sshd"));
        }
        Process server = new ProcessBuilder(
                        "/usr/sbin/sshd",
                        "-D",
                        "-f",
                        folder.resolve("config").toString(),
                        "-E",
                        folder.resolve("log").toString())
                .start();
        SshServer machine = new SshServer(folder, data, port, server);
        machine.await(port);
        machine.knownAs("host");
        return machine;
    }

    private static void exec(String... command) throws Exception {
        Process process = new ProcessBuilder(command).inheritIO().start();
        assertThat(process.waitFor()).as(String.join(" ", command)).isZero();
    }

    private void await(int port) throws Exception {
        for (int i = 0; i < 200; i++) {
            try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
                assertThat(socket.isConnected()).isTrue();
                return;
            } catch (IOException notYet) {
                Thread.sleep(50);
            }
        }
        throw new IOException("sshd does not start: " + Files.readString(folder.resolve("log")));
    }

    /** Writes the file of known hosts: by it the server has one of the keys of its folder. */
    public Path knownAs(String key) throws IOException {
        String written = Files.readString(folder.resolve(key + ".pub"));
        return Files.writeString(known(), "[127.0.0.1]:" + port() + " " + written);
    }

    @Override
    public void speakDirectly() throws IOException {
        super.speakDirectly();
        knownAs("host");
    }

    public Path known() {
        return folder.resolve("known_hosts");
    }

    @Override
    public String account() {
        return accountWith("key", "");
    }

    /** @param key which of the keys of its folder signs in */
    public String accountWith(String key, String rest) {
        return "  - name: lab\n    sftp: {host: 127.0.0.1, port: " + port() + ", user: "
                + System.getProperty("user.name") + ", key_file: " + folder.resolve(key) + ", known_hosts: " + known()
                + ", patience: 2s" + rest + "}\n";
    }

    @Override
    public String address(String path) {
        return "sftp://lab/" + path;
    }

    /** The command that speaks with it as Debian's client does; it takes its commands from its input. */
    public List<String> sftp() {
        return List.of(
                "sftp",
                "-q",
                "-b",
                "-",
                "-P",
                String.valueOf(port()),
                "-i",
                folder.resolve("key").toString(),
                "-o",
                "UserKnownHostsFile=" + known(),
                "-o",
                "IdentitiesOnly=yes",
                System.getProperty("user.name") + "@127.0.0.1");
    }

    /** What is written here may be read by nobody. */
    public void lock(String path) throws IOException {
        Files.setPosixFilePermissions(data().resolve(path), PosixFilePermissions.fromString("---------"));
    }

    /** A link there. */
    public void link(String path, String target) throws IOException {
        Files.createSymbolicLink(data().resolve(path), Path.of(target));
    }

    @Override
    public void close() {
        super.close();
        server.destroy();
        server.onExit().join();
    }
}
