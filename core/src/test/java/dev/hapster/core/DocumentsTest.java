package dev.hapster.core;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.DefinitionException;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.reason.ReasonCode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What the documents say is true. */
class DocumentsTest {

    private static final Path ROOT = Path.of("..");

    /** Writes docs/reasons.md where {@code -Dhapster.write-docs=true} is given; otherwise compares it. */
    @Test
    void theListOfReasonsIsThatOfTheCode() throws IOException {
        StringBuilder text = new StringBuilder(
                "# Reasons for rejects\n\nMade from the code (`mvn -pl core test -Dtest=DocumentsTest "
                        + "-Dhapster.write-docs=true`); "
                        + "`hapster rejects --explain CODE` says the same.\n");
        for (ReasonCode.Level level : ReasonCode.Level.values()) {
            text.append(level == ReasonCode.Level.ROW ? "\n## Rows\n\n" : "\n## Files\n\n")
                    .append("| code | what happened | what to do |\n|---|---|---|\n");
            for (ReasonCode reason : ReasonCode.values()) {
                if (reason.level() == level) {
                    text.append("| `")
                            .append(reason.code())
                            .append("` | ")
                            .append(reason.cause())
                            .append(" | ")
                            .append(reason.cure())
                            .append(" |\n");
                }
            }
        }
        Path document = ROOT.resolve("docs/reasons.md");
        if (Boolean.getBoolean("hapster.write-docs")) {
            Files.writeString(document, text);
        }
        assertThat(document).content().isEqualTo(text.toString());
    }

    @ParameterizedTest
    @CsvSource({"README.md, 2", "docs/definitions.md, 3"})
    void theExamplesAreGoodDefinitions(String document, int count) throws IOException, DefinitionException {
        List<String> examples = new ArrayList<>();
        Matcher block =
                Pattern.compile("```yaml\n(.*?)```", Pattern.DOTALL).matcher(Files.readString(ROOT.resolve(document)));
        while (block.find()) {
            examples.add(block.group(1));
        }
        assertThat(examples).hasSize(count);
        String further = String.join("", examples.subList(2, count)); // more sections of the same job
        DatasetDef dataset = Definitions.dataset("datasets/" + name(examples.get(0)) + ".yaml", examples.get(0));
        JobDef job = Definitions.job(
                "jobs/" + name(examples.get(1)) + ".yaml",
                examples.get(1) + further,
                any -> Optional.of(dataset),
                Set.of(dataset.name()));
        assertThat(job.into()).isEqualTo(dataset.name());
    }

    private static String name(String example) {
        return example.lines().findFirst().orElseThrow().replaceAll("^\\w+:\\s*(\\S+).*", "$1");
    }

    @Test
    void linksAndPicturesAreThere() throws IOException {
        for (String document : List.of(
                "README.md",
                "docs/definitions.md",
                "docs/finding.md",
                "docs/running.md",
                "docs/service.md",
                "docs/architecture.md",
                "docs/tour.md",
                "docs/benchmarks.md")) {
            Path path = ROOT.resolve(document);
            Matcher link = Pattern.compile("\\]\\(([^)#:]+)\\)").matcher(Files.readString(path));
            while (link.find()) {
                assertThat(path.resolveSibling(link.group(1))).exists();
            }
        }
    }
}
