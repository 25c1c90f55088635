package dev.hapster.core;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.definition.section.AccountSection;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.section.DueSection;
import dev.hapster.core.definition.section.JobSection;
import dev.hapster.core.definition.section.MappingSection;
import dev.hapster.core.definition.section.NotifySection;
import dev.hapster.core.definition.section.PlaceSection;
import dev.hapster.core.definition.section.QuerySection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.reason.ReasonCode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
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

    /** The tables of keys are those of the code; with {@code -Dhapster.write-docs=true} they are written. */
    @Test
    void theTablesOfKeysAreThoseOfTheCode() throws IOException {
        Map<String, String> tables = new LinkedHashMap<>();
        tables.put("column", DatasetSection.Column.SECTION.table());
        tables.put("dataset", DatasetSection.SECTION.table());
        tables.put("retain", DatasetSection.Keep.SECTION.table());
        tables.put("deliver", DatasetSection.Deliver.SECTION.table());
        tables.put("table", DatasetSection.Table.SECTION.table());
        tables.put("account", AccountSection.Account.SECTION.table());
        tables.put("postgresql", AccountSection.Postgresql.SECTION.table());
        tables.put("secret", AccountSection.Secret.SECTION.table());
        tables.put("job", JobSection.SECTION.table());
        tables.put("place", PlaceSection.SECTION.table());
        tables.put("list", PlaceSection.Listed.SECTION.table());
        tables.put("read", ReadSection.SECTION.table());
        tables.put("mapping", MappingSection.SECTION.table());
        tables.put("duplicates", JobSection.Duplicate.SECTION.table());
        tables.put("rejects", JobSection.Limit.SECTION.table());
        tables.put("when", JobSection.Starts.SECTION.table());
        tables.put("due", DueSection.SECTION.table());
        tables.put("notify", NotifySection.SECTION.table());
        tables.put("sftp", AccountSection.Sftp.SECTION.table());
        tables.put("s3", AccountSection.S3.SECTION.table());
        tables.put("mail", AccountSection.Mail.SECTION.table());
        tables.put("http", AccountSection.Web.SECTION.table());
        tables.put("route", JobSection.Route.SECTION.table());
        tables.put(
                "types",
                table(
                        "type | holds | in Parquet",
                        ColumnType.Kind.values(),
                        kind -> "`" + kind.form() + "` | " + kind.holds() + " | " + kind.inParquet()));
        tables.put(
                "loads",
                table(
                        "word | a second run",
                        Handling.Load.values(),
                        load -> "`" + load.word() + "` | " + load.secondRun()));
        keyTables("docs/definitions.md", tables);
        keyTables("docs/schedules.md", Map.of("faults", JobSection.Faults.SECTION.table()));
        keyTables("docs/queries.md", Map.of("query", QuerySection.SECTION.table()));
    }

    private static void keyTables(String name, Map<String, String> tables) throws IOException {
        Path document = ROOT.resolve(name);
        String text = Files.readString(document);
        Matcher place = Pattern.compile("(<!-- keys: (\\w+) -->\n).*?\n(<!-- end of keys -->)", Pattern.DOTALL)
                .matcher(text);
        List<String> found = new ArrayList<>();
        String right = place.replaceAll(match -> {
            found.add(match.group(2));
            return Matcher.quoteReplacement(match.group(1) + "\n" + tables.get(match.group(2)) + "\n" + match.group(3));
        });
        assertThat(found).containsExactlyInAnyOrderElementsOf(tables.keySet());
        if (Boolean.getBoolean("hapster.write-docs")) {
            Files.writeString(document, right);
        }
        assertThat(plain(Files.readString(document))).isEqualTo(plain(right));
    }

    private static <E> String table(String head, E[] all, Function<E, String> row) {
        String line = head.replaceAll("[^|]+", " --- ");
        return "| " + head + " |\n|" + line + "|\n"
                + Arrays.stream(all).map(one -> "| " + row.apply(one) + " |\n").collect(Collectors.joining());
    }

    /** A text without what formatters add to tables, and without their way of marking emphasis. */
    private static String plain(String text) {
        return text.replaceAll("-{3,}", "---").replaceAll(" +", " ");
    }

    @ParameterizedTest
    @CsvSource({"README.md, 2", "docs/definitions.md, 3"})
    void theExamplesAreGoodDefinitions(String document, int count) throws IOException, DefinitionException {
        List<String> examples = new ArrayList<>();
        Matcher block =
                Pattern.compile("```yaml\n(.*?)```", Pattern.DOTALL).matcher(Files.readString(ROOT.resolve(document)));
        while (block.find()) {
            if (block.group(1).startsWith("accounts:")) {
                assertThat(Definitions.accounts("accounts.yaml", block.group(1)))
                        .isNotEmpty();
            } else {
                examples.add(block.group(1));
            }
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
                "docs/queries.md",
                "docs/programs.md",
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
