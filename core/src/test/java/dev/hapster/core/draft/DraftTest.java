package dev.hapster.core.draft;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.catalogue.MemoryCatalogue;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.draft.Draft.ColumnDraft;
import dev.hapster.core.draft.Draft.JobDraft;
import dev.hapster.core.draft.DraftRequest.Choice;
import dev.hapster.core.draft.reading.ReadChoice;
import dev.hapster.core.find.Roots;
import dev.hapster.core.run.Runner;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Random;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.IntFunction;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Folders of files, and the definitions that a person who knows them would write. */
class DraftTest {

    private static final int FOLDERS = 60;
    private static final Path UNICODE = Path.of("/usr/share/unicode");
    private static final Path ISO = Path.of("/usr/share/iso-codes/json");

    @TempDir
    private Path folder;

    private final ExecutorService workers = Executors.newFixedThreadPool(2);

    @AfterEach
    void close() {
        workers.shutdownNow();
    }

    private Drafting drafting;

    @BeforeEach
    void open() throws IOException {
        Files.createDirectories(folder.resolve("jobs"));
        Files.createDirectories(folder.resolve("datasets"));
        drafting = drafting(workers);
    }

    private Drafting drafting(ExecutorService threads) throws IOException {
        return drafting(folder, threads, List.of(UNICODE, ISO));
    }

    /** A workspace that may also read other folders, as far as they are there. */
    static Drafting drafting(Path folder, ExecutorService threads, List<Path> others) throws IOException {
        List<Path> roots = new ArrayList<>(List.of(folder));
        others.stream().filter(Files::isDirectory).forEach(roots::add);
        Workspace workspace = new Workspace(folder);
        Runner runner = new Runner(
                workspace,
                Roots.of(roots),
                new PartStore(folder.resolve("store")),
                new RejectStore(folder.resolve("store")),
                new MemoryCatalogue(() -> 1L),
                threads,
                Clock.systemUTC());
        return new Drafting(workspace, runner, threads);
    }

    static DraftRequest request(Path... paths) {
        return new DraftRequest(
                List.of(paths), Optional.empty(), Optional.empty(), false, false, ReadChoice.NONE, Map.of());
    }

    private Path write(String name, String text) throws IOException {
        return write(name, text.getBytes(StandardCharsets.UTF_8));
    }

    private Path write(String name, byte[] bytes) throws IOException {
        Files.createDirectories(folder.resolve(name).getParent());
        return Files.write(folder.resolve(name), bytes);
    }

    // what a person would write

    /** A column as somebody exports it, and what an expert would say of it. */
    private record Kind(String said, IntFunction<String> value) {}

    private static DateTimeFormatter written(String pattern) {
        return DateTimeFormatter.ofPattern(pattern.replace("y", "u"), Locale.ENGLISH);
    }

    private static Kind date(String type, String pattern) {
        DateTimeFormatter form = written(pattern);
        boolean iso = pattern.startsWith("yyyy-MM-dd") && !pattern.contains("'T'HHmm");
        return new Kind(
                type + (iso ? "" : " pattern: " + pattern),
                i -> form.format(LocalDateTime.of(2025, 1, 1, 3, 4, 5).plusHours(31L * i)));
    }

    private static List<Kind> kinds(boolean comma) {
        String mark = comma ? "," : ".";
        String decimals = comma ? " decimal: ," : "";
        return List.of(
                new Kind("integer", i -> String.valueOf(i * 7 - 50)),
                new Kind("text", i -> String.format("%05d", i * 37 % 90_000)),
                new Kind("text", i -> "K" + (1000 + i)),
                new Kind("decimal" + decimals, i -> (i % 13) + mark + (10 + i % 80)),
                new Kind(
                        "decimal" + decimals + " thousands: " + (comma ? "." : ","),
                        i -> (1 + i % 9) + (comma ? "." : ",") + "234" + mark + (10 + i % 80)),
                date("date", "dd.MM.yyyy"),
                date("date", "yyyy-MM-dd"),
                date("date", "yyyyMMdd"),
                date("date", "MM/dd/yyyy"),
                date("date", "d-MMM-yyyy"),
                date("timestamp", "dd.MM.yyyy HH:mm"),
                date("timestamp", "yyyy-MM-dd HH:mm:ss"),
                date("timestamp", "M/d/yyyy h:mm a"),
                new Kind("time", i -> written("HH:mm")
                        .format(LocalDateTime.of(2025, 1, 1, 3, 4).plusHours(31L * i))),
                new Kind("boolean", i -> i % 3 == 0 ? "true" : "false"),
                new Kind("boolean true_as: ja", i -> i % 3 == 0 ? "ja" : "nein"),
                new Kind("text", i -> List.of("red", "green", "blue").get(i % 3)),
                new Kind("text", i -> "Some words about row " + i + ", and \"more\" of them; really"),
                new Kind("text", i -> "user" + i + "@example.org"),
                new Kind("text", i -> "10.0." + i % 250 + "." + (i % 7)),
                new Kind("text", i -> "+43 1 " + (100_000 + i)),
                new Kind("double", i -> (1 + i % 9) + ".5e-" + (1 + i % 5)),
                new Kind("timestamp pattern: epoch", i -> String.valueOf(1_735_700_000L + i * 3600L)));
    }

    private record Wanted(String header, String said, boolean required) {}

    private static String quoted(String value, char separator) {
        return value.indexOf(separator) >= 0 || value.indexOf('"') >= 0
                ? '"' + value.replace("\"", "\"\"") + '"'
                : value;
    }

    @Test
    void draftsAreWhatAnExpertWouldWrite() throws Exception {
        int columns = 0;
        int right = 0;
        List<String> wrong = new ArrayList<>();
        for (int n = 0; n < FOLDERS; n++) {
            Random random = new Random(n);
            char separator = ",;\t|".charAt(n % 4);
            Charset charset = n % 3 == 0 ? Charset.forName("windows-1252") : StandardCharsets.UTF_8;
            int above = n % 5 == 4 ? 1 + n % 3 : 0;
            boolean header = n % 7 != 6;
            List<Kind> all = new ArrayList<>(kinds(separator != ',' && n % 2 == 1));
            Collections.shuffle(all, random);
            List<Kind> kinds = all.subList(0, 6);
            List<Wanted> wanted = new ArrayList<>();
            List<String> names = new ArrayList<>(List.of("Gerät Nr."));
            wanted.add(new Wanted("Gerät Nr.", "text", true));
            for (int i = 0; i < kinds.size(); i++) {
                String name = List.of("Menge", "Wert (mg/l)", "Taken At", "code", "Straße", "Remark")
                        .get(i);
                names.add(name);
                wanted.add(new Wanted(
                        name,
                        kinds.get(i).said + (i == 3 && !kinds.get(i).said.equals("text") ? " empty_as: n/a" : ""),
                        i > 1 && (i != 3 || kinds.get(i).said.equals("text"))));
            }
            for (int file = 0; file < 1 + n % 3; file++) {
                StringBuilder text = new StringBuilder();
                for (int i = 0; i < above; i++) {
                    text.append("Measured by nobody in particular").append('\n');
                }
                if (header) {
                    text.append(names.stream()
                                    .map(name -> quoted(name, separator))
                                    .collect(Collectors.joining("" + separator)))
                            .append('\n');
                }
                for (int row = 0; row < 120; row++) {
                    int at = file * 120 + row;
                    StringBuilder line = new StringBuilder("Größe-" + (at % 90 + 10));
                    for (int i = 0; i < kinds.size(); i++) {
                        String value = kinds.get(i).value.apply(at);
                        boolean empty = (i == 0 && row % 11 == 3) || (i == 1 && row % 4 == 1);
                        boolean none =
                                i == 3 && row % 17 == 5 && !kinds.get(i).said.equals("text");
                        line.append(separator).append(empty ? "" : none ? "n/a" : quoted(value, separator));
                    }
                    text.append(line).append('\n');
                }
                write(
                        "c" + n + "/list-2025-0" + (file + 1) + ".csv",
                        text.toString().getBytes(charset));
            }
            Draft draft = drafting.draft(request(folder.resolve("c" + n)));
            assertThat(draft.jobs()).as("folder " + n + " " + draft.notTaken()).hasSize(1);
            JobDraft job = draft.jobs().get(0);
            String about = "folder " + n + "\n" + job.text();
            assertThat(job.text()).as(about).contains("separator: \"" + (separator == '\t' ? "\\t" : separator) + '"');
            assertThat(job.text().contains("encoding: windows-1252")).as(about).isEqualTo(n % 3 == 0);
            assertThat(job.text().contains("lines_above: " + above)).as(about).isEqualTo(above > 0);
            assertThat(job.text().contains("  names: ")).as(about).isEqualTo(!header);
            assertThat(job.text()).contains("list-{month:yyyy-MM}.csv");
            assertThat(job.rejected()).as(about + job.rejects()).isZero();
            for (int i = 0; i < wanted.size(); i++) {
                columns++;
                ColumnDraft found = job.columns().get(i);
                String said = said(found);
                if (said.equals(wanted.get(i).said)
                        && found.required() == wanted.get(i).required
                        && (!header || found.from().equals(List.of(wanted.get(i).header)))) {
                    right++;
                } else {
                    wrong.add("folder " + n + " " + wanted.get(i) + " but was " + said + " " + found);
                }
            }
        }
        System.out.println("drafts: " + right + " of " + columns + " columns as an expert would write them");
        wrong.forEach(System.out::println);
        assertThat(right * 100).isGreaterThanOrEqualTo(columns * 95);
    }

    /** Kind of type, and what its mapping says of reading. */
    private static String said(ColumnDraft column) {
        StringBuilder said = new StringBuilder(column.type().replaceAll("\\(.*", ""));
        String mapping = column.mapping().replaceAll("[{}\"\\[\\]]", "").replaceAll("from: [^,]*?(, |$)", "");
        for (String key : List.of("pattern", "decimal", "thousands", "true_as", "empty_as")) {
            int at = mapping.indexOf(key + ": ");
            if (at >= 0) {
                String rest = mapping.substring(at + key.length() + 2).replaceAll(", [a-z_]+: .*", "");
                said.append(' ').append(key).append(": ").append(key.equals("empty_as") ? "n/a" : rest.strip());
            }
        }
        return said.toString();
    }

    @Test
    void whatADraftSaysOfItsOwnFilesHolds() throws Exception {
        Random random = new Random(11);
        for (int n = 0; n < 40; n++) {
            int width = 1 + random.nextInt(8);
            StringBuilder text = new StringBuilder(
                    IntStream.range(0, width).mapToObj(i -> "c" + i).collect(Collectors.joining(",")) + "\n");
            for (int row = 0; row < 1 + random.nextInt(300); row++) {
                text.append(IntStream.range(0, width)
                                .mapToObj(i -> anything(random, i))
                                .collect(Collectors.joining(",")))
                        .append('\n');
            }
            Path at = write("p" + n + "/x.csv", text.toString());
            Draft draft = drafting.draft(request(at));
            for (JobDraft job : draft.jobs()) {
                assertThat(job.rejected() == 0 || !job.rejects().isEmpty())
                        .as(text + job.text())
                        .isTrue();
                long doubted = job.columns().stream()
                        .filter(column -> column.doubts().toString().contains("would be rejected"))
                        .count();
                if (doubted == 0 && !job.rejects().toString().contains("not a valid")) {
                    assertThat(job.rejects()).as(text + job.text()).isEmpty();
                }
            }
        }
    }

    private static String anything(Random random, int column) {
        return switch ((column * 7 + random.nextInt(20) / 19) % 9) {
            case 0 -> String.valueOf(random.nextInt());
            case 1 -> random.nextInt(100) + "." + random.nextInt(1000);
            case 2 -> "";
            case 3 -> Long.toString(random.nextLong(), 36);
            case 4 ->
                String.format(
                        "%02d.%02d.%d", 1 + random.nextInt(28), 1 + random.nextInt(12), 1900 + random.nextInt(200));
            case 5 -> random.nextBoolean() ? "yes" : "no";
            case 6 -> "\"" + random.nextInt(9) + ", \"\"x\"\"\"";
            case 7 -> String.format("%04d", random.nextInt(10_000));
            default -> random.nextInt(24) + ":" + (10 + random.nextInt(50));
        };
    }

    @Test
    void theSameFolderGivesTheSameDraft() throws Exception {
        for (int i = 0; i < 12; i++) {
            write(
                    "s/part-" + i + ".csv",
                    "id,value,at\n" + i + "," + (i % 4 == 0 ? "x" : i) + ",0" + (1 + i % 9) + "/0" + (1 + i % 8)
                            + "/2026\n");
        }
        List<Path> files = new ArrayList<>();
        for (int i = 11; i >= 0; i--) {
            files.add(folder.resolve("s/part-" + i + ".csv"));
        }
        Draft first = drafting.draft(request(files.toArray(Path[]::new)));
        Collections.shuffle(files, new Random(3));
        ExecutorService one = Executors.newSingleThreadExecutor();
        try {
            assertThat(drafting(one).draft(request(files.toArray(Path[]::new)))).isEqualTo(first);
        } finally {
            one.shutdownNow();
        }
        assertThat(first.jobs().get(0).columns().get(1).why())
                .startsWith(
                        "text, because 3 of 12 files hold letters here (part-0.csv:2 \"x\"); the other 9 would be integer");
    }

    @Test
    void whatCannotBeDraftedIsSaid() throws Exception {
        Files.createDirectories(folder.resolve("none"));
        Draft none = drafting.draft(request(folder.resolve("none")));
        assertThat(none.jobs()).isEmpty();
        assertThat(none.looked()).isEqualTo("No file that Hapster can read lies there.");

        byte[] junk = new byte[100_000];
        new Random(1).nextBytes(junk);
        write("bad/junk.bin", junk);
        write("bad/empty.csv", "");
        write("bad/page.csv", "<!DOCTYPE html><html><body>Not found</body></html>");
        write("bad/one-line.csv", "x,".repeat(600_000));
        write("bad/names.csv", "a,,a,b\n" + "1,2,3,4\n".repeat(30));
        write(
                "bad/wide.csv",
                IntStream.range(0, 10_000).mapToObj(i -> "w" + i).collect(Collectors.joining(",")) + "\n"
                        + "1,".repeat(9_999) + "1\n");
        Draft bad = drafting.draft(request(folder.resolve("bad")));
        assertThat(bad.notTaken())
                .extracting(Draft.NotTaken::file)
                .contains("junk.bin", "empty.csv", "page.csv", "one-line.csv", "wide.csv");
        assertThat(bad.notTaken()).allSatisfy(left -> assertThat(left.why()).isNotBlank());
        JobDraft names = bad.jobs().stream()
                .filter(job -> job.names().contains("names.csv"))
                .findFirst()
                .orElseThrow();
        assertThat(names.text()).contains("names: [\"a\", \"column_2\", \"a_2\", \"b\"]", "lines_above: 1");
        assertThat(names.rejected()).isZero();
        assertThatThrownBy(() -> drafting.draft(request(folder.resolve("nowhere"))))
                .hasMessageContaining("There is no file and no folder");
    }

    @Test
    void filesThatNeedOtherSettingsGetJobsOfTheirOwn() throws Exception {
        for (int i = 0; i < 3; i++) {
            write(
                    "m/de-" + i + ".csv",
                    ("id;wert;name\n" + "1;1,5;Jörg\n2;2,5;Eva\n".repeat(30))
                            .getBytes(Charset.forName("windows-1252")));
        }
        write("m/en-1.csv", "id,wert,name\n" + "1,1.5,Jörg\n2,2.5,Eva\n".repeat(30));
        Draft draft = drafting.draft(request(folder.resolve("m")));
        assertThat(draft.datasets()).hasSize(1);
        assertThat(draft.jobs()).hasSize(2);
        assertThat(draft.jobs())
                .extracting(JobDraft::into)
                .containsOnly(draft.datasets().get(0).name());
        assertThat(draft.jobs().get(0).text()).contains("windows-1252", "decimal: \",\"", "de-*.csv");
        assertThat(draft.jobs().get(1).text()).doesNotContain("windows-1252").contains("separator: \",\"");
        assertThat(draft.jobs()).allSatisfy(job -> assertThat(job.rejected()).isZero());
    }

    @Test
    void filesThatDifferOnlyInTheirEncodingShareAJob() throws Exception {
        String text = "id,name\n" + "1,Jörg\n2,Eva\n".repeat(30);
        write("e/a.csv", text.getBytes(Charset.forName("windows-1252")));
        write("e/b.csv", text);
        write("e/c.csv", "id,name\n" + "3,Ute\n".repeat(30));
        JobDraft job = drafting.draft(request(folder.resolve("e"))).jobs().get(0);
        assertThat(job.text()).contains("encoding: [\"utf-8\", \"windows-1252\"]");
        assertThat(job.files()).isEqualTo(3);
        assertThat(job.rejected()).as(job.rejects().toString()).isZero();
        assertThat(job.reading())
                .extracting(evidence -> evidence.what() + ": " + evidence.why())
                .anySatisfy(why -> assertThat(why).startsWith("encoding: in a.csv byte"))
                .anySatisfy(why -> assertThat(why).startsWith("encoding: in b.csv all bytes"));
    }

    @Test
    void oneColumnUnderTwoNamesIsProposedAsOne() throws Exception {
        write("o/a.csv", "id,site,value\n" + rows());
        write("o/b.csv", "id,station,value\n" + rows());
        JobDraft job = drafting.draft(request(folder.resolve("o"))).jobs().get(0);
        assertThat(job.text()).contains("site: {from: [\"site\", \"station\"]}");
        assertThat(job.columns().get(1).doubts()).singleElement().asString().contains("look like one column");
        assertThat(job.rejected()).isZero();
    }

    private static String rows() {
        return IntStream.range(0, 60)
                .mapToObj(i -> i + ",VS-00" + i % 5 + "," + i + ".5\n")
                .collect(Collectors.joining());
    }

    @Test
    void whatPeopleDecideOfReadingIsTakenAndTheRestFollows() throws Exception {
        Path file = write("r/a.txt", "made by hand\nid;1,5\n" + "A;2,5\nB;3,5\n".repeat(20));
        DraftRequest wanted = new DraftRequest(
                List.of(file),
                Optional.empty(),
                Optional.empty(),
                false,
                false,
                new ReadChoice(
                        Optional.of(","),
                        Optional.of(StandardCharsets.ISO_8859_1),
                        Optional.of(false),
                        OptionalInt.of(1)),
                Map.of());
        JobDraft job = drafting.draft(wanted).jobs().get(0);
        assertThat(job.text()).contains("separator: \",\"", "encoding: iso-8859-1", "lines_above: 1", "names: [");
        assertThat(job.columns()).extracting(ColumnDraft::type).containsExactly("text", "integer");
        assertThat(job.rejected()).isZero();
        assertThat(job.reading())
                .extracting(evidence -> evidence.what() + ": " + evidence.why())
                .contains("header: as you chose", "encoding: as you chose");
        assertThat(drafting.draft(request(file)).jobs().get(0).text()).contains("separator: \";\"");
    }

    @Test
    void whatPeopleDecideIsKeptAndTheRestFollows() throws Exception {
        write(
                "d/x.csv",
                "No;Tag\n"
                        + IntStream.range(10, 40)
                                .mapToObj(i -> i + ";" + (1 + i % 28) + ".02.2026\n")
                                .collect(Collectors.joining()));
        Draft draft = drafting.draft(new DraftRequest(
                List.of(folder.resolve("d")),
                Optional.empty(),
                Optional.empty(),
                false,
                false,
                ReadChoice.NONE,
                Map.of(
                        "No",
                        new Choice(Optional.of("number"), Optional.empty(), Optional.empty(), Optional.empty()),
                        "Tag",
                        new Choice(
                                Optional.of("number"),
                                ColumnType.parse("text"),
                                Optional.of(false),
                                Optional.empty()))));
        assertThat(draft.datasets().get(0).text())
                .contains(
                        "{name: number, type: integer, required: true}",
                        "{name: number_2, type: text",
                        "key: [number]");
        assertThat(draft.jobs().get(0).text()).contains("number_2: Tag").doesNotContain("pattern");
        assertThat(draft.jobs().get(0).rejected()).isZero();
    }

    @Test
    void aDatasetThatExistsIsMatchedByNameAndByValues() throws Exception {
        write(
                "datasets/samples.yaml",
                "dataset: samples\nkey: [sample_id]\ncolumns:\n"
                        + "  - {name: sample_id, type: text, length: 12, required: true}\n"
                        + "  - {name: station, type: text, matches: \"VS-[0-9]{3}\", required: true}\n"
                        + "  - {name: day, type: date, required: true}\n"
                        + "  - {name: value, type: \"decimal(12,4)\"}\n");
        write(
                "i/x.csv",
                "Sample No.;Ort;Tag;Wert\n"
                        + IntStream.range(0, 60)
                                .mapToObj(i ->
                                        "N" + i + ";vs-00" + i % 5 + ";" + (10 + i % 18) + ".02.2026;" + i + ",5\n")
                                .collect(Collectors.joining()));
        JobDraft job = drafting.draft(new DraftRequest(
                        List.of(folder.resolve("i")),
                        Optional.of("samples"),
                        Optional.empty(),
                        false,
                        false,
                        ReadChoice.NONE,
                        Map.of()))
                .jobs()
                .get(0);
        assertThat(job.text())
                .contains(
                        "sample_id: Sample No.",
                        "station:   {from: Ort, clean: [upper]}",
                        "day:       {from: Tag, pattern: dd.MM.yyyy}",
                        "value:     {from: Wert, decimal: \",\"}");
        assertThat(job.rejected()).as(job.rejects().toString()).isZero();
    }

    @Test
    void realFilesOfOthersAreReadAsTheyAre() throws Exception {
        if (!Files.isDirectory(UNICODE) || !Files.isDirectory(ISO)) {
            return;
        }
        JobDraft unicode = drafting.draft(request(UNICODE.resolve("UnicodeData.txt")))
                .jobs()
                .get(0);
        assertThat(unicode.text()).contains("separator: \";\"", "names: [\"column_1\"");
        assertThat(unicode.rejected()).isZero();
        assertThat(unicode.columns()).hasSize(15);
        JobDraft iso =
                drafting.draft(request(ISO.resolve("iso_3166-2.json"))).jobs().get(0);
        assertThat(iso.text()).contains("rows: \"3166-2[]\"", "take: [\"iso_3166-2.json\"]");
        assertThat(iso.rejected()).isZero();
        assertThat(drafting.draft(request(ISO.resolve("iso_4217.json")))
                        .jobs()
                        .get(0)
                        .columns()
                        .get(2)
                        .why())
                .contains("as a number it would lose its zeros");
    }
}
