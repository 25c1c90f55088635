package dev.hapster.acceptance.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.http.Api;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.terminal.ClientException;
import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Random;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * A workspace on a file system of its own that fills up, or turns read-only, while a run goes on. Needs to be root, to
 * mount it.
 */
class DiskTest {

    private static final int FILES = 12;
    private static final int ROWS = 6000;

    @TempDir
    private Path folder;

    private Path disk;

    @BeforeEach
    void files() throws Exception {
        assumeTrue(System.getProperty("user.name").equals("root"), "only root may mount a file system");
        disk = Files.createDirectories(folder.resolve("disk"));
        Random random = new Random(7);
        for (int i = 0; i < FILES; i++) {
            StringBuilder text = new StringBuilder("id,day,value\n");
            for (int row = 0; row < ROWS; row++) {
                text.append(Long.toString(random.nextLong(), 36))
                        .append(Long.toString(random.nextLong(), 36))
                        .append(",2026-01-01,")
                        .append(row % 1000 == 0 ? "no number" : row)
                        .append('\n');
            }
            Workspaces.write(folder, String.format("in/f-%02d.csv", i), text.toString());
        }
    }

    @AfterEach
    void unmount() throws Exception {
        new ProcessBuilder("umount", "-l", disk.toString())
                .redirectErrorStream(true)
                .start()
                .waitFor();
    }

    private static void command(String... words) throws Exception {
        Process process = new ProcessBuilder(words).redirectErrorStream(true).start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor()).as(String.join(" ", words) + ": " + said).isZero();
    }

    private TestService service() throws Exception {
        return TestService.start(disk, "-Dhapster.roots=" + folder.resolve("in"), "-Dhapster.pauses=" + folder);
    }

    private void workspace() throws IOException {
        Workspaces.write(disk, "datasets/samples.yaml", Workspaces.DATASET);
        Workspaces.job(disk, "small", folder.resolve("in").toString(), "");
    }

    private void whole(TestService service) throws IOException {
        JsonNode dataset = service.get("/datasets/samples");
        assertThat(dataset.path("rows").asLong()).isEqualTo(FILES * (ROWS - 6));
        assertThat(dataset.path("parts").asLong()).isEqualTo(FILES);
        JsonNode counts = service.get("/datasets/samples/counts?by=_file");
        assertThat(counts.path("groups"))
                .hasSize(FILES)
                .allSatisfy(group -> assertThat(group.path("rows").asLong()).isEqualTo(ROWS - 6));
        assertThat(service.get("/rejects").get(0).path("count").asLong()).isEqualTo(FILES * 6);
        assertThat(disk.resolve("store/staging")).isEmptyDirectory();
    }

    /** Runs while there is room for some of the files only; the room comes back once the disk was full. */
    private void loadOnAFullDisk(TestService service, String body) throws Exception {
        long used = Files.getFileStore(disk).getTotalSpace()
                - Files.getFileStore(disk).getUsableSpace();
        command("mount", "-o", "remount,size=" + (used + 900_000), disk.toString());
        long number = service.api()
                .post("/jobs/small/runs", Api.JSON.readTree(body))
                .path("run")
                .asLong();
        while (Files.getFileStore(disk).getUsableSpace() > 100_000) {
            Thread.sleep(5);
        }
        Thread.sleep(300);
        command("mount", "-o", "remount,size=200m", disk.toString());
        JsonNode broken = service.await(number);
        assertThat(broken.path("state").asText()).isEqualTo("failed");
        assertThat(broken.path("failure").asText())
                .containsAnyOf("No space left on device", "The database has been closed", "rite")
                .containsAnyOf("the next run takes the rest", "run small again for the rest");
        assertThat(broken.path("files").path("loaded").asLong()).isLessThan(FILES);
    }

    @Test
    void aDiskThatIsFullFailsTheRunAndLosesNothing() throws Exception {
        command("mount", "-t", "tmpfs", "-o", "size=200m", "tmpfs", disk.toString());
        workspace();
        try (TestService service = service()) {
            loadOnAFullDisk(service, "{}");
            assertThat(service.run("small").path("state").asText())
                    .as("without a restart")
                    .isEqualTo("finished");
            whole(service);
            String all = IntStream.range(0, FILES)
                    .mapToObj(i -> String.format("\"f-%02d.csv\"", i))
                    .collect(Collectors.joining(","));
            String again = "{\"again\": true, \"files\": [" + all + "]}";
            loadOnAFullDisk(service, again);
            whole(service);
            assertThat(service.run("/jobs/small/runs", again).path("state").asText())
                    .as("also the second time")
                    .isEqualTo("finished");
            whole(service);
        }
        try (TestService service = service()) {
            whole(service);
        }
    }

    @Test
    void aFileSystemThatTurnsReadOnlyLosesNothing() throws Exception {
        Path image = folder.resolve("disk.img");
        try (RandomAccessFile file = new RandomAccessFile(image.toFile(), "rw")) {
            file.setLength(64 << 20);
        }
        command("mkfs.ext4", "-q", image.toString());
        command("mount", "-o", "loop", image.toString(), disk.toString());
        workspace();
        command("sync", "-f", disk.toString());
        try (TestService service = service()) {
            Path reached = service.runUpTo(CrashPoint.IN_COMMIT, "small", folder);
            command("mount", "-o", "remount,abort", disk.toString()); // as the kernel does after a fault of the disk
            Files.delete(reached);
            ClientException told = catchThrowableOfType(ClientException.class, () -> {
                for (int i = 0; i < 500; i++) {
                    service.get("/jobs");
                    Thread.sleep(10);
                }
            });
            assertThat(told.getMessage())
                    .as("the service answers")
                    .contains("The catalogue's file cannot be read or written", "once the disk is working again");
            service.kill();
        }
        command("umount", disk.toString());
        new ProcessBuilder("e2fsck", "-p", image.toString()).start().waitFor();
        command("mount", "-o", "loop", image.toString(), disk.toString());
        try (TestService service = service()) {
            assertThat(service.get("/runs/1").path("state").asText()).isEqualTo("failed");
            JsonNode run = service.run("small");
            assertThat(run.path("state").asText()).as(run.toString()).isEqualTo("finished");
            whole(service);
        }
    }

    @Test
    void filesMoveToAnotherFileSystemOnceTheirCopyWasReadBack() throws Exception {
        command("mount", "-t", "tmpfs", "-o", "size=20m", "tmpfs", disk.toString());
        Path workspace = Workspaces.small(folder.resolve("workspace"));
        Workspaces.job(workspace, "small", "in", "after: {loaded: {move: \"" + disk + "/done/{job}\"}}\n");
        String text = Files.readString(folder.resolve("in/f-00.csv"));
        Path file = Workspaces.write(workspace, "in/a.csv", text);
        Files.setLastModifiedTime(
                file, java.nio.file.attribute.FileTime.from(java.time.Instant.parse("2026-03-01T00:00:00Z")));
        try (TestService service =
                TestService.start(workspace, "-Dhapster.roots=" + disk, "-Dhapster.pauses=" + folder)) {
            service.runUpTo(CrashPoint.COPY_WRITTEN, "small", folder);
            assertThat(file).as("it goes only once its copy is whole").exists();
            assertThat(disk.resolve("done/small/a.csv")).doesNotExist();
            service.kill();
            service.startAgain();
            assertThat(file).as("what was begun is finished at the start").doesNotExist();
            assertThat(disk.resolve("done/small/a.csv")).hasContent(text);
            assertThat(Files.getLastModifiedTime(disk.resolve("done/small/a.csv"))
                            .toInstant())
                    .isEqualTo("2026-03-01T00:00:00Z");
            try (java.util.stream.Stream<Path> left = Files.list(disk.resolve("done/small"))) {
                assertThat(left).as("no draft is left").hasSize(1);
            }
            assertThat(service.run("small").path("files").path("found").asLong())
                    .isZero();
            assertThat(service.get("/datasets/samples").path("rows").asLong()).isEqualTo(ROWS - 6);
        }
    }
}
