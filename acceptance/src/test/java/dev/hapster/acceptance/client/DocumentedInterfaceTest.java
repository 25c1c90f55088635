package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.acceptance.elsewhere.ObjectServer;
import dev.hapster.cli.http.Api;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Every call of the interface is called as its document says, and as it says not to. */
class DocumentedInterfaceTest {

    private static final String JOB = "job: fresh\ninto: samples\nfind: [{folder: in, take: \"x.csv\"}]\n";

    /** What a call is given, besides the usual values. */
    private static final Map<String, String> BODIES = Map.ofEntries(
            Map.entry(
                    "POST /datasets/{dataset}/export/elsewhere",
                    "{\"to\": \"s3://archive/river/rows.csv\", \"replace\": true}"),
            Map.entry("POST /drafts", "{\"paths\": [\"in\"]}"),
            Map.entry("PUT /jobs/{job}", "{\"text\": " + Api.JSON.valueToTree(JOB) + "}"),
            Map.entry(
                    "PUT /datasets/{dataset}", "{\"text\": \"dataset: fresh\\ncolumns: [{name: id, type: text}]\\n\"}"),
            Map.entry("POST /datasets/{dataset}/export/sheet", "{\"book\": \"" + book() + "\"}"),
            Map.entry("PUT /queries/{query}", "{\"dataset\": \"samples\", \"by\": [\"id\"]}"),
            Map.entry("POST /jobs/{job}/copy", "{\"name\": \"second\"}"),
            Map.entry("POST /jobs/{job}/rows", "{\"file\": \"a.csv\", \"stage\": \"read\"}"),
            Map.entry("POST /jobs/{job}/rows/trace", "{\"file\": \"a.csv\", \"from\": 1}"),
            Map.entry("POST /jobs/{job}/dismissals", "{\"file\": \"a.csv\", \"why\": \"known\"}"),
            Map.entry("POST /jobs/{job}/schedule/times", "{\"text\": \"job: small\\nwhen: {every: 1h}\\n\"}"),
            Map.entry("POST /jobs/{job}/schedule/pause", "{\"because\": \"stocktaking\"}"),
            Map.entry("POST /runs/{run}/label", "{\"label\": \"the first\"}"),
            Map.entry("POST /messages/trial", "{\"account\": \"office\", \"to\": \"mira@vessa.example\"}"),
            Map.entry("POST /jobs/{job}/rename", "{\"name\": \"small\"}"),
            Map.entry("POST /datasets/{dataset}/copy", "{\"name\": \"second\"}"),
            Map.entry("POST /datasets/{dataset}/rename", "{\"name\": \"samples\"}"));

    private static final Map<String, String> VALUES = Map.ofEntries(
            Map.entry("as", "csv"),
            Map.entry("at", "0"),
            Map.entry("level", "warn"),
            Map.entry("begin", "in"),
            Map.entry("by", "id"),
            Map.entry("code", "number-unreadable"),
            Map.entry("column", "value"),
            Map.entry("columns", "id"),
            Map.entry("count", "5"),
            Map.entry("dates", "dd.MM.yyyy"),
            Map.entry("decimal", ","),
            Map.entry("element", "sample"),
            Map.entry("encoding", "ISO-8859-1"),
            Map.entry("header", "true"),
            Map.entry("quote_all", "true"),
            Map.entry("root", "samples"),
            Map.entry("safe", "true"),
            Map.entry("separator", "tab"),
            Map.entry("sheet", "Data"),
            Map.entry("to", "{id}.csv"),
            Map.entry("message", "1"),
            Map.entry("periods", "3"),
            Map.entry("times", "3"),
            Map.entry("timestamps", "dd.MM.yyyy HH:mm"),
            Map.entry("dataset", "samples"),
            Map.entry("delivery", "all"),
            Map.entry("number", "1"),
            Map.entry("file", "a.csv"),
            Map.entry("files", "a.csv"),
            Map.entry("folder", "in"),
            Map.entry("from", "1"),
            Map.entry("job", "small"),
            Map.entry("limit", "5"),
            Map.entry("measures", "count(value)"),
            Map.entry("name", "job"),
            Map.entry("offset", "0"),
            Map.entry("origins", "true"),
            Map.entry("query", "all"),
            Map.entry("row", "2"),
            Map.entry("rule", "keep: id != \"c\""),
            Map.entry("run", "1"),
            Map.entry("sort", "id"),
            Map.entry("top", "2"),
            Map.entry("with", "2"),
            Map.entry("label", ""),
            Map.entry("where", "id = a"));

    @TempDir
    private static Path workspace;

    @TempDir
    private static Path objectFolder;

    private static ObjectServer objects;
    private static TestService service;
    private static JsonNode document;

    @BeforeAll
    static void start() throws Exception {
        objects = ObjectServer.start(objectFolder);
        Workspaces.small(workspace);
        Workspaces.write(
                workspace,
                "datasets/samples.yaml",
                Workspaces.DATASET + "deliver: [{name: all, to: out/all.csv, when: on call}]\n");
        Workspaces.job(workspace, "small", "in", "keep: 'id != \"c\"'\n");
        Workspaces.write(workspace, "in/a.csv", "id,day,value\na,2026-01-01,1\nb,2026-01-01,x\nc,2026-01-01,3\n");
        Workspaces.write(workspace, "queries/all.yaml", "query: all\ndataset: samples\nby: id\n");
        Workspaces.write(
                workspace,
                "accounts.yaml",
                "accounts:\n  - {name: office, mail: {host: 127.0.0.1, port: 1, from: hapster@vessa.example}}\n"
                        + objects.account());
        service = TestService.start(workspace);
        service.client("messages", "--try", "office", "--to", "mira@vessa.example");
        service.client("run", "small");
        Workspaces.write(workspace, "in/b.csv", "id,day,value\nd,2026-01-01,1\n");
        service.client("run", "small");
        service.client("deliver", "samples", "all");
        document = service.get("/openapi?format=json");
    }

    @AfterAll
    static void stop() {
        service.close();
        objects.close();
    }

    private record Call(String method, String path, JsonNode about) {
        String name() {
            return method + " " + path;
        }

        List<JsonNode> parameters(String in) {
            List<JsonNode> found = new ArrayList<>();
            about.path("parameters").forEach(one -> {
                if (one.path("in").asText().equals(in)) {
                    found.add(one);
                }
            });
            return found;
        }
    }

    /** All calls; those that delete something come last. */
    private static List<Call> calls() {
        List<Call> calls = new ArrayList<>();
        document.path("paths").properties().forEach(path -> path.getValue()
                .properties()
                .forEach(call -> calls.add(new Call(
                        call.getKey().toUpperCase(java.util.Locale.ROOT),
                        path.getKey().substring("/api/v1".length()),
                        call.getValue()))));
        calls.sort(Comparator.comparing((Call call) -> call.method.equals("DELETE"))
                .thenComparing(
                        call -> call.name().contains("undo") || call.name().contains("dismissals"))
                .thenComparing(call -> -call.path.length()));
        assertThat(calls).hasSizeGreaterThan(40);
        return calls;
    }

    @Test
    void everyCallSaysWhatItDoesAndAnswersAsItSays() throws Exception {
        for (Call call : calls()) {
            assertThat(call.about.path("description").asText()).as(call.name()).isNotEmpty();
            assertThat(call.about.path("responses").has("500")).as(call.name()).isTrue();
            call.about.path("parameters").forEach(one -> assertThat(
                            one.path("description").asText())
                    .as(call.name() + " " + one.path("name"))
                    .isNotEmpty());
            HttpResponse<String> answer = send(call, path(call, Map.of()) + query(call, Map.of()), body(call));
            assertThat(call.about.path("responses").has(String.valueOf(answer.statusCode())))
                    .as(call.name() + " answers " + answer.statusCode() + ": " + answer.body())
                    .isTrue();
            assertThat(answer.statusCode())
                    .as(call.name() + ": " + answer.body())
                    .isBetween(200, 299);
        }
    }

    @Test
    void whatIsWrongIsNamedWithTheRightStatus() throws Exception {
        for (Call call : calls()) {
            HttpResponse<String> odd = send(call, path(call, Map.of()) + "?nosuch=1", body(call));
            isProblem(call, odd, 400, "nosuch");
            for (JsonNode parameter : call.parameters("query")) {
                String name = parameter.path("name").asText();
                String type = parameter.path("schema").path("type").toString();
                if (type.contains("integer") || type.contains("boolean")) {
                    HttpResponse<String> wrong =
                            send(call, path(call, Map.of()) + query(call, Map.of(name, "abc")), body(call));
                    isProblem(call, wrong, 400, "'" + name + "' must be ");
                }
            }
            if (call.path.contains("{run}")) {
                isProblem(call, send(call, path(call, Map.of("run", "abc")), body(call)), 400, "'run' must be a");
            }
            boolean numbered = call.path.contains("{run}") || call.path.contains("{message}");
            String unknown = numbered ? "987654" : "nosuch";
            boolean makes = call.method.equals("PUT");
            if (call.path.contains("{") && !makes) {
                Map<String, String> other = Map.of(
                        "run",
                        unknown,
                        "job",
                        unknown,
                        "dataset",
                        unknown,
                        "name",
                        unknown,
                        "query",
                        unknown,
                        "delivery",
                        unknown,
                        "message",
                        unknown);
                HttpResponse<String> gone = send(call, path(call, other) + query(call, Map.of()), body(call));
                isProblem(call, gone, 404, unknown);
            }
            if (call.about.has("requestBody")) {
                isProblem(call, send(call, path(call, Map.of()), "{\"nosuch\": 1}"), 400, "nosuch");
                isProblem(call, send(call, path(call, Map.of()), "{"), 400, "JSON");
            }
        }
    }

    @Test
    void jobsAndDatasetsAreMadeChangedAndDeleted() throws Exception {
        Call put = calls().stream()
                .filter(call -> call.name().equals("PUT /jobs/{job}"))
                .findFirst()
                .orElseThrow();
        String text = "job: made\ninto: made\nfind: [{folder: in, take: \"y.csv\"}]\n";
        HttpResponse<String> early = send(
                put, "/jobs/made", Api.JSON.createObjectNode().put("text", text).toString());
        isProblem(put, early, 422, "there is no dataset 'made'");
        assertThat(workspace.resolve("jobs/made.yaml")).doesNotExist();
        String columns = "dataset: made\ncolumns: [{name: id, type: text}]\n";
        assertThat(send(
                                put,
                                "/datasets/made",
                                Api.JSON.createObjectNode().put("text", columns).toString())
                        .statusCode())
                .isEqualTo(201);
        HttpResponse<String> made = send(
                put, "/jobs/made", Api.JSON.createObjectNode().put("text", text).toString());
        assertThat(made.statusCode()).isEqualTo(201);
        assertThat(made.headers().firstValue("Location").orElseThrow()).endsWith("/api/v1/jobs/made");
        isProblem(
                put,
                send(
                        put,
                        "/jobs/made",
                        Api.JSON.createObjectNode().put("text", text).toString()),
                400,
                "version");
        isProblem(
                put,
                send(
                        put,
                        "/jobs/..%2Fx",
                        Api.JSON.createObjectNode().put("text", text).toString()),
                422,
                "cannot be called");
        Call delete = new Call("DELETE", "", Api.JSON.createObjectNode());
        isProblem(put, send(delete, "/datasets/made", null), 422, "jobs load into it: made");
        assertThat(send(delete, "/jobs/made", null).statusCode()).isEqualTo(204);
        assertThat(send(delete, "/datasets/made", null).statusCode()).isEqualTo(204);
        isProblem(put, send(delete, "/datasets/made", null), 404, "made");
    }

    private static String body(Call call) {
        return call.about.has("requestBody") ? BODIES.getOrDefault(call.name(), "{}") : null;
    }

    /** An empty workbook, as Base64 has it. */
    private static String book() {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (Workbook book = new Workbook(bytes, "test", "1.0")) {
            Worksheet unused = book.newWorksheet("Data");
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
        return Base64.getEncoder().encodeToString(bytes.toByteArray());
    }

    private static String path(Call call, Map<String, String> instead) {
        String path = call.path;
        for (JsonNode parameter : call.parameters("path")) {
            String name = parameter.path("name").asText();
            boolean fresh = call.method.equals("PUT");
            boolean spare = call.method.equals("DELETE") && !call.path.endsWith("/rows");
            String value = fresh || spare ? "fresh" : VALUES.get(name);
            path = path.replace("{" + name + "}", instead.getOrDefault(name, value));
        }
        return path;
    }

    private static String query(Call call, Map<String, String> instead) {
        Map<String, String> values = new java.util.TreeMap<>(VALUES);
        values.put("path", workspace.resolve("in/a.csv").toString());
        values.put("source", "in/a.csv");
        boolean undoable = call.path.endsWith("/removal") || call.path.endsWith("/rows");
        if (call.method.equals("DELETE")) {
            values.put("file", "b.csv");
        }
        if (undoable && call.path.startsWith("/datasets") && !call.path.contains("runs")) {
            values.remove("job");
            values.remove("run");
        }
        values.putAll(instead);
        List<String> parts = call.parameters("query").stream()
                .map(parameter -> parameter.path("name").asText())
                .filter(values::containsKey)
                .map(name -> name + "=" + URLEncoder.encode(values.get(name), StandardCharsets.UTF_8))
                .toList();
        return parts.isEmpty() ? "" : parts.stream().collect(Collectors.joining("&", "?", ""));
    }

    private static void isProblem(Call call, HttpResponse<String> answer, int status, String says) throws Exception {
        assertThat(answer.statusCode()).as(call.name() + ": " + answer.body()).isEqualTo(status);
        assertThat(answer.headers().firstValue("Content-Type").orElse(""))
                .as(call.name())
                .startsWith("application/problem+json");
        JsonNode problem = Api.JSON.readTree(answer.body());
        assertThat(problem.path("status").asInt()).isEqualTo(status);
        assertThat(problem.path("type").asText()).startsWith("urn:hapster:");
        assertThat(answer.body()).as(call.name()).contains(says);
    }

    private static HttpResponse<String> send(Call call, String path, String body) throws Exception {
        return HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(service.url() + "/api/v1" + path))
                                .header("Content-Type", "application/json")
                                .method(
                                        call.method,
                                        body == null
                                                ? HttpRequest.BodyPublishers.noBody()
                                                : HttpRequest.BodyPublishers.ofString(body))
                                .build(),
                        HttpResponse.BodyHandlers.ofString());
    }
}
