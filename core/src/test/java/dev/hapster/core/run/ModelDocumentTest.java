package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;
import org.junit.jupiter.api.io.TempDir;

/** The examples of docs/model.md do what stands there. */
class ModelDocumentTest {

    @TempDir
    private Path home;

    @TestFactory
    Stream<DynamicTest> examples() throws IOException {
        List<DynamicTest> tests = new ArrayList<>();
        List<String> example = null;
        String heading = "";
        for (String line : Files.readAllLines(Path.of("..", "docs", "model.md"))) {
            if (line.startsWith("#") || line.startsWith("**")) {
                heading = line;
            }
            if (line.equals("```model")) {
                example = new ArrayList<>();
            } else if (line.equals("```") && example != null) {
                List<String> lines = example;
                int number = tests.size();
                tests.add(DynamicTest.dynamicTest(heading, () -> play(lines, home.resolve("example-" + number))));
                example = null;
            } else if (example != null) {
                example.add(line);
            }
        }
        assertThat(tests).hasSizeGreaterThan(7);
        return tests.stream();
    }

    private static void play(List<String> lines, Path folder) throws Exception {
        try (CoreWorkspace work = new CoreWorkspace(folder)) {
            String job = "";
            work.job(job);
            for (int i = 0; i < lines.size(); i++) {
                String line = lines.get(i);
                if (line.startsWith("job: ")) {
                    job = line.substring(5) + "\n";
                    work.job(job);
                } else if (line.equals("mend")) {
                    work.job("map: {value: {clean: [{replace: {\"?\": \"0\"}}]}}\n" + job);
                } else if (line.startsWith("=")) {
                    assertThat(work.values())
                            .as(String.join("\n", lines.subList(0, i + 1)))
                            .isEqualTo(Arrays.stream(line.substring(1).strip().split(" +"))
                                    .filter(row -> !row.isEmpty())
                                    .sorted()
                                    .toList());
                } else {
                    act(work, line);
                }
            }
        }
    }

    private static void act(CoreWorkspace work, String line) throws Exception {
        String[] words = line.split("(: | -> | )", 2);
        Path in = work.folder.resolve("in");
        if (line.contains(" -> ")) {
            Files.move(in.resolve(words[0]), in.resolve(words[1]), StandardCopyOption.REPLACE_EXISTING);
        } else if (line.equals("run")) {
            work.run();
        } else if (line.equals("run again")) {
            work.again();
        } else if (line.equals("retry")) {
            work.retry();
        } else if (words[0].equals("undo")) {
            work.undo(Long.parseLong(words[1]));
        } else if (words[0].equals("remove")) {
            work.remove(words[1]);
        } else if (words[1].equals("gone")) {
            Files.delete(in.resolve(words[0]));
        } else if (words[1].equals("nonsense")) {
            work.raw(words[0], "what,is,this\n");
        } else if (line.contains(": ")) {
            work.file(words[0], words[1]);
        } else {
            throw new IllegalArgumentException("What is '" + line + "'?");
        }
    }
}
