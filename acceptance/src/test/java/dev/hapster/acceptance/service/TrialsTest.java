package dev.hapster.acceptance.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.terminal.ClientException;
import java.io.OutputStream;
import java.io.RandomAccessFile;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Files arrive, and while they are loaded the service is killed at any moment, or its disk fills up; in between a bit
 * of the store flips. After each trial the dataset has the rows of the files, and no flip goes unnoticed. How many
 * trials: {@code -Dhapster.trials}; {@code ./dev trials} makes 500. Needs to be root, to mount a disk.
 */
class TrialsTest {

    private static final int TRIALS = Integer.getInteger("hapster.trials", 10);
    private static final long SEED = Long.getLong("hapster.seed", 7);

    @TempDir
    private Path folder;

    private Path disk;
    private TestService service;
    private final Random random = new Random(SEED);
    private final Map<String, Long> expected = new TreeMap<>();

    private enum Kind {
        KILLED,
        FULL,
        FLIPPED
    }

    @AfterEach
    void unmount() throws Exception {
        if (service != null) {
            service.close();
            command("umount", "-l", disk.toString());
        }
    }

    private static void command(String... words) throws Exception {
        Process process = new ProcessBuilder(words).redirectErrorStream(true).start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor()).as(String.join(" ", words) + ": " + said).isZero();
    }

    private void size(long bytes) throws Exception {
        command("mount", "-o", "remount,size=" + bytes, disk.toString());
    }

    @Test
    void whateverHappensNoRowIsLostAndNoFlipGoesUnnoticed() throws Exception {
        assumeTrue(System.getProperty("user.name").equals("root"), "only root may mount a file system");
        disk = Files.createDirectories(folder.resolve("disk"));
        command("mount", "-t", "tmpfs", "-o", "size=400m", "tmpfs", disk.toString());
        Workspaces.write(disk, "datasets/samples.yaml", Workspaces.DATASET);
        Workspaces.job(disk, "small", folder.resolve("in").toString(), "");
        arrive();
        service = TestService.start(
                disk,
                "-Dhapster.roots=" + folder.resolve("in"),
                "-Xmx512m",
                "-Dhapster.merged-from=3",
                "-Dhapster.unread-for=0");
        service.run("small");
        Map<Kind, Integer> made = new TreeMap<>();
        for (int trial = 0; trial < TRIALS; trial++) {
            int of = random.nextInt(10);
            Kind kind = of < 2 ? Kind.KILLED : of < 5 ? Kind.FULL : Kind.FLIPPED;
            made.merge(kind, 1, Integer::sum);
            String which = kind + " in trial " + trial + " of seed " + SEED;
            switch (kind) {
                case KILLED -> killed();
                case FULL -> full();
                case FLIPPED -> flipped(which);
            }
            if (kind != Kind.FLIPPED) {
                settle(which);
            }
        }
        assertThat(service.client("verify").status()).isZero();
        System.out.println(TRIALS + " trials: " + made);
    }

    /** New files, and others in the place of some that were there. */
    private void arrive() throws Exception {
        for (int i = random.nextInt(4); i >= 0; i--) {
            String name = "f" + random.nextInt(12) + ".csv";
            long rows = 1L + random.nextInt(random.nextInt(3) == 0 ? 20_000 : 300);
            StringBuilder text = new StringBuilder("id,day,value\n");
            for (long row = 0; row < rows; row++) {
                text.append(Long.toString(random.nextLong(), 36)).append(",2026-01-01,7\n");
            }
            Workspaces.write(folder, "in/" + name, text.toString());
            expected.put(name, rows);
        }
    }

    private void killed() throws Exception {
        arrive();
        service.post("/jobs/small/runs");
        Thread.sleep(random.nextInt(random.nextBoolean() ? 60 : 500));
        service.kill();
        service.startAgain();
    }

    private void full() throws Exception {
        arrive();
        long used = Files.getFileStore(disk).getTotalSpace()
                - Files.getFileStore(disk).getUsableSpace();
        size(used + random.nextInt(800_000));
        try {
            long run = service.post("/jobs/small/runs").path("run").asLong();
            JsonNode state = service.get("/runs/" + run);
            while (state.path("endedAt").isMissingNode()
                    && !state.path("notes").toString().contains("cannot be recorded")) {
                Thread.sleep(20);
                state = service.get("/runs/" + run);
            }
        } catch (ClientException told) {
            assertThat(told.getMessage()).isNotBlank();
        } finally {
            size(400 << 20);
        }
        for (int i = 0; goesOn(); i++) {
            assertThat(i)
                    .as("a run that could not record its end does so once there is room")
                    .isLessThan(1000);
            Thread.sleep(20);
        }
    }

    /** While the catalogue is opened again behind a full disk, callers are told to come again. */
    private static JsonNode patiently(Callable<JsonNode> call) throws Exception {
        for (int i = 0; ; i++) {
            try {
                return call.call();
            } catch (ClientException told) {
                boolean comesAgain = told.getMessage().contains("once the disk is working again")
                        || told.getMessage().contains("is being run already"); // which such a call began
                if (i == 500 || !comesAgain) {
                    throw told;
                }
                Thread.sleep(20);
            }
        }
    }

    private boolean goesOn() {
        try {
            return service.get("/jobs").get(0).has("running");
        } catch (ClientException told) {
            assertThat(told.getMessage()).contains("once the disk is working again");
            return true;
        }
    }

    /** The next run brings what is missing. */
    private void settle(String which) throws Exception {
        JsonNode run = patiently(() -> service.run("small"));
        assertThat(run.path("state").asText()).as(which + ": " + run).isEqualTo("finished");
        Map<String, Long> rows = new TreeMap<>();
        service.get("/datasets/samples/counts?by=_file")
                .path("groups")
                .forEach(group -> rows.put(
                        group.path("values").path(0).asText(),
                        group.path("rows").asLong()));
        assertThat(rows).as(which).isEqualTo(expected);
        assertThat(service.get("/store").path("problems")).as(which).isEmpty();
        Path staging = disk.resolve("store/staging");
        for (int i = 0; i < 500 && staging.toFile().list().length > 0; i++) {
            Thread.sleep(20); // small files are put together once a run has ended
        }
        assertThat(staging).as(which).isEmptyDirectory();
    }

    private void flipped(String which) throws Exception {
        List<Path> parts;
        try (Stream<Path> all = Files.list(disk.resolve("store/parts/samples"))) {
            parts = all.sorted().toList();
        }
        Path part = parts.get(random.nextInt(parts.size()));
        long at = (long) (random.nextDouble() * Files.size(part));
        int bit = 1 << random.nextInt(8);
        flip(part, at, bit);
        String name = part.getFileName().toString();
        String said = service.client("verify").out().replaceAll("\\s+", "");
        if (said.contains(name)) {
            assertThatThrownBy(() ->
                            service.api().copy("/datasets/samples/export?as=csv", OutputStream.nullOutputStream()))
                    .as(which + ", byte " + at)
                    .isInstanceOf(ClientException.class);
        } else { // a part that was replaced: nothing that counts is lost
            assertThat(disk.resolve("service-test.log"))
                    .as(which + ", byte " + at)
                    .content()
                    .contains(name);
        }
        flip(part, at, bit);
        TestService.Result whole = service.client("verify");
        assertThat(whole.status())
                .as(which + ", byte " + at + " of " + name + ", put right: " + whole.out())
                .isZero();
    }

    private void flip(Path part, long at, int bit) throws Exception {
        try (RandomAccessFile file = new RandomAccessFile(part.toFile(), "rw")) {
            file.seek(at);
            int old = file.read();
            file.seek(at);
            file.write(old ^ bit);
        }
    }
}
