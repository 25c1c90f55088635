package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.acceptance.Postgres;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The examples of docs/programs.md do what that page says. */
class ProgramsTest {

    private static final Path PAGE = Path.of("../docs/programs.md");
    private static final Path CONSOLE = Path.of("../console");

    private static final Pattern EXAMPLE = Pattern.compile(
            "<!-- example: (\\S+) -->\\n\\n```\\w+\\n(.*?)\\n```\\n(.*?)```\\n(.*?)\\n```", Pattern.DOTALL);

    @TempDir
    private Path folder;

    @TempDir
    private Path data;

    @Test
    void theExamplesOfThePageDoWhatItSays() throws Exception {
        Workspaces.demo(folder);
        Files.writeString(
                folder.resolve("datasets/river_samples.yaml"),
                "  - name: warehouse\n    to: {database: warehouse, table: samples}\n    when: on call\n",
                StandardOpenOption.APPEND);
        String page = Files.readString(PAGE);
        List<String> printed = new ArrayList<>();
        try (Postgres postgres = Postgres.start(data.resolve("postgres"));
                TestService service = TestService.start(folder)) {
            Workspaces.write(
                    folder,
                    "accounts.yaml",
                    "accounts: [{name: warehouse, postgresql: {port: " + postgres.port()
                            + ", database: postgres, user: postgres, password: {file: secret}}}]");
            Workspaces.write(folder, "secret", Postgres.PASSWORD);
            for (String job : List.of("north-lab", "east-lab", "harbour", "loggers", "history", "field-visits")) {
                service.run(job);
            }
            assertThat(service.client("deliver", "river_samples", "warehouse").out())
                    .contains("rows in samples at warehouse");
            Matcher example = EXAMPLE.matcher(page);
            StringBuilder rewritten = new StringBuilder();
            while (example.find()) {
                String output = example.group(1).equals("psql")
                        ? postgres.table(example.group(2))
                        : node(example.group(2).replace("http://127.0.0.1:8711", service.url()));
                printed.add(output);
                example.appendReplacement(
                        rewritten,
                        Matcher.quoteReplacement(page.substring(example.start(), example.start(4)) + output + "\n```"));
            }
            example.appendTail(rewritten);
            if (Boolean.getBoolean("hapster.write-docs")) {
                Files.writeString(PAGE, rewritten);
                page = rewritten.toString();
            }
            assertThat(rewritten).asString().isEqualTo(page);
            assertThat(printed).hasSize(3);
            String counted =
                    service.client("count", "river_samples", "--by", "lab").out();
            assertThat(printed.get(0).lines()).allSatisfy(line -> {
                int space = line.lastIndexOf(' ');
                assertThat(counted.replace(" ", "")).contains(line.substring(0, space) + line.substring(space + 1));
            });
        }
    }

    private String node(String script) throws Exception {
        Path file = Files.createDirectories(CONSOLE.resolve("target/examples")).resolve("example.mjs");
        Files.writeString(file, script);
        Process node = new ProcessBuilder("node", file.toRealPath().toString())
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .start();
        String out = new String(node.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(node.waitFor()).as(out).isZero();
        return out.strip();
    }
}
