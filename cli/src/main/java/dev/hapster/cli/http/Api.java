package dev.hapster.cli.http;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.ConnectException;
import java.net.HttpURLConnection;
import java.net.MalformedURLException;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.net.URL;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;

/** Calls the service. What goes wrong becomes a {@link ClientException} with the status that the command ends with. */
@SuppressWarnings("deprecation") // decimals keep the zeros that they are written with
public final class Api {

    public static final ObjectMapper JSON = new ObjectMapper()
            .enable(SerializationFeature.INDENT_OUTPUT)
            .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
            .configure(com.fasterxml.jackson.core.JsonGenerator.Feature.WRITE_BIGDECIMAL_AS_PLAIN, true)
            .setNodeFactory(com.fasterxml.jackson.databind.node.JsonNodeFactory.withExactBigDecimals(true));

    private static final int CONNECT_MILLIS = 5_000;

    private final String base;

    public Api(String base) {
        this.base = base.endsWith("/") ? base.substring(0, base.length() - 1) : base;
    }

    public String base() {
        return base;
    }

    public JsonNode get(String path) {
        return call("GET", path, null);
    }

    public JsonNode post(String path, JsonNode body) {
        return call("POST", path, body == null ? JSON.createObjectNode() : body);
    }

    public JsonNode put(String path, JsonNode body) {
        return call("PUT", path, body);
    }

    public JsonNode delete(String path) {
        return call("DELETE", path, null);
    }

    /** Fetches rows into a file, which appears only once it is whole. */
    public Rows.Fetched fetch(String path, Path target) {
        try {
            return rows(path, null).into(target);
        } catch (IOException wrong) {
            throw noService(wrong);
        }
    }

    /** The same, asked for with a body. */
    public Rows.Fetched fetch(String path, JsonNode body, Path target) {
        try {
            return rows(path, JSON.writeValueAsBytes(body)).into(target);
        } catch (IOException wrong) {
            throw noService(wrong);
        }
    }

    /** Passes rows on as they come. */
    public void copy(String path, OutputStream out) {
        try {
            rows(path, null).copy(out);
        } catch (IOException wrong) {
            throw noService(wrong);
        }
    }

    private Rows rows(String path, byte[] body) {
        return new Rows(address("/api/v1" + path).toString(), body, Api::refusal);
    }

    /** Whether the service answers; what is wrong with its store is told by what it answers. */
    public boolean isUp() {
        try {
            HttpURLConnection connection = open("GET", "/health/live");
            connection.setReadTimeout(CONNECT_MILLIS);
            try {
                return connection.getResponseCode() == 200;
            } finally {
                connection.disconnect();
            }
        } catch (IOException notYet) {
            return false;
        }
    }

    /** Follows server-sent events (the data of each, as JSON) to the end of the stream. */
    public void follow(String path, Consumer<JsonNode> events) {
        boolean begun = false;
        try {
            HttpURLConnection connection = open("GET", "/api/v1" + path);
            connection.setRequestProperty("Accept", "text/event-stream");
            try {
                if (connection.getResponseCode() != 200) {
                    throw refusal(connection.getResponseCode(), text(connection));
                }
                begun = true;
                BufferedReader lines =
                        new BufferedReader(new InputStreamReader(connection.getInputStream(), StandardCharsets.UTF_8));
                for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                    if (line.startsWith("data:")) {
                        events.accept(parse(line.substring(5)));
                    }
                }
            } finally {
                connection.disconnect();
            }
        } catch (IOException wrong) {
            throw begun
                    ? new ClientException(
                            ExitStatus.FAILED,
                            "The service at " + base + " stopped while the client was waiting for it.")
                    : noService(wrong);
        }
    }

    public static String encode(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }

    private URL address(String path) {
        try {
            URI address = URI.create(base + path);
            if (address.getHost() != null && List.of("http", "https").contains(address.getScheme())) {
                return address.toURL();
            }
        } catch (IllegalArgumentException | MalformedURLException wrong) {
            // told below
        }
        throw new ClientException(
                ExitStatus.WRONG_USE,
                "'" + base + "' is not an address of a service; write it like http://127.0.0.1:8711");
    }

    private HttpURLConnection open(String method, String path) throws IOException {
        HttpURLConnection connection = (HttpURLConnection) address(path).openConnection();
        connection.setRequestMethod(method);
        connection.setConnectTimeout(CONNECT_MILLIS);
        connection.setInstanceFollowRedirects(false);
        connection.setUseCaches(false);
        return connection;
    }

    private JsonNode call(String method, String path, JsonNode body) {
        try {
            HttpURLConnection connection = open(method, "/api/v1" + path);
            connection.setRequestProperty("Accept", "application/json");
            try {
                if (body != null) {
                    byte[] bytes = JSON.writeValueAsBytes(body);
                    connection.setDoOutput(true);
                    connection.setRequestProperty("Content-Type", "application/json");
                    connection.setFixedLengthStreamingMode(bytes.length); // never sent a second time
                    try (OutputStream out = connection.getOutputStream()) {
                        out.write(bytes);
                    }
                }
                int status = connection.getResponseCode();
                String answer = text(connection);
                if (status >= 400) {
                    throw refusal(status, answer);
                }
                return answer.isBlank() ? JSON.createObjectNode() : parse(answer);
            } finally {
                connection.disconnect();
            }
        } catch (IOException wrong) {
            throw noService(wrong);
        }
    }

    private static String text(HttpURLConnection connection) throws IOException {
        try (InputStream in =
                connection.getResponseCode() >= 400 ? connection.getErrorStream() : connection.getInputStream()) {
            return in == null ? "" : new String(in.readAllBytes(), StandardCharsets.UTF_8);
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
        String why = wrong instanceof ConnectException
                        || wrong instanceof SocketTimeoutException
                        || wrong.getMessage() == null
                ? ""
                : " (" + wrong.getMessage() + ")";
        return new ClientException(
                ExitStatus.NO_SERVICE,
                "No service answers at " + base + why + ". Start one with: hapster serve --workspace FOLDER");
    }

    private static ClientException refusal(int code, String body) {
        if (code == 414) {
            return new ClientException(
                    ExitStatus.WRONG_USE,
                    "The question is longer than the service takes (64 kB): name fewer values or columns.");
        }
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
