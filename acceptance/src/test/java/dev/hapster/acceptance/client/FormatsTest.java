package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.terminal.ExitStatus;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import java.util.zip.GZIPOutputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Files of every format through the running service: those that load, those that fit or do not, those that are built to
 * do harm.
 */
class FormatsTest {

    @TempDir
    private Path folder;

    private static void gzip(Path file, byte[] bytes) throws Exception {
        Files.createDirectories(file.getParent());
        try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(file))) {
            out.write(bytes);
        }
    }

    private void job(String name, String take, String read) throws Exception {
        Workspaces.write(
                folder,
                "jobs/" + name + ".yaml",
                "job: " + name + "\ninto: samples\nfind: [{folder: in, settle: 0s, copies: load, take: \"" + take
                        + "\"}]\nread: {" + read + "}\n");
    }

    @Test
    void harmIsRejectedWithItsReasonAndTheServiceStaysUp() throws Exception {
        Workspaces.small(folder);
        job("xml", "*.xml", "as: xml");
        job("json", "*.json", "as: json");
        job("books", "*.xlsx", "as: workbook");
        job("parts", "*.parquet", "as: parquet");
        job("zips", "*.zip!/*.csv", "as: delimited");
        job("texts", "*.gz", "as: delimited");
        Workspaces.write(
                folder,
                "in/bomb.xml",
                "<!DOCTYPE r [<!ENTITY a \"aaaa\"><!ENTITY b \"&a;&a;&a;&a;\">]><r><x><id>&b;</id></x></r>");
        Workspaces.write(
                folder,
                "in/spy.xml",
                "<!DOCTYPE r [<!ENTITY a SYSTEM \"file:///etc/passwd\">]><r><x><id>&a;</id></x></r>");
        Workspaces.write(folder, "in/good.xml", "<r><x><id>a</id><value>1</value></x></r>");
        Workspaces.write(folder, "in/deep.json", "{\"a\":".repeat(100_000));
        Workspaces.write(folder, "in/good.json", "[{\"id\": \"b\", \"day\": null, \"value\": 2}]");
        Workspaces.write(folder, "in/named.xlsx", "id,value\n");
        Workspaces.write(folder, "in/damaged.parquet", "PAR1" + "x".repeat(500) + "PAR1");
        byte[] lines = "id,value\nc,3\n".repeat(20_000).getBytes(StandardCharsets.UTF_8);
        gzip(folder.resolve("in/whole.gz"), "id,value\nc,3\n".getBytes(StandardCharsets.UTF_8));
        gzip(folder.resolve("in/cut.gz"), lines);
        byte[] packed = Files.readAllBytes(folder.resolve("in/cut.gz"));
        Files.write(folder.resolve("in/cut.gz"), Arrays.copyOf(packed, packed.length / 2));
        try (ZipOutputStream zip = new ZipOutputStream(Files.newOutputStream(folder.resolve("in/bomb.zip")))) {
            byte[] blank = new byte[1 << 20];
            Arrays.fill(blank, (byte) '\n');
            zip.putNextEntry(new ZipEntry("bomb.csv"));
            zip.write("id,value\n".getBytes(StandardCharsets.UTF_8));
            for (int i = 0; i < 1_100; i++) {
                zip.write(blank);
            }
            zip.putNextEntry(new ZipEntry("../../good.csv"));
            zip.write("id,value\nd,4\n".getBytes(StandardCharsets.UTF_8));
        }
        Map<String, String> reasons = new HashMap<>();
        try (TestService service = TestService.start(folder)) {
            for (String job : new String[] {"xml", "json", "books", "parts", "zips", "texts"}) {
                JsonNode run = service.run(job);
                assertThat(run.path("state").asText()).as(run.toPrettyString()).isEqualTo("finished");
                service.get("/runs/" + run.path("run").asLong() + "/files")
                        .forEach(file -> reasons.put(
                                file.path("name").asText(),
                                file.path("code")
                                        .asText("loaded " + file.path("loaded").asLong())));
            }
            assertThat(service.get("/jobs")).hasSize(7);
            assertThat(service.get("/datasets/samples").path("rows").asLong()).isEqualTo(3);
        }
        assertThat(reasons)
                .containsOnly(
                        Map.entry("bomb.xml", "structure-refused"),
                        Map.entry("spy.xml", "structure-refused"),
                        Map.entry("good.xml", "loaded 1"),
                        Map.entry("deep.json", "structure-refused"),
                        Map.entry("good.json", "loaded 1"),
                        Map.entry("named.xlsx", "format-differs"),
                        Map.entry("damaged.parquet", "file-damaged"),
                        Map.entry("whole.gz", "loaded 1"),
                        Map.entry("cut.gz", "file-damaged"),
                        Map.entry("bomb.zip!/bomb.csv", "file-damaged"));
    }

    @Test
    void fitPeekAndExportOfTheDemo() throws Exception {
        Workspaces.demo(folder);
        try (TestService service = TestService.start(folder)) {
            Result fit = service.client("fit", "east-lab");
            assertThat(fit.status()).isEqualTo(ExitStatus.FINDINGS);
            assertThat(fit.out())
                    .contains(
                            "structure 1  3 files: fits",
                            "structure 2  1 file: does not fit",
                            "! looks separated by \",\"; the job declares \";\"",
                            "east-lab: 5 files of 3 structures; 1 waiting, not looked at")
                    .containsPattern("value +Messwert +5");
            assertThat(service.client("fit", "north-lab").status())
                    .as("what is skipped as declared is not a difference")
                    .isEqualTo(ExitStatus.DONE);
            assertThat(service.client("peek", "harbour", "harbour-2026.xlsx!2026-01", "--from", "4", "--count", "1")
                            .out())
                    .contains("rows of sheet 2026-01", "Station  Sample");
            assertThat(service.client("peek", "harbour", "harbour-2026.xlsx!Nope")
                            .err())
                    .contains("has no sheet \"Nope\" any more; it has 2026-01");
            assertThat(service.client("find", "harbour", "--skipped").out())
                    .contains("harbour-2026.xlsx!Notes", "no sheet pattern matches");
            service.run("harbour");
            Path target = folder.resolve("rows.xlsx");
            assertThat(service.client("export", "river_samples", "--to", target.toString())
                            .status())
                    .isEqualTo(ExitStatus.DONE);
            assertThat(target).isNotEmptyFile();
            assertThat(service.client("export", "river_samples", "--to", target.toString())
                            .err())
                    .contains("is there already; --overwrite replaces it.");
            Path text = folder.resolve("rows.csv");
            service.client("export", "river_samples", "--to", text.toString(), "--origins");
            assertThat(Files.readAllLines(text)).hasSize(623).first().asString().contains("_file", "sample_id");
            assertThat(service.client(
                                    "export",
                                    "river_sample",
                                    "--to",
                                    folder.resolve("x.csv").toString())
                            .err())
                    .contains("Did you mean 'river_samples'?");
            assertThat(folder.resolve("x.csv")).doesNotExist();
        }
    }
}
