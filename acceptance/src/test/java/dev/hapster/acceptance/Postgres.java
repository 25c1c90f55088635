package dev.hapster.acceptance;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;

/**
 * A PostgreSQL server of our own, from Debian's packages, on a socket in a folder, and on a port where a password is
 * asked for; it goes when it is closed.
 */
public final class Postgres implements AutoCloseable {

    private final Path binaries;
    private final Path data;
    private final int port;
    private final boolean root = System.getProperty("user.name").equals("root");

    /** Of the user {@code postgres}. */
    public static final String PASSWORD = "it is 'not\\ told";

    private Postgres(Path binaries, Path data, int port) {
        this.binaries = binaries;
        this.data = data;
        this.port = port;
    }

    public static Postgres start(Path data) throws Exception {
        int port;
        try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            port = free.getLocalPort();
        }
        Postgres postgres = new Postgres(newest(), data, port);
        Files.createDirectories(data);
        postgres.mayRead(data.getParent());
        if (postgres.root) {
            exec(List.of("chown", "postgres", data.toString()));
        }
        Path secret = Files.writeString(data.resolve("secret"), PASSWORD);
        postgres.as(
                postgres.binaries.resolve("initdb").toString(),
                "-D",
                data.resolve("db").toString(),
                "--auth-local=trust",
                "--auth-host=scram-sha-256",
                "--pwfile=" + secret,
                "-E",
                "UTF8",
                "--locale=C",
                "-U",
                "postgres");
        postgres.start();
        return postgres;
    }

    /** Starts it, also once more. */
    public void start() throws Exception {
        as(
                binaries.resolve("pg_ctl").toString(),
                "-D",
                data.resolve("db").toString(),
                "-w",
                "-l",
                data.resolve("log").toString(),
                "-o",
                "-c port=" + port + " -c listen_addresses=127.0.0.1 -c unix_socket_directories='" + data + "'",
                "start");
    }

    /** Where it listens, on 127.0.0.1. */
    public int port() {
        return port;
    }

    private static Path newest() throws IOException {
        Path home = Path.of("/usr/lib/postgresql");
        List<Path> versions = new ArrayList<>();
        if (Files.isDirectory(home)) {
            try (DirectoryStream<Path> found =
                    Files.newDirectoryStream(home, version -> Files.exists(version.resolve("bin/initdb")))) {
                found.forEach(versions::add);
            }
        }
        return versions.stream()
                .max(Path::compareTo)
                .orElseThrow(() -> new IOException("No PostgreSQL server under " + home))
                .resolve("bin");
    }

    /** Lets the server's user reach these folders. */
    public void mayRead(Path... folders) throws IOException {
        for (Path folder : folders) {
            Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxr-xr-x"));
        }
    }

    /** Runs statements in one session; what they print. */
    public String sql(String... statements) throws Exception {
        List<String> options = new ArrayList<>();
        for (String statement : statements) {
            options.addAll(List.of("-c", statement));
        }
        return session(options).strip();
    }

    /** What a statement finds, as people are shown it. */
    public String table(String statement) throws Exception {
        return session(List.of("-P", "format=aligned", "-P", "tuples_only=off", "-P", "footer=off", "-c", statement))
                .lines()
                .map(String::stripTrailing)
                .collect(Collectors.joining("\n"))
                .stripTrailing();
    }

    /** Runs the statements of a file in one session, each as a transaction of its own. */
    public void script(Path statements) throws Exception {
        session(List.of("-f", statements.toString()));
    }

    private String session(List<String> options) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(List.of(
                binaries.resolve("psql").toString(),
                "-h",
                data.toString(),
                "-p",
                Integer.toString(port),
                "-U",
                "postgres",
                "-qAtX",
                "-v",
                "ON_ERROR_STOP=1"));
        command.addAll(options);
        return exec(command);
    }

    private String as(String... command) throws IOException, InterruptedException {
        List<String> words = new ArrayList<>(
                root ? List.of("setpriv", "--reuid=postgres", "--regid=postgres", "--init-groups") : List.of());
        words.addAll(Arrays.asList(command));
        return exec(words);
    }

    private static String exec(List<String> command) throws IOException, InterruptedException {
        Path log = Files.createTempFile("hapster-postgres", ".log");
        try {
            int status = new ProcessBuilder(command)
                    .redirectErrorStream(true)
                    .redirectOutput(log.toFile())
                    .directory(Path.of("/").toFile())
                    .start()
                    .waitFor();
            String out = Files.readString(log, StandardCharsets.UTF_8);
            if (status != 0) {
                throw new IOException(String.join(" ", command) + " ended with " + status + ":\n" + out);
            }
            return out;
        } finally {
            Files.delete(log);
        }
    }

    /** Stops it, and whatever it is doing. */
    public void kill() throws IOException {
        close();
    }

    @Override
    public void close() throws IOException {
        try {
            as(binaries.resolve("pg_ctl").toString(), "-D", data.resolve("db").toString(), "-m", "immediate", "stop");
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        }
    }
}
