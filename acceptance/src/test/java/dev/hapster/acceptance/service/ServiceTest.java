package dev.hapster.acceptance.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.core.store.PartStore;
import dev.hapster.demo.LargeFiles;
import dev.hapster.terminal.ExitStatus;
import java.io.IOException;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The service on loopback: bad input, foreign callers, crashes. */
class ServiceTest {

    @TempDir
    private Path folder;

    private static HttpResponse<String> send(TestService service, String path, String... headers) throws Exception {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(service.url() + path));
        if (headers.length > 0) {
            request.headers(headers);
        }
        return HttpClient.newHttpClient().send(request.build(), HttpResponse.BodyHandlers.ofString());
    }

    @Test
    void theInterfaceIsDocumentedAndErrorsAreProblemDetails() throws Exception {
        try (TestService service = TestService.start(Workspaces.small(folder))) {
            assertThat(send(service, "/api/v1/openapi").body())
                    .startsWith("---\nopenapi: 3.1.0")
                    .contains("/api/v1/jobs/{job}/runs");
            assertThat(send(service, "/health").body()).contains("\"UP\"");
            assertThat(send(service, "/api/v1/schemas/job.schema.json").body()).contains("\"lines_above\"");
            assertThat(send(service, "/jobs/small").body()).contains("<div id=\"root\">");
            HttpResponse<String> missing = send(service, "/api/v1/jobs/smal");
            assertThat(missing.statusCode()).isEqualTo(404);
            assertThat(missing.headers().firstValue("Content-Type")).hasValue("application/problem+json");
            assertThat(missing.body()).contains("urn:hapster:unknown-name", "Did you mean 'small'?");
            for (String path : List.of("/api/v1/jobs/..%2f..%2fetc", "/api/v1/runs/x", "/api/v1/nothing")) {
                assertThat(send(service, path).statusCode()).as(path).isEqualTo(path.endsWith("/x") ? 400 : 404);
            }
            assertThat(send(service, "/api/v1/runs/1/rejects.csv").statusCode()).isEqualTo(404);
        }
    }

    @Test
    void foreignPagesAndForeignNamesAreRefused() throws Exception {
        try (TestService service = TestService.start(Workspaces.small(folder))) {
            assertThat(send(service, "/api/v1/jobs", "Origin", "http://evil.example")
                            .statusCode())
                    .isEqualTo(403);
            assertThat(send(service, "/api/v1/jobs", "Origin", service.url()).statusCode())
                    .isEqualTo(200);
            URI url = URI.create(service.url());
            try (Socket socket = new Socket("127.0.0.1", url.getPort())) {
                socket.getOutputStream()
                        .write("GET /api/v1/jobs HTTP/1.1\r\nHost: evil.example\r\nConnection: close\r\n\r\n"
                                .getBytes(StandardCharsets.US_ASCII));
                assertThat(new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8))
                        .startsWith("HTTP/1.1 403")
                        .contains("urn:hapster:foreign-caller");
            }
        }
    }

    @Test
    void oneWorkspaceHasOneService() throws Exception {
        try (TestService service = TestService.start(Workspaces.small(folder))) {
            Result second = TestService.client(
                    List.of(), List.of("serve", "--workspace", folder.toString(), "--port", "18999"));
            assertThat(second.status()).isEqualTo(ExitStatus.FAILED);
            assertThat(second.err()).contains("is in use by the service with process number " + service.pid());
            Result taken = TestService.client(
                    List.of(),
                    List.of(
                            "serve",
                            "--workspace",
                            folder.toString(),
                            "--port",
                            Integer.toString(URI.create(service.url()).getPort())));
            assertThat(taken.err()).contains("is in use. Stop what uses it, or name another with --port.");
        }
    }

    @Test
    void badInputGetsAClearAnswerAndTheServiceStaysUp() throws Exception {
        Workspaces.small(folder.resolve("workspace"));
        Path workspace = folder.resolve("workspace");
        Files.createDirectories(folder.resolve("outside"));
        Workspaces.write(workspace, "jobs/broken.yaml", "job: broken\ninto: sampels\nfind: [{folder: in, tkae: x}]\n");
        Workspaces.job(workspace, "missing", "nowhere", "");
        Workspaces.job(workspace, "escape", "../outside", "");
        Workspaces.job(workspace, "dirt", "dirt", "");
        Workspaces.write(workspace, "dirt/good.csv", "id,day,value\na,2026-01-01,1\n");
        Workspaces.write(workspace, "dirt/lacks.csv", "day,value\n2026-01-01,1\n");
        Workspaces.write(workspace, "dirt/nul.csv", "\0".repeat(10_000));
        Workspaces.write(workspace, "dirt/long.csv", "id,day,value\n" + "x".repeat(5_000_000) + "\n");
        try (TestService service = TestService.start(workspace)) {
            assertThat(service.client("run", "broken"))
                    .satisfies(result -> assertThat(result.status()).isEqualTo(ExitStatus.FAILED))
                    .extracting(Result::err)
                    .asString()
                    .contains(
                            "The definition cannot be used, 3 mistakes:",
                            "jobs/broken.yaml:2:7",
                            "Did you mean 'samples'?",
                            "jobs/broken.yaml:3:21",
                            "Did you mean 'take'?");
            assertThat(service.client("check", "missing"))
                    .satisfies(result -> assertThat(result.status()).isEqualTo(ExitStatus.FAILED))
                    .extracting(Result::out)
                    .asString()
                    .contains(
                            "the folder " + workspace.resolve("nowhere") + " does not exist",
                            "Create it, or correct `folder`");
            assertThat(service.client("run", "escape"))
                    .satisfies(result -> assertThat(result.status()).isEqualTo(ExitStatus.FAILED))
                    .extracting(Result::err)
                    .asString()
                    .contains("outside the folders that the service may use", "--root");
            assertThat(service.client("run", "dirt"))
                    .satisfies(result -> assertThat(result.status()).isEqualTo(ExitStatus.FINDINGS))
                    .extracting(Result::out)
                    .asString()
                    .contains(
                            "its header lacks id; it has day, value",
                            "holds a NUL byte at line 1 (byte 0)",
                            "the row at line 2 is longer than 1 048 576 bytes",
                            "files  4 found         =  1 loaded + 3 rejected");
            assertThat(service.get("/jobs")).hasSize(5);
        }
    }

    @Test
    void aFileThatMayNotBeReadIsRejectedAndTheOthersGoOn() throws Exception {
        Path open = Files.createTempDirectory(Path.of("/tmp"), "hapster-other-user");
        try {
            boolean root = System.getProperty("user.name").equals("root");
            Path jar = TestService.serviceJar();
            Path workspace = Workspaces.small(open.resolve("workspace"));
            Workspaces.write(workspace, "in/a.csv", "id,day,value\na,2026-01-01,1\n");
            Path closed = Workspaces.write(workspace, "in/b.csv", "id,day,value\nb,2026-01-01,1\n");
            Files.setPosixFilePermissions(closed, PosixFilePermissions.fromString("---------"));
            List<String> prefix = List.of();
            if (root) { // root may read everything: the service runs as somebody else, from a copy that this one can
                // reach
                copy(jar.getParent(), open.resolve("service"));
                jar = open.resolve("service/hapster-service-runner.jar");
                Files.setPosixFilePermissions(open, PosixFilePermissions.fromString("rwxr-xr-x"));
                new ProcessBuilder("chown", "-R", "65534:65534", workspace.toString())
                        .start()
                        .waitFor();
                prefix = List.of("setpriv", "--reuid=65534", "--regid=65534", "--clear-groups");
            }
            try (TestService service = TestService.start(workspace, prefix, jar)) {
                assertThat(service.client("run", "small"))
                        .satisfies(result -> assertThat(result.status()).isEqualTo(ExitStatus.FINDINGS))
                        .extracting(Result::out)
                        .asString()
                        .contains(
                                "1 file  file-unreadable".replace(" file ", "  file "),
                                "the account that runs the service may not read it",
                                "1 loaded + 1 rejected");
                Files.setPosixFilePermissions(closed, PosixFilePermissions.fromString("rw-r--r--"));
                assertThat(service.run("small").path("files").path("loaded").asLong())
                        .isEqualTo(1);
            }
        } finally {
            try (Stream<Path> tree = Files.walk(open)) {
                tree.sorted(java.util.Comparator.reverseOrder())
                        .forEach(path -> path.toFile().delete());
            }
        }
    }

    private static void copy(Path from, Path to) throws IOException {
        try (Stream<Path> tree = Files.walk(from)) {
            for (Path path : tree.toList()) {
                Path target = to.resolve(from.relativize(path).toString());
                if (Files.isDirectory(path)) {
                    Files.createDirectories(target);
                } else {
                    Files.copy(path, target);
                }
            }
        }
    }

    @Test
    void aKilledRunIsShownAsFailedAndTheNextOneMakesItWhole() throws Exception {
        Path disturbed = bulk(folder.resolve("disturbed"));
        Path undisturbed = bulk(folder.resolve("undisturbed"));
        List<String> expected;
        try (TestService service = TestService.start(undisturbed)) {
            assertThat(service.run("bulk").path("rows").path("loaded").asLong()).isEqualTo(50_000);
            expected = rows(service);
        }
        try (TestService service = TestService.start(disturbed)) {
            long first = service.post("/jobs/bulk/runs").path("run").asLong();
            // What a later transaction added is seen only once the one before is on disk.
            int seen = 0;
            for (int more = 0;
                    seen < 20 || more <= seen;
                    more = service.get("/runs/" + first + "/files").size()) {
                seen = seen < 20 ? more : seen;
                Thread.sleep(5);
            }
            service.kill();
            service.startAgain();

            JsonNode killed = service.get("/runs/" + first);
            long kept = killed.path("files").path("loaded").asLong();
            assertThat(killed.path("state").asText()).isEqualTo("failed");
            assertThat(killed.path("failure").asText())
                    .contains("The service was stopped while this run was going on", "run bulk again");
            assertThat(kept).isBetween((long) seen, 199L);
            assertThat(disturbed.resolve("store/staging")).isEmptyDirectory();
            assertThat(service.get("/datasets/bulk").path("rows").asLong()).isEqualTo(kept * 250);

            JsonNode second = service.run("bulk");
            assertThat(second.path("files").path("unchanged").asLong()).isEqualTo(kept);
            assertThat(second.path("files").path("loaded").asLong()).isEqualTo(200 - kept);
            assertThat(second.path("holds").asBoolean()).isTrue();
            assertThat(rows(service)).isEqualTo(expected);
            PartStore store = new PartStore(disturbed.resolve("store"));
            int parts = 0;
            for (String file : store.all()) {
                parts += store.contents(file).size();
            }
            assertThat(parts).isEqualTo(200);
        }
    }

    private static Path bulk(Path workspace) throws IOException {
        LargeFiles.write(workspace.resolve("in"), 200, 50_000);
        Workspaces.write(
                workspace,
                "datasets/bulk.yaml",
                "dataset: bulk\ncolumns:\n"
                        + String.join(
                                "",
                                LargeFiles.COLUMNS.stream()
                                        .map(column -> "  - " + column + "\n")
                                        .toList()));
        Workspaces.write(workspace, "jobs/bulk.yaml", "job: bulk\ninto: bulk\nfind: [{folder: in, take: \"*.csv\"}]\n");
        return workspace;
    }

    /** Every row of the dataset: file, line and declared columns, without what differs from run to run. */
    private static List<String> rows(TestService service) {
        List<String> rows = new ArrayList<>();
        for (int offset = 0; offset < 50_000; offset += 1000) {
            for (JsonNode row : service.get("/datasets/bulk/rows?limit=1000&offset=" + offset)
                    .path("rows")) {
                StringBuilder text = new StringBuilder(row.path(0).asText())
                        .append(':')
                        .append(row.path(1).asText());
                for (int i = 5; i < row.size(); i++) {
                    text.append('|').append(row.path(i).asText());
                }
                rows.add(text.toString());
            }
        }
        rows.sort(null);
        return rows;
    }
}
