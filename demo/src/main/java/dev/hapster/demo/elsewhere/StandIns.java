package dev.hapster.demo.elsewhere;

import dev.hapster.demo.FilesElsewhere;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.HexFormat;
import java.util.List;

/**
 * The machines of others in the demo, with the accounts by which the workspace reaches them, and jobs that take files
 * from there. All they have lies in the workspace's folder {@code elsewhere}. To be closed when the demo ends.
 */
public final class StandIns implements AutoCloseable {

    private static final List<String> JOBS = List.of("jobs/ferry.yaml", "jobs/buoys.yaml");

    private final SftpStandIn sftp;
    private final ObjectStandIn objects;

    private StandIns(SftpStandIn sftp, ObjectStandIn objects) {
        this.sftp = sftp;
        this.objects = objects;
    }

    /**
     * Starts both, at ports that are free, and writes the accounts that lead to them. Files and jobs are written where
     * they are not there yet.
     */
    public static StandIns start(Path workspace) throws IOException {
        Path elsewhere = workspace.resolve("elsewhere");
        boolean fresh = !Files.exists(elsewhere);
        Path password = secret(workspace, "ferry-password");
        Path key = secret(workspace, "objects-key");
        SftpStandIn sftp = SftpStandIn.start(
                elsewhere.resolve("ferry"), workspace.resolve("secrets/ferry-host-key"), Files.readString(password));
        ObjectStandIn objects = ObjectStandIn.start(elsewhere.resolve("objects"));
        if (fresh) {
            new FilesElsewhere(elsewhere.resolve("ferry"), elsewhere.resolve("objects/river")).write();
            for (String job : JOBS) {
                try (InputStream in = StandIns.class.getResourceAsStream("/elsewhere/" + job)) {
                    Files.write(workspace.resolve(job), in.readAllBytes());
                }
            }
        }
        Files.writeString(workspace.resolve("secrets/known_hosts"), sftp.knownHost());
        Files.writeString(
                workspace.resolve("accounts.yaml"),
                """
                # Written by the demo at each start: the ports are others then.
                accounts:
                  - name: ferry
                    sftp:
                      host: 127.0.0.1
                      port: %d
                      user: %s
                      password: {file: %s}
                      known_hosts: secrets/known_hosts
                  - name: objects
                    s3: {endpoint: "http://127.0.0.1:%d", key_id: %s, secret_key: {file: %s}}
                """
                        .formatted(
                                sftp.port(),
                                SftpStandIn.USER,
                                workspace.relativize(password),
                                objects.port(),
                                ObjectStandIn.KEY_ID,
                                workspace.relativize(key)));
        return new StandIns(sftp, objects);
    }

    /** A file with a word that nobody else knows; it is made the first time. */
    private static Path secret(Path workspace, String name) throws IOException {
        Path file = workspace.resolve("secrets/" + name);
        if (!Files.exists(file)) {
            byte[] random = new byte[16];
            new SecureRandom().nextBytes(random);
            Files.createDirectories(file.getParent());
            Files.writeString(file, HexFormat.of().formatHex(random), StandardCharsets.UTF_8);
        }
        return file;
    }

    /** Where they are, a line each. */
    public List<String> lines() {
        return List.of(
                "an SFTP server at 127.0.0.1:" + sftp.port() + ", files in elsewhere/ferry",
                "an object store at http://127.0.0.1:" + objects.port() + ", buckets in elsewhere/objects");
    }

    @Override
    public void close() throws IOException {
        objects.close();
        sftp.close();
    }
}
