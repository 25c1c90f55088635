package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Where nothing happened, nobody is told that all went well. */
class NothingTest {

    @TempDir
    private static Path workspace;

    private static TestService service;

    @BeforeAll
    static void start() throws Exception {
        Workspaces.small(workspace);
        Workspaces.job(workspace, "rejecting", "bad", "");
        Workspaces.job(workspace, "separated", "other", "read: {extra_columns: ignore}\n");
        Files.writeString(
                workspace.resolve("datasets/samples.yaml"),
                "dataset: samples\ncolumns:\n  - {name: id, type: text}\n  - {name: value, type: integer}\n");
        Workspaces.write(workspace, "bad/a.csv", "id,value\na,x\nb,y\n");
        Workspaces.write(workspace, "other/a.csv", "id:value\na:1\nb:2\n");
        Workspaces.job(workspace, "unmapped", "strange", "read: {extra_columns: ignore}\n");
        Workspaces.write(workspace, "strange/a.csv", "ident,amount\na,1\nb,2\n");
        Workspaces.job(workspace, "shouting", "loud", "");
        Workspaces.write(workspace, "loud/A.CSV", "id,value\na,1\n");
        service = TestService.start(workspace);
    }

    @AfterAll
    static void stop() {
        service.close();
    }

    @Test
    void noFilesIsAFinding() {
        says("run small", 1, "done: no files found", "note: No files found: the folders of small hold nothing");
        says("try small", 1, "tried: no files found");
        says("find small", 1, "small: no files found");
        says("check small", 1, "small can run, but no files were found");
    }

    @Test
    void aFileThatIsPassedOverForItsCaseIsNamed() {
        String told = "A.CSV is not taken: only case differs from";
        says("run shouting", 1, "done: no files found", "note: " + told);
        says("find shouting", 1, "! " + told, "any_case: true takes it");
    }

    @Test
    void aValueThatTheJobDoesNotUseIsAMistake() throws Exception {
        for (String command : new String[] {"run", "try", "find", "check", "fit", "jobs"}) {
            Result result = service.client(command, "small", "--set", "moth=2026-03");
            assertThat(result.status()).as(command).isEqualTo(2);
            assertThat(result.err()).as(command).contains("The job small uses no value 'moth'");
        }
        assertThat(call("POST", "/jobs/small/runs", "{\"set\": {\"moth\": \"1\"}}"))
                .startsWith("400")
                .contains("uses no value 'moth'");
    }

    @Test
    void whatACallDoesNotKnowIsAMistake() throws Exception {
        assertThat(call("GET", "/runs?limt=3", null))
                .startsWith("400")
                .contains("There is no parameter 'limt' in this call. Did you mean 'limit'?");
        assertThat(call("POST", "/jobs/small/runs", "{\"agin\": true}"))
                .startsWith("400")
                .contains("There is no field 'agin' in this call", "Did you mean 'again'?");
        assertThat(call("POST", "/jobs/small/runs", "{\"again\": \"perhaps\"}"))
                .startsWith("400")
                .contains("The field 'again' does not have the right kind of value");
    }

    @Test
    void aFileOfWhichNoRowWasLoadedIsNotJustLoaded() {
        says("run rejecting", 1, "no row of it was loaded", "1 loaded (1 of them without a row)");
        says("run unmapped", 1, "2  rows  row-empty", "no column that is mapped has a value", "0 loaded + 2 rejected");
        says("run separated", 1, "looks separated by \":\"; the job declares \",\"", "1 rejected");
    }

    private static void says(String command, int status, String... sentences) {
        Result result = service.client(command.split(" "));
        assertThat(result.out()).as(command).contains(sentences);
        assertThat(result.status()).as(command).isEqualTo(status);
    }

    private static String call(String method, String path, String body) throws IOException, InterruptedException {
        HttpResponse<String> answer = HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(service.url() + "/api/v1" + path))
                                .header("Content-Type", "application/json")
                                .method(
                                        method,
                                        body == null
                                                ? HttpRequest.BodyPublishers.noBody()
                                                : HttpRequest.BodyPublishers.ofString(body))
                                .build(),
                        HttpResponse.BodyHandlers.ofString());
        return answer.statusCode() + " " + answer.body();
    }
}
