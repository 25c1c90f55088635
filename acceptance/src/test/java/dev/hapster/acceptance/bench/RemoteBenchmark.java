package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.acceptance.elsewhere.Machine;
import dev.hapster.acceptance.elsewhere.ObjectServer;
import dev.hapster.acceptance.elsewhere.SshServer;
import java.io.IOException;
import java.io.OutputStream;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.Locale;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import software.amazon.awssdk.auth.credentials.AwsBasicCredentials;
import software.amazon.awssdk.auth.credentials.StaticCredentialsProvider;
import software.amazon.awssdk.core.checksums.RequestChecksumCalculation;
import software.amazon.awssdk.core.checksums.ResponseChecksumValidation;
import software.amazon.awssdk.http.urlconnection.UrlConnectionHttpClient;
import software.amazon.awssdk.regions.Region;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.model.S3Object;

/**
 * Loads 10,000 files of 100 rows, and one of 2 GB, from an SFTP server and from an object store on this machine; beside
 * it {@code sftp get}, and a plain download with the same library, one after the other, of the same files. Downloads
 * only write what they fetch; a run reads, checks and stores it. Run by {@code ./dev bench Remote}.
 */
@Tag("benchmark")
class RemoteBenchmark {

    private static final int FILES = Integer.getInteger("hapster.files", 10_000);
    private static final int ROWS = 100;
    private static final int ROUNDS = 2;
    private static final long LARGE = Long.getLong("hapster.large", 2_000_000_000L);
    private static final int LISTED = Integer.getInteger("hapster.listed", 100_000);
    private static final String HEADER = "id,day,value\n";

    @TempDir
    private Path folder;

    private Path workspace;

    private interface Download {
        /** Fetches all files of a folder there into one here. */
        void into(String far, Path here) throws Exception;
    }

    @Test
    void besidePlainDownloads() throws Exception {
        workspace = Workspaces.small(folder.resolve("work"));
        try (SshServer ssh = SshServer.start(Files.createDirectories(folder.resolve("ssh")));
                ObjectServer objects = ObjectServer.onDisk(folder.resolve("objects"))) {
            ssh.speakDirectly();
            objects.speakDirectly();
            Workspaces.write(workspace, "accounts.yaml", "accounts:\n" + ssh.account() + objects.account());
            for (Machine far : new Machine[] {ssh, objects}) {
                for (int i = 0; i < FILES; i++) {
                    far.put("small/f" + i + ".csv", small(i));
                }
            }
            Path large = large();
            ssh.put("large/one.csv", large);
            objects.put("large/one.csv", large);
            Files.delete(large);
            try (TestService service = Measured.start(workspace, "-Xmx512m")) {
                both(service, "SFTP, sftp get", ssh, (from, here) -> sftp(ssh, from, here));
                try (S3Client client = client(objects)) {
                    both(service, "S3, plain SDK", objects, (from, here) -> download(client, from, here));
                }
                System.out.printf(
                        Locale.ROOT,
                        "peak memory of the service %d MB with -Xmx512m%n",
                        Measured.peakMegabytes(service.pid()));
            }
        }
    }

    private static String small(int file) {
        StringBuilder text = new StringBuilder(HEADER);
        for (int i = 0; i < ROWS; i++) {
            text.append(file)
                    .append('-')
                    .append(i)
                    .append(",2026-01-01,")
                    .append(i)
                    .append('\n');
        }
        return text.toString();
    }

    private Path large() throws IOException {
        Path file = folder.resolve("large.csv");
        StringBuilder block = new StringBuilder();
        for (int i = 0; i < 50_000; i++) {
            block.append("sample-")
                    .append(i)
                    .append(",2026-01-")
                    .append(10 + i % 20)
                    .append(',')
                    .append(i)
                    .append('\n');
        }
        byte[] bytes = block.toString().getBytes(StandardCharsets.UTF_8);
        try (OutputStream out = Files.newOutputStream(file)) {
            out.write(HEADER.getBytes(StandardCharsets.UTF_8));
            for (long written = 0; written < LARGE; written += bytes.length) {
                out.write(bytes);
            }
        }
        return file;
    }

    private void both(TestService service, String name, Machine far, Download download) throws Exception {
        for (int round = 1; round <= ROUNDS; round++) {
            double plain = plain(download, "small");
            String job = far.getClass().getSimpleName().toLowerCase(Locale.ROOT) + round;
            job(job, far.address("small"));
            JsonNode[] run = new JsonNode[1];
            double loaded = seconds(() -> run[0] = service.run(job));
            holds(run[0], (long) FILES * ROWS);
            double again = seconds(() -> service.run(job));
            System.out.printf(
                    Locale.ROOT,
                    "%s: %,d files of %d rows: download %.1f s, loaded %.1f s: %.1f times; nothing changed %.1f s%n",
                    name,
                    FILES,
                    ROWS,
                    plain,
                    loaded,
                    loaded / plain,
                    again);
        }
        double plain = plain(download, "large");
        String job = far.getClass().getSimpleName().toLowerCase(Locale.ROOT) + "-large";
        job(job, far.address("large"));
        JsonNode[] run = new JsonNode[1];
        double loaded = seconds(() -> run[0] = service.run(job));
        holds(run[0], run[0].path("rows").path("read").asLong());
        System.out.printf(
                Locale.ROOT,
                "%s: one file of %.1f GB, %,d rows: download %.1f s (%.0f MB/s), loaded %.1f s: %.1f times%n",
                name,
                LARGE / 1e9,
                run[0].path("rows").path("loaded").asLong(),
                plain,
                LARGE / 1e6 / plain,
                loaded,
                loaded / plain);
    }

    /** Finds many objects without loading any; beside it a listing with the same library. */
    @Test
    void besideAPlainListing() throws Exception {
        workspace = Workspaces.small(folder.resolve("work"));
        try (ObjectServer objects = ObjectServer.start(folder.resolve("objects"))) {
            objects.speakDirectly();
            Workspaces.write( // the store of this process goes through all of its objects for each page
                    workspace,
                    "accounts.yaml",
                    "accounts:\n" + objects.account().replace("patience: 2s", "patience: 5 min"));
            for (int i = 0; i < LISTED; i++) {
                objects.put("many/f" + i + ".csv", HEADER);
            }
            job("many", objects.address("many"), ", scan_at_most: " + 2 * LISTED);
            try (TestService service = Measured.start(workspace, "-Xmx512m");
                    S3Client client = client(objects)) {
                long before = Measured.peakMegabytes(service.pid());
                double plain = seconds(() -> assertThat(client
                                .listObjectsV2Paginator(
                                        ask -> ask.bucket(ObjectServer.BUCKET).prefix("many/"))
                                .contents()
                                .stream())
                        .hasSize(LISTED));
                double found = seconds(
                        () -> assertThat(service.client("find", "many").out().replaceAll("\\D", ""))
                                .contains(Integer.toString(LISTED)));
                System.out.printf(
                        Locale.ROOT,
                        "S3, plain SDK: %,d objects: listed in %.1f s, found in %.1f s: %.1f times%n",
                        LISTED,
                        plain,
                        found,
                        found / plain);
                System.out.printf(
                        Locale.ROOT,
                        "peak memory of the service %d MB, before %d MB%n",
                        Measured.peakMegabytes(service.pid()),
                        before);
            }
        }
    }

    private double plain(Download download, String far) throws Exception {
        Path here = Files.createDirectory(folder.resolve("download"));
        double seconds = seconds(() -> download.into(far, here));
        try (Stream<Path> files = Files.walk(here)) {
            for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
                Files.delete(file);
            }
        }
        return seconds;
    }

    private void job(String name, String inbox) throws Exception {
        job(name, inbox, "");
    }

    private void job(String name, String inbox, String further) throws Exception {
        Workspaces.write(workspace, "datasets/" + name + ".yaml", Workspaces.DATASET.replace("samples", name));
        Workspaces.write(
                workspace,
                "jobs/" + name + ".yaml",
                "job: " + name + "\ninto: " + name + "\nfind: [{folder: \"" + inbox + "\", settle: 0s, take: \"*.csv\""
                        + further + "}]\n");
    }

    private interface Act {
        void perform() throws Exception;
    }

    private static double seconds(Act act) throws Exception {
        long begin = System.nanoTime();
        act.perform();
        return (System.nanoTime() - begin) / 1e9;
    }

    private static void holds(JsonNode run, long rows) {
        assertThat(run.path("state").asText()).as(run.toPrettyString()).isEqualTo("finished");
        assertThat(run.path("holds").asBoolean()).isTrue();
        assertThat(run.path("rows").path("loaded").asLong()).isEqualTo(rows).isPositive();
    }

    private static void sftp(SshServer ssh, String from, Path here) throws Exception {
        Process sftp = new ProcessBuilder(ssh.sftp())
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start();
        try (OutputStream commands = sftp.getOutputStream()) {
            commands.write(("get -r " + from + " " + here + "\n").getBytes(StandardCharsets.UTF_8));
        }
        assertThat(sftp.waitFor()).isZero();
    }

    private static S3Client client(ObjectServer objects) {
        return S3Client.builder()
                .endpointOverride(URI.create(objects.endpoint()))
                .region(Region.US_EAST_1)
                .forcePathStyle(true)
                .requestChecksumCalculation(RequestChecksumCalculation.WHEN_REQUIRED)
                .responseChecksumValidation(ResponseChecksumValidation.WHEN_REQUIRED) // not every store knows them
                .credentialsProvider(StaticCredentialsProvider.create(
                        AwsBasicCredentials.create(objects.keyId(), objects.secretKey())))
                .httpClientBuilder(UrlConnectionHttpClient.builder())
                .build();
    }

    private static void download(S3Client client, String from, Path here) {
        client.listObjectsV2Paginator(ask -> ask.bucket(ObjectServer.BUCKET).prefix(from + "/")).contents().stream()
                .map(S3Object::key)
                .forEach(key -> client.getObject(
                        ask -> ask.bucket(ObjectServer.BUCKET).key(key),
                        here.resolve(key.substring(key.lastIndexOf('/') + 1))));
    }
}
