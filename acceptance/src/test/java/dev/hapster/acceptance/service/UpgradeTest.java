package dev.hapster.acceptance.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.cli.http.Api;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.ArrayList;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * A workspace of version 0.1, made by that version elsewhere: files replaced, copied, rejected and retried, rows
 * removed, a run undone, and jobs of each way to load.
 */
class UpgradeTest {

    @TempDir
    private Path folder;

    private Path unpacked() throws IOException {
        try (InputStream in = UpgradeTest.class.getResourceAsStream("/workspace-0.1.zip");
                ZipInputStream zip = new ZipInputStream(in)) {
            for (ZipEntry entry = zip.getNextEntry(); entry != null; entry = zip.getNextEntry()) {
                Path file = folder.resolve(entry.getName());
                if (entry.isDirectory()) {
                    Files.createDirectories(file);
                } else {
                    Files.createDirectories(file.getParent());
                    Files.copy(zip, file);
                    Files.setLastModifiedTime(file, FileTime.fromMillis(entry.getTime()));
                }
            }
        }
        return folder.resolve("workspace");
    }

    private static List<String> rows(TestService service, String dataset) {
        List<String> rows = new ArrayList<>();
        service.get("/datasets/" + dataset + "/rows?limit=100&sort=_file&sort=_line")
                .path("rows")
                .forEach(row -> rows.add(row.path(0).asText() + ":" + row.path(1) + " "
                        + row.path(5).asText() + "=" + row.path(6).asText()));
        return rows;
    }

    @Test
    void whatCountedCountsAndWhatCouldBeTakenBackStillCan() throws Exception {
        try (TestService service = TestService.start(unpacked())) {
            assertThat(rows(service, "samples"))
                    .containsExactly(
                            "a.csv:2 a1=1",
                            "a.csv:3 a2=null",
                            "b.csv:2 b1=10",
                            "b.csv:3 b2=20",
                            "copy.csv:2 b1=1",
                            "m.csv:2 m2=2",
                            "p.csv:2 p1=1",
                            "p.csv:2 p2=2");
            assertThat(rows(service, "stock")).containsExactly("s2.csv:2 s2=2", "s3.csv:2 s3=3");
            assertThat(rows(service, "updates"))
                    .containsExactly("u1.csv:4 k3=3", "u2.csv:2 k1=11", "u2.csv:3 k4=4", "u3.csv:2 k2=22");
            assertThat(service.api()
                            .post("/store/verify", Api.JSON.createObjectNode())
                            .path("problems"))
                    .isEmpty();
            assertThat(service.get("/rejects")).singleElement().satisfies(reason -> assertThat(
                            reason.path("code").asText())
                    .isEqualTo("column-missing"));

            JsonNode run = service.run("files");
            assertThat(run.path("files").path("unchanged").asLong())
                    .as("also the file whose rows were removed")
                    .isEqualTo(4);
            assertThat(service.run("upd").path("files").path("unchanged").asLong())
                    .isEqualTo(3);
            assertThat(service.run("app").path("files").path("unchanged").asLong())
                    .isEqualTo(1);
            assertThat(rows(service, "samples")).hasSize(8);

            service.post("/runs/11/undo");
            assertThat(rows(service, "samples")).as("removed rows come back").contains("c.csv:2 c1=1", "c.csv:3 c2=2");
            service.post("/runs/14/undo");
            assertThat(rows(service, "updates")).containsExactly("u1.csv:2 k1=1", "u1.csv:3 k2=2", "u1.csv:4 k3=3");
            service.run("stock");
            assertThat(rows(service, "stock")).hasSize(2);
        }
    }
}
