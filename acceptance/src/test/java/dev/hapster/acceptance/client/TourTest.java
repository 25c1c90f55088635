package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.terminal.ExitStatus;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Gives the commands of docs/tour.md one after another, and compares what they print with that page. */
class TourTest {

    private record Step(String command, List<String> answer) {}

    @TempDir
    private Path folder;

    private static List<Step> steps() throws Exception {
        List<Step> steps = new ArrayList<>();
        boolean inside = false;
        for (String line : Files.readAllLines(Path.of("..", "docs", "tour.md"))) {
            if (line.startsWith("```")) {
                inside = line.equals("```console");
            } else if (inside && line.startsWith("$ ")) {
                steps.add(new Step(line.substring(2), new ArrayList<>()));
            } else if (inside) {
                steps.get(steps.size() - 1).answer().add(line);
            }
        }
        return steps;
    }

    /**
     * What stands there as an expression: an ellipsis on a line of its own is any number of lines, within one any text.
     */
    private static Pattern expected(List<String> answer) {
        return Pattern.compile(answer.stream()
                .map(line -> line.equals("…")
                        ? "(?:.*\\n)*?"
                        : Arrays.stream(plain(line).split("…", -1))
                                        .map(part -> Pattern.quote(part.strip()))
                                        .collect(Collectors.joining(".*"))
                                + "\\n")
                .collect(Collectors.joining()));
    }

    /** How far apart things stand does not matter here. */
    private static String plain(String text) {
        return text.lines().map(line -> line.replaceAll(" +", " ").strip()).collect(Collectors.joining("\n"));
    }

    @Test
    void everyCommandAnswersAsItStandsThere() throws Exception {
        Path workspace = Workspaces.demo(folder.resolve(".hapster/demo"));
        List<Step> steps = steps();
        assertThat(steps).hasSizeGreaterThan(20);
        try (TestService service = TestService.start(workspace)) {
            for (String job : service.get("/jobs").findValuesAsText("name")) {
                service.run(job);
            }
            for (Step step : steps) {
                String said =
                        step.command().startsWith("hapster ") ? client(service, step.command()) : shell(step.command());
                assertThat(said.isEmpty() ? "" : plain(said) + "\n")
                        .as("$ " + step.command())
                        .matches(expected(step.answer()));
            }
        }
    }

    private String client(TestService service, String command) throws Exception {
        TestService.Result result =
                service.clientIn(folder, command.substring("hapster ".length()).split(" "));
        assertThat(result.status()).as("$ " + command + "\n" + result.err()).isLessThanOrEqualTo(ExitStatus.FINDINGS);
        return result.out();
    }

    private String shell(String command) throws Exception {
        Process process = new ProcessBuilder("bash", "-c", command)
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8).replace("\r\n", "\n");
        assertThat(process.waitFor()).as("$ " + command + "\n" + said).isZero();
        return said;
    }
}
