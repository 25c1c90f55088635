package dev.hapster.cli.http;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import dev.hapster.cli.terminal.ClientException;
import dev.hapster.cli.terminal.ExitStatus;
import dev.hapster.cli.terminal.Screen;
import java.io.IOException;
import java.io.OutputStream;
import java.net.ConnectException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.net.http.HttpTimeoutException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.function.Consumer;
import java.util.stream.Stream;

/** Calls the service. What goes wrong becomes a {@link ClientException} with the status that the command ends with. */
@SuppressWarnings("deprecation") // decimals keep the zeros that they are written with
public final class Api {

    public static final ObjectMapper JSON = new ObjectMapper()
            .enable(SerializationFeature.INDENT_OUTPUT)
            .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .configure(com.fasterxml.jackson.core.JsonGenerator.Feature.WRITE_BIGDECIMAL_AS_PLAIN, true)
            .setNodeFactory(com.fasterxml.jackson.databind.node.JsonNodeFactory.withExactBigDecimals(true));

    private final String base;
    private final HttpClient http = HttpClient.newBuilder()
            .connectTimeout(Duration.ofSeconds(5))
            .version(HttpClient.Version.HTTP_1_1)
            .build();

    public Api(String base) {
        this.base = base.endsWith("/") ? base.substring(0, base.length() - 1) : base;
    }

    public String base() {
        return base;
    }

    public JsonNode get(String path) {
        return call(request(path).GET().build());
    }

    public JsonNode post(String path, JsonNode body) {
        return call(request(path)
                .header("Content-Type", "application/json")
                .POST(HttpRequest.BodyPublishers.ofString(body == null ? "{}" : body.toString()))
                .build());
    }

    /** Fetches rows into a file, which appears only once it is whole. */
    public Rows.Fetched fetch(String path, Path target) {
        try {
            return rows(path).into(target);
        } catch (IOException wrong) {
            throw noService(wrong);
        }
    }

    /** Passes rows on as they come. */
    public void copy(String path, OutputStream out) {
        try {
            rows(path).copy(out);
        } catch (IOException wrong) {
            throw noService(wrong);
        }
    }

    private Rows rows(String path) {
        return new Rows(request(path).build().uri().toString(), Api::refusal);
    }

    /** Whether the service answers; what is wrong with its store is told by what it answers. */
    public boolean isUp() {
        try {
            return http.send(
                                    HttpRequest.newBuilder(URI.create(base + "/health/live"))
                                            .timeout(Duration.ofSeconds(5))
                                            .build(),
                                    BodyHandlers.discarding())
                            .statusCode()
                    == 200;
        } catch (IOException notYet) {
            return false;
        } catch (InterruptedException stop) {
            throw interrupted();
        }
    }

    /** Follows server-sent events (the data of each, as JSON) to the end of the stream. */
    public void follow(String path, Consumer<JsonNode> events) {
        try {
            HttpResponse<Stream<String>> response = http.send(
                    request(path).header("Accept", "text/event-stream").GET().build(), BodyHandlers.ofLines());
            try (Stream<String> lines = response.body()) {
                if (response.statusCode() != 200) {
                    throw refusal(response.statusCode(), String.join("\n", lines.toList()));
                }
                lines.filter(line -> line.startsWith("data:")).forEach(line -> events.accept(parse(line.substring(5))));
            }
        } catch (IOException wrong) {
            throw noService(wrong);
        } catch (java.io.UncheckedIOException wrong) {
            throw new ClientException(
                    ExitStatus.FAILED, "The service at " + base + " stopped while the client was waiting for it.");
        } catch (InterruptedException stop) {
            throw interrupted();
        }
    }

    public static String encode(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }

    public JsonNode put(String path, JsonNode body) {
        return call(request(path)
                .header("Content-Type", "application/json")
                .PUT(HttpRequest.BodyPublishers.ofString(body.toString()))
                .build());
    }

    public JsonNode delete(String path) {
        return call(request(path).DELETE().build());
    }

    private HttpRequest.Builder request(String path) {
        try {
            return HttpRequest.newBuilder(URI.create(base + "/api/v1" + path));
        } catch (IllegalArgumentException wrong) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "'" + base + "' is not an address of a service; write it like http://127.0.0.1:8711");
        }
    }

    private JsonNode call(HttpRequest request) {
        try {
            HttpResponse<String> response = http.send(request, BodyHandlers.ofString());
            if (response.statusCode() >= 400) {
                throw refusal(response.statusCode(), response.body());
            }
            return response.body().isBlank() ? JSON.createObjectNode() : parse(response.body());
        } catch (IOException wrong) {
            throw noService(wrong);
        } catch (InterruptedException stop) {
            throw interrupted();
        }
    }

    private static JsonNode parse(String text) {
        try {
            return JSON.readTree(text);
        } catch (JsonProcessingException wrong) {
            throw new ClientException(
                    ExitStatus.FAILED,
                    "The service answered with something that is not JSON: " + Screen.shorten(text, 200));
        }
    }

    private ClientException noService(IOException wrong) {
        String why =
                wrong instanceof ConnectException || wrong instanceof HttpTimeoutException || wrong.getMessage() == null
                        ? ""
                        : " (" + wrong.getMessage() + ")";
        return new ClientException(
                ExitStatus.NO_SERVICE,
                "No service answers at " + base + why + ". Start one with: hapster serve --workspace FOLDER");
    }

    private static ClientException interrupted() {
        Thread.currentThread().interrupt();
        return new ClientException(ExitStatus.FAILED, "Interrupted.");
    }

    private static ClientException refusal(int code, String body) {
        JsonNode problem;
        try {
            problem = JSON.readTree(body);
        } catch (JsonProcessingException notOne) {
            return new ClientException(
                    ExitStatus.FAILED, "The service answered " + code + ": " + Screen.shorten(body, 300));
        }
        StringBuilder text = new StringBuilder();
        JsonNode mistakes = problem.path("problems");
        if (!mistakes.isEmpty()) {
            text.append(problem.path("title").asText())
                    .append(mistakes.size() > 1 ? ", " + mistakes.size() + " mistakes:" : ":");
            mistakes.forEach(mistake -> text.append("\n  ").append(problem(mistake)));
        } else {
            text.append(problem.path("detail").asText(problem.path("title").asText("The service answered " + code)));
            String hint = problem.path("hint").asText("");
            text.append(hint.isEmpty() ? "" : ". " + hint);
        }
        return new ClientException(
                code == 400 || code == 404 ? ExitStatus.WRONG_USE : ExitStatus.FAILED, text.toString());
    }

    /** A mistake in a definition: {@code jobs/east.yaml:12:5 unknown key 'tke'. Did you mean 'take'?} */
    public static String problem(JsonNode mistake) {
        String hint = mistake.path("hint").asText();
        String at = mistake.path("file").asText()
                + (mistake.path("line").asInt() == 0
                        ? ""
                        : ":" + mistake.path("line").asInt() + ":"
                                + mistake.path("column").asInt());
        return at + "  " + mistake.path("what").asText() + (hint.isEmpty() ? "" : "\n      " + hint);
    }
}
