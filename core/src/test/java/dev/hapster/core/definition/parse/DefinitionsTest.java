package dev.hapster.core.definition.parse;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.networknt.schema.JsonSchema;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.TargetPattern;
import dev.hapster.core.definition.Values;
import dev.hapster.core.definition.explain.Schemas;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.schedule.Faults;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.snakeyaml.engine.v2.api.Load;
import org.snakeyaml.engine.v2.api.LoadSettings;

class DefinitionsTest {

    private static final Path DEMO = Path.of("../demo/src/main/resources/workspace");
    private static final String DATASET =
            """
            dataset: samples
            columns:
              - {name: id, type: text, required: true}
              - {name: taken, type: date}
              - {name: value, type: "decimal(8,2)", min: 0}
            """;

    private static JobDef job(String text) throws DefinitionException {
        DatasetDef dataset = Definitions.dataset("datasets/samples.yaml", DATASET);
        return Definitions.job(
                "jobs/north.yaml",
                text,
                name -> name.equals("samples") ? Optional.of(dataset) : Optional.empty(),
                Set.of("samples"));
    }

    private static final String PLACE = "job: north\ninto: samples\nfind: [{folder: '%s', take: '%s'}]\n";

    private static JobDef job(
            String text, Map<String, String> file, Map<String, String> environment, Map<String, String> call)
            throws DefinitionException {
        DatasetDef dataset = Definitions.dataset("datasets/samples.yaml", DATASET);
        return Definitions.job(
                "jobs/north.yaml",
                text,
                name -> Optional.of(dataset),
                Set.of("samples"),
                Values.of(file, environment, call, Clock.fixed(Instant.parse("2026-03-31T12:00:00Z"), ZoneOffset.UTC)));
    }

    @Test
    void valuesComeFromTheNearestThatGivesThemAndSayWhere() throws DefinitionException {
        String text = String.format(PLACE, "${inbox}/${lab}", "s-${month}-{date - 1 month:yyyyMM}.csv")
                + "values: {lab: north, month: '{date:yyyy-MM}'}\nmap: {id: {value: '$${lab} is ${lab}'}}\n";
        Map<String, String> file = Map.of("inbox", "in", "month", "never");
        assertThat(job(text, file, Map.of(), Map.of())).satisfies(job -> {
            assertThat(job.find().get(0).folder()).isEqualTo("in/north");
            assertThat(job.find().get(0).rules().get(0).words()).isEqualTo("take \"s-2026-03-202602.csv\"");
            assertThat(job.map().get("id")).isEqualTo(new JobDef.Mapping.Constant("${lab} is north"));
            assertThat(job.values())
                    .containsExactlyInAnyOrder(
                            new Values.Used("inbox", "in", "values.yaml"),
                            new Values.Used("lab", "north", "the job"),
                            new Values.Used("month", "2026-03", "the job"),
                            new Values.Used("date", "2026-03-31", "the run's date"));
        });
        assertThat(job(text, file, Map.of("HAPSTER_VALUE_LAB", "east", "LAB", "no"), Map.of())
                        .find()
                        .get(0)
                        .folder())
                .isEqualTo("in/east");
        JobDef called =
                job(text, file, Map.of("HAPSTER_VALUE_LAB", "east"), Map.of("lab", "south", "date", "2025-12-05"));
        assertThat(called.find().get(0).folder()).isEqualTo("in/south");
        assertThat(called.find().get(0).rules().get(0).words()).isEqualTo("take \"s-2025-12-202511.csv\"");
    }

    @Test
    void valuesThatCannotBePutInSayWhy() {
        assertThat(mistakes(String.format(PLACE, "${inbx}", "*") + "values: {inbox: in}\n"))
                .containsExactly("jobs/north.yaml:3:17  no value is known for ${inbx}. Did you mean ${inbox}? "
                        + "Give it with --set inbx=…, or write it under `values` in the job or in values.yaml");
        assertThat(mistakes(String.format(PLACE, "${a}", "*") + "values: {a: 'x${b}', b: '${a}'}\n"))
                .singleElement()
                .asString()
                .contains("the value of ${a} refers to itself, by way of a, b");
        assertThat(mistakes(String.format(PLACE, "in", "${ }")))
                .singleElement()
                .asString()
                .contains("'${ }' names no value");
        assertThat(mistakes(String.format(PLACE, "in", "{date:yyyyJJ}x")))
                .singleElement()
                .asString()
                .contains("jobs/north.yaml:3:29");
        assertThat(mistakes(String.format(PLACE, "in", "*") + "values: {a b: x}\n"))
                .singleElement()
                .asString()
                .contains("a value cannot be called 'a b'");
    }

    @Test
    void aFactMustBeYieldedByEveryPatternThatTakes() throws DefinitionException {
        String map = "map: {taken: {fact: month}}\n";
        assertThat(job(String.format(PLACE, "in", "s-{month:yyyy-MM}.csv") + map)
                        .usesFacts())
                .isTrue();
        assertThat(mistakes(
                        "job: north\ninto: samples\nfind: [{folder: in, take: ['s-{month:yyyy-MM}.csv', 'b-*.csv']}]\n"
                                + map))
                .singleElement()
                .asString()
                .startsWith(
                        "jobs/north.yaml:4:21  the pattern \"b-*.csv\" yields no 'month'. Put a piece {month} into it");
        assertThat(mistakes(String.format(PLACE, "in", "s-{mnth:yyyy-MM}.csv") + map))
                .singleElement()
                .asString()
                .endsWith("Did you mean 'mnth'?");
    }

    private static List<String> mistakes(String job) {
        return catchThrowableOfType(DefinitionException.class, () -> job(job)).problems().stream()
                .map(Problem::toString)
                .toList();
    }

    @Test
    void aJobIsReadWithAllItsRules() throws DefinitionException {
        JobDef job = job(
                """
                job: north
                into: samples
                find: [{folder: in, take: "*.csv", skip: ["*copy*"], depth: 2, size: {from: 1 kB, to: 10 MiB}, modified: last 7 days, rank: {keep: newest 3, per: folder}}]
                read: {separator: "\\t", encoding: windows-1252, lines_above: 3, empty_as: ["", "-"]}
                map:
                  id: Sample No.
                  taken: {from: Day, pattern: [dd.MM.yyyy, yyyyMMdd]}
                  value: {decimal: ",", thousands: ".", clean: [trim, {remove: mg}, {replace: {"<": ""}}]}
                """);

        assertThat(job.find()).singleElement().satisfies(place -> {
            assertThat(place.folder()).isEqualTo("in");
            assertThat(place.depth()).isEqualTo(2);
            assertThat(place.rules())
                    .extracting(FindRule::words)
                    .containsExactly(
                            "take \"*.csv\"",
                            "skip \"*copy*\"",
                            "size from 1 kB to 10 MiB",
                            "modified last 7 days",
                            "rank newest 3 per folder");
        });
        assertThat(job.read().get(ReadSection.SEPARATOR)).containsExactly("\t");
        assertThat(job.map().get("taken"))
                .isInstanceOfSatisfying(JobDef.Mapping.Source.class, source -> assertThat(source.patterns())
                        .containsExactly("dd.MM.yyyy", "yyyyMMdd"));
        assertThat(job.version()).matches("[0-9a-f]{12}");
    }

    @Test
    void allMistakesAreReportedAtOnceEachWithPlaceAndNearestWord() {
        assertThat(
                        mistakes(
                                """
                job: north
                into: sample
                find:
                  - folder: in
                    tke: ["*.csv"]
                    skip: ["[a"]
                read:
                  seperator: ";"
                  lines_above: many
                map:
                  idd: x
                """))
                .containsExactlyInAnyOrder(
                        "jobs/north.yaml:2:7  there is no dataset 'sample' (no file datasets/sample.yaml). Did "
                                + "you mean 'samples'?",
                        "jobs/north.yaml:5:5  unknown key 'tke'. Did you mean 'take'?",
                        "jobs/north.yaml:4:5  'take' is missing. Say which names to take, for example `take: "
                                + "[\"*.csv\"]`",
                        "jobs/north.yaml:6:12  '[' is never closed in [a",
                        "jobs/north.yaml:8:3  unknown key 'seperator'. Did you mean 'separator'?",
                        "jobs/north.yaml:9:16  'lines_above' must be a whole number from 0 to 1000000, not 'many'");
    }

    @Test
    void aMappingIsCheckedAgainstItsColumn() {
        assertThat(
                        mistakes(
                                """
                job: north
                into: samples
                find: [{folder: in, take: "*.csv"}]
                map:
                  vlaue: Result
                  id: {from: No, decimal: ","}
                  taken: {pattern: HH:mm}
                  value: {value: 3, clean: trim}
                """))
                .containsExactlyInAnyOrder(
                        "jobs/north.yaml:5:3  the dataset samples has no column 'vlaue'. Did you mean 'value'?",
                        "jobs/north.yaml:6:18  'decimal' goes with numbers with decimals; id is text",
                        "jobs/north.yaml:7:20  the pattern 'HH:mm' gives no whole day. Letters are yyyy, MM, "
                                + "dd, HH, mm, ss (CLDR)",
                        "jobs/north.yaml:8:21  'value' is the same in every row and stands alone; 'clean' does "
                                + "not go with it");
    }

    @Test
    void wrongRulesOfFindingSayWhatWouldBeRight() {
        assertThat(
                        mistakes(
                                """
                job: north
                into: samples
                find:
                  - folder: in
                    take: [{regex: "(a"}, {rgex: b}]
                    size: {from: 3 XB}
                    modified: last fortnight
                    rank: newest
                    zone: Europe/Wien
                """))
                .satisfiesExactlyInAnyOrder(
                        one -> assertThat(one)
                                .startsWith("jobs/north.yaml:5:12  '(a' is not a regular expression (RE2)"),
                        one -> assertThat(one)
                                .startsWith("jobs/north.yaml:5:28  unknown key 'rgex'. Did you mean 'regex'?"),
                        one -> assertThat(one).startsWith("jobs/north.yaml:6:18  '3 XB' is not a size. Write 500 B"),
                        one -> assertThat(one)
                                .startsWith(
                                        "jobs/north.yaml:7:15  'last fortnight' is not a time. Write `last 7 days`"),
                        one -> assertThat(one)
                                .startsWith("jobs/north.yaml:8:11  'newest' is not a rank. Write `newest 3`"),
                        one -> assertThat(one).startsWith("jobs/north.yaml:9:11  unknown time zone 'Europe/Wien'"));
    }

    @Test
    void alternativesThatWouldNeverBeUsedAndUnknownLanguagesAreMistakes() {
        assertThat(mistakes(String.format(PLACE, "in", "*") + "read: {encoding: [windows-1252, utf-8]}\n"))
                .singleElement()
                .asString()
                .contains("nearly all bytes are characters in windows-1252, so UTF-8 behind it would never be used");
        assertThat(mistakes(String.format(PLACE, "in", "*")
                        + "map: {taken: {from: x, pattern: d. MMMM yyyy, language: xx}}\n"))
                .singleElement()
                .asString()
                .contains("no names of months are known of a language 'xx'");
        assertThat(mistakes(
                        String.format(PLACE, "in", "*") + "map: {taken: {from: x, pattern: d.M.yyyy, language: de}}\n"))
                .singleElement()
                .asString()
                .contains("'language' goes with a pattern that holds names");
    }

    @Test
    void whatIsNotYamlSaysWhere() {
        assertThat(mistakes("job: north\n  into: [samples\n"))
                .singleElement()
                .asString()
                .startsWith("jobs/north.yaml:2:7  this is not YAML: ");
        assertThat(mistakes("")).containsExactly("jobs/north.yaml:1:1  the file is empty");
        assertThat(mistakes("- a\n- b\n"))
                .first()
                .asString()
                .startsWith("jobs/north.yaml:1:1  keys with values are expected here");
        assertThat(mistakes("a: &x [1]\nb: " + "[*x, *x, *x]\n".repeat(1))).isNotEmpty();
    }

    @Test
    void keysOfLaterVersionsAreRefusedNotIgnored() {
        assertThat(mistakes("job: north\ninto: samples\nfind: [{folder: in, take: a}]\nlater: {tries: 5}\n"))
                .singleElement()
                .asString()
                .startsWith("jobs/north.yaml:4:1  unknown key 'later'");
    }

    @Test
    void faultsSayHowOftenAndHowLongBetween() throws DefinitionException {
        String job = "job: north\ninto: samples\nfind: [{folder: in, take: a}]\n";
        assertThat(job(job + "faults: {}\n").faults())
                .contains(new Faults(3, Duration.ofSeconds(30), Duration.ofMinutes(10)));
        assertThat(job(job + "faults: {tries: 5, pause: 10s to 10 min}\n").faults())
                .contains(new Faults(5, Duration.ofSeconds(10), Duration.ofMinutes(10)));
        assertThat(mistakes(job + "faults: {tries: 1}\n"))
                .singleElement()
                .asString()
                .contains("tries");
        assertThat(mistakes(job + "faults: {pause: 10 min to 10s}\n"))
                .singleElement()
                .asString()
                .contains("from at least a second to at most a day");
        assertThat(mistakes(job + "faults: {pause: soon}\n"))
                .singleElement()
                .asString()
                .contains("'soon'");

        Faults faults = new Faults(4, Duration.ofSeconds(10), Duration.ofSeconds(25));
        assertThat(faults.pauseAfter(1)).contains(Duration.ofSeconds(10));
        assertThat(faults.pauseAfter(2)).contains(Duration.ofSeconds(20));
        assertThat(faults.pauseAfter(3)).contains(Duration.ofSeconds(25));
        assertThat(faults.pauseAfter(4)).isEmpty();
        assertThat(Faults.isPassing(new IOException("write: No space left on device")))
                .isTrue();
        assertThat(Faults.isPassing(new RuntimeException(new RemoteFault("a wrong key", false, null))))
                .isFalse();
        assertThat(Faults.isPassing(new RemoteFault("cut", true, new IOException())))
                .isTrue();
        assertThat(Faults.isPassing(new IOException("it is damaged"))).isFalse();
    }

    @Test
    void whatIsDoneWithRowsAndFilesIsReadAndItsMistakesNamed() throws Exception {
        String head = "job: north\ninto: samples\nfind: [{folder: in, take: 'a-{lab}.csv'}]\n";
        Handling handling = job(head
                        + """
                keep: "id != 'x'"
                duplicates: {by: [id], within: dataset, then: keep_first}
                commit: together
                rejects: {file_at: 5%, run_at: 3 files, unusual: reject}
                after:
                  loaded: {move: "done/{run:yyyy-MM}/{lab}", as: "{stem}-{run}{ending}"}
                  rejected: leave
                """)
                .handling();
        assertThat(handling.keep())
                .extracting(dev.hapster.core.expression.Expression::text)
                .containsExactly("id != 'x'");
        assertThat(handling.duplicates())
                .contains(new Handling.Duplicates(List.of("id"), Handling.Within.DATASET, Handling.Then.KEEP_FIRST));
        assertThat(handling.limits().fileAt().orElseThrow().reached(5, 100)).isTrue();
        assertThat(handling.limits().fileAt().orElseThrow().reached(4, 100)).isFalse();
        TargetPattern.Filling filling = new TargetPattern.Filling(
                "north",
                7,
                java.time.Instant.parse("2026-03-02T00:00:00Z"),
                "loaded",
                "a-x.csv",
                java.time.Instant.EPOCH,
                java.util.Map.of("lab", new dev.hapster.core.pattern.Fact("../x", Optional.empty())),
                java.time.ZoneId.of("UTC"));
        assertThat(handling.after().loaded().target().orElseThrow().folder(filling))
                .isEqualTo("done/2026-03/.._x");
        assertThat(handling.after().loaded().target().orElseThrow().name(filling))
                .isEqualTo("a-x-7.csv");

        assertThat(mistakes(head + "keep: \"idd != 'x'\"\n"))
                .singleElement()
                .asString()
                .startsWith("jobs/north.yaml:4:8  in 'keep': there is no 'idd'")
                .contains("Did you mean 'id'?");
        assertThat(mistakes(head + "keep: id > 3\n"))
                .singleElement()
                .asString()
                .startsWith("jobs/north.yaml:4:10  in 'keep': '>' does not go with a text and a whole number");
        assertThat(mistakes(head
                        + "load: updat\nrejects: {file_at: 5 files}\n"
                        + "after: {loaded: {move: 'x/{rum}'}}\nduplicates: {by: key}\n"
                        + "deleted: id == 'x'\n"))
                .hasSize(5)
                .anyMatch(line -> line.contains("'updat'"))
                .anyMatch(line -> line.contains("'5 files' is not a limit"))
                .anyMatch(line -> line.contains("{rum}") && line.contains("'run'"))
                .anyMatch(line -> line.contains("samples has none"));
        assertThat(mistakes(head + "load: replace\nafter: {loaded: delete}\n"))
                .singleElement()
                .asString()
                .contains("takes out the rows of files that are no longer there");
    }

    @Test
    void aDatasetsMistakesAreReportedAtOnce() {
        DefinitionException wrong = catchThrowableOfType(
                DefinitionException.class,
                () -> Definitions.dataset(
                        "datasets/samples.yaml",
                        """
                dataset: other
                columns:
                  - {name: _id, type: txt}
                  - {name: value, type: "decimal(50,2)", length: 3}
                  - {name: VALUE, type: integer, min: few}
                """));
        assertThat(wrong.problems()).extracting(Problem::line).containsExactlyInAnyOrder(1, 3, 3, 4, 5, 5);
        assertThat(wrong.getMessage())
                .contains("Did you mean 'text'?", "declared twice", "'few' is not a valid integer");
    }

    @Test
    void theSchemasAcceptTheDemoAndKnowNoOtherKeys() throws IOException {
        JsonSchema datasets = schema("dataset");
        JsonSchema jobs = schema("job");
        List<String> complaints = new ArrayList<>();
        try (Stream<Path> files = Files.walk(DEMO)) {
            for (Path file : files.filter(Files::isRegularFile)
                    .filter(file -> !file.endsWith("values.yaml"))
                    .toList()) {
                JsonNode node = new ObjectMapper()
                        .valueToTree(new Load(LoadSettings.builder().build()).loadFromString(Files.readString(file)));
                (file.getParent().endsWith("jobs") ? jobs : datasets)
                        .validate(node)
                        .forEach(complaint -> complaints.add(file + " " + complaint));
            }
        }
        assertThat(complaints).isEmpty();
        assertThat(jobs.validate(new ObjectMapper()
                        .readTree("{\"job\":\"a\",\"into\":\"b\",\"find\":[{\"folder\":\"x\",\"tke\":\"*\"}]}")))
                .isNotEmpty();
    }

    private static JsonSchema schema(String name) {
        return JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012)
                .getSchema(Schemas.of(name).orElseThrow());
    }
}
