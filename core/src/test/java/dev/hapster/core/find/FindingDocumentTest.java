package dev.hapster.core.find;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.Values;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.find.Listing.Entry;
import dev.hapster.core.pattern.ByteSize;
import dev.hapster.core.read.text.NameColumn;
import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;
import org.junit.jupiter.api.io.TempDir;

/** The examples of docs/finding.md do what the page says, in a folder as it describes it. */
class FindingDocumentTest {

    private static final Clock CLOCK = Clock.fixed(Instant.parse("2026-03-15T12:00:00Z"), ZoneOffset.UTC);

    @TempDir
    private Path workspace;

    private final Map<String, Instant> created = new HashMap<>();

    @TestFactory
    Stream<DynamicTest> theExamplesTakeWhatThePageSays() throws Exception {
        String page = Files.readString(Path.of("../docs/finding.md"));
        for (MatchResult row : all(
                "(?m)^\\| (\\S[^|\n]*?) +\\| (\\d[^|\n]*?) +\\| (\\d{4}-\\d{2}-\\d{2}) +\\| (\\d{4}-\\d{2}-\\d{2}) +\\|$",
                page)) {
            created.put(row.group(1), nine(row.group(3)));
            file(row.group(1), ByteSize.parse(row.group(2)), nine(row.group(4)));
        }
        assertThat(created).hasSize(9);
        for (MatchResult list : all("```text (\\S+)\n(.*?)```", page)) {
            Files.createDirectories(workspace.resolve(list.group(1)).getParent());
            Files.writeString(workspace.resolve(list.group(1)), list.group(2));
        }
        Map<String, String> values = Definitions.values(
                "values.yaml", all("```yaml values\n(.*?)```", page).get(0).group(1));
        List<DynamicTest> tests = new ArrayList<>();
        for (MatchResult example : all("```yaml\n(.*?)```\n\n```\n(.*?)```", page)) {
            String rules = example.group(1);
            List<String> expected =
                    example.group(2).lines().filter(line -> !line.isBlank()).toList();
            tests.add(DynamicTest.dynamicTest(
                    rules.strip().replace("\n", "; "),
                    () -> assertThat(found(rules, values, expected)).containsExactlyInAnyOrderElementsOf(expected)));
        }
        assertThat(tests).hasSize(20);
        return tests.stream();
    }

    private static List<MatchResult> all(String pattern, String text) {
        return Pattern.compile(pattern, Pattern.DOTALL).matcher(text).results().toList();
    }

    private static Instant nine(String day) {
        return LocalDate.parse(day).atTime(9, 0).toInstant(ZoneOffset.UTC);
    }

    private void file(String name, long size, Instant modified) throws IOException {
        Path file = workspace.resolve("in").resolve(name);
        Files.createDirectories(file.getParent());
        try (RandomAccessFile sized = new RandomAccessFile(file.toFile(), "rw")) {
            sized.setLength(size);
        }
        Files.setLastModifiedTime(file, FileTime.from(modified));
    }

    /** In the marks of the page; files that are skipped are only shown where it shows some. */
    private List<String> found(String rules, Map<String, String> values, List<String> expected) throws Exception {
        DatasetDef dataset = TestJobs.dataset("{name: a, type: text}");
        Place place = Definitions.job(
                        "jobs/page.yaml",
                        "job: page\ninto: samples\nfind:\n  - folder: in\n" + rules.indent(4),
                        name -> Optional.of(dataset),
                        Set.of("samples"),
                        Values.of(values, Map.of(), Map.of(), CLOCK))
                .find()
                .get(0);
        Finder finder =
                new Finder(workspace, Roots.of(List.of(workspace)), FindingDocumentTest::names, Nothing.INSIDE, CLOCK);
        return finder.sift(Map.of(1, place), one -> aged(finder.list(one))).candidates().stream()
                .map(FindingDocumentTest::shown)
                .filter(line -> line.charAt(0) != '-' || expected.contains(line))
                .toList();
    }

    private static List<NameLists.Listed> names(Path file, dev.hapster.core.definition.NameList list)
            throws IOException {
        List<NameLists.Listed> names = new ArrayList<>();
        NameColumn.read(Files.newInputStream(file), list, (line, name) -> names.add(new NameLists.Listed(line, name)));
        return names;
    }

    /** Nobody can set when a file came into being, so the page's word is put in. */
    private Listing aged(Listing listing) {
        return new Listing(
                listing.entries.stream()
                        .map(entry -> new Entry(
                                entry.path(),
                                entry.real(),
                                entry.relative(),
                                entry.size(),
                                entry.modified(),
                                BirthTime.known(created.get(entry.relative())),
                                entry.unusable()))
                        .toList(),
                listing.troubles,
                listing.open,
                listing.listed,
                listing.at());
    }

    private static String shown(Candidate file) {
        String facts = file.facts().entrySet().stream()
                .map(fact -> fact.getKey() + "=" + fact.getValue().text())
                .collect(Collectors.joining(" "));
        return file.waiting()
                .map(why -> "~ " + file.relative() + "  " + why.sentence())
                .orElse(
                        !file.taken()
                                ? "- " + file.relative() + "  " + file.rule()
                                : "+ " + file.relative() + (facts.isEmpty() ? "" : "  " + facts));
    }
}
