package dev.hapster.core.find;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.Definitions;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.pattern.ByteSize;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;

/** The examples of docs/finding.md do what the page says. */
class FindingDocumentTest {

    private static final Instant NOW = Instant.parse("2026-03-15T12:00:00Z");

    @TestFactory
    Stream<DynamicTest> theExamplesTakeWhatThePageSays() throws Exception {
        String page = Files.readString(Path.of("../docs/finding.md"));
        List<Sifting.Entry> files = new ArrayList<>();
        Matcher row = Pattern.compile("(?m)^\\| (\\S.*?) \\| (\\d[^|]*?) \\| (\\d{4}-\\d{2}-\\d{2}) \\|$").matcher(page);
        while (row.find()) {
            files.add(new Sifting.Entry(Path.of("/in", row.group(1)), Path.of("/in", row.group(1)), row.group(1), ByteSize.parse(row.group(2)),
                    LocalDate.parse(row.group(3)).atTime(9, 0).toInstant(ZoneOffset.UTC), Optional.empty()));
        }
        assertThat(files).hasSize(8);
        List<DynamicTest> tests = new ArrayList<>();
        Matcher example = Pattern.compile("```yaml\n(.*?)```\n```\n(.*?)```", Pattern.DOTALL).matcher(page);
        while (example.find()) {
            String rules = example.group(1);
            List<String> expected = example.group(2).lines().toList();
            tests.add(DynamicTest.dynamicTest(rules.strip().replace("\n", "; "), () -> {
                Place place = place(rules);
                List<Sifting.Entry> listed = files.stream().filter(file -> file.relative().chars().filter(c -> c == '/').count() <= place.depth()).toList();
                Sifting sifting = new Sifting(1, place, listed);
                sifting.sift(NOW, new HashSet<>());
                assertThat(sifting.candidates().stream().filter(Candidate::taken).map(file -> "+ " + file.relative())).isEqualTo(expected);
            }));
        }
        assertThat(tests).hasSize(10);
        return tests.stream();
    }

    private static Place place(String rules) throws Exception {
        DatasetDef dataset = TestJobs.dataset("{name: a, type: text}");
        return Definitions.job("jobs/page.yaml", "job: page\ninto: samples\nfind:\n  - folder: in\n" + rules.indent(4), name -> Optional.of(dataset), Set.of("samples")).find().get(0);
    }
}
