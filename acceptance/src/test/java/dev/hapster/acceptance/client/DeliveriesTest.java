package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.core.crash.CrashPoint;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.dhatim.fastexcel.reader.Sheet;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Deliveries follow their dataset through runs, removals, undos, crashes and renamings, and touch nothing else. */
class DeliveriesTest {

    @TempDir
    private Path folder;

    private Path out;

    @BeforeEach
    void workspace() throws Exception {
        Workspaces.small(folder);
        deliver("{name: months, to: \"out/{day:yyyy-MM}-{file.stem}.csv\", columns: [id, value as n]}");
        write("a.csv", "a,2026-01-01,1\nb,2026-02-02,2\n");
        write("b.csv", "c,2026-02-03,3\nd,,4\n");
        out = folder.resolve("out");
    }

    private void deliver(String... deliveries) throws IOException {
        Workspaces.write(
                folder,
                "datasets/samples.yaml",
                Workspaces.DATASET + "deliver:\n"
                        + Stream.of(deliveries).map(one -> "  - " + one + "\n").collect(Collectors.joining()));
    }

    private void write(String name, String rows) throws IOException {
        Workspaces.write(folder, "in/" + name, "id,day,value\n" + rows);
    }

    /** What is delivered, by name. */
    private Map<String, String> delivered() throws IOException {
        Map<String, String> files = Workspaces.contents(out, StandardCharsets.ISO_8859_1);
        files.replaceAll((name, content) -> content.replace("\r\n", " ").strip());
        return files;
    }

    private static JsonNode last(TestService service, String delivery) {
        return service.get("/datasets/samples/deliveries/" + delivery)
                .path("delivery")
                .path("last");
    }

    /** Waits until a delivery was done because of an entry of the history. */
    private static JsonNode after(TestService service, String delivery, long entry) throws Exception {
        JsonNode last = last(service, delivery);
        for (int i = 0;
                i < 500
                        && (last.path("run").asLong() != entry
                                || last.path("endedAt").isMissingNode());
                i++) {
            Thread.sleep(20);
            last = last(service, delivery);
        }
        assertThat(last.path("run").asLong()).as(last.toString()).isEqualTo(entry);
        return last;
    }

    @Test
    void filesFollowTheDatasetAndNothingElseIsTouched() throws Exception {
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            assertThat(after(service, "months", 1).path("rows").asLong()).isEqualTo(4);
            Map<String, String> whole = Map.of(
                    "2026-01-a.csv", "id,n a,1",
                    "2026-02-a.csv", "id,n b,2",
                    "2026-02-b.csv", "id,n c,3",
                    "empty-b.csv", "id,n d,4");
            assertThat(delivered()).isEqualTo(whole);
            FileTime untouched = Files.getLastModifiedTime(out.resolve("2026-02-a.csv"));

            write("b.csv", "c,2026-02-03,30\n");
            service.run("small");
            JsonNode second = after(service, "months", 2);
            assertThat(second.path("written").asInt()).isEqualTo(1);
            assertThat(second.path("unchanged").asInt()).isEqualTo(2);
            assertThat(second.path("removed").asInt()).isEqualTo(1);
            assertThat(delivered()).containsEntry("2026-02-b.csv", "id,n c,30").hasSize(3);
            assertThat(Files.getLastModifiedTime(out.resolve("2026-02-a.csv"))).isEqualTo(untouched);

            service.run("small");
            assertThat(service.client("deliver", "samples", "months").out())
                    .contains("0 files written, 3 unchanged, 0 removed; 3 rows in all");
            service.post("/runs/2/undo");
            after(service, "months", 4);
            assertThat(delivered()).isEqualTo(whole);

            Files.delete(out.resolve("2026-01-a.csv"));
            assertThat(service.client("deliver", "samples", "months", "--try").out())
                    .containsPattern("out/2026-01-a.csv +written +1")
                    .contains("1 file would be written, 3 unchanged");
            assertThat(out.resolve("2026-01-a.csv")).doesNotExist();
            service.client("deliver", "samples", "months");
            assertThat(delivered()).as("what is gone is written again").isEqualTo(whole);
            String own = Integer.toHexString("samples/months".hashCode());
            Workspaces.write(folder, "out/.hapster-delivery-" + own + "-1.tmp", "half a file");
            service.client("deliver", "samples", "months");
            assertThat(delivered()).as("what was half written is removed").isEqualTo(whole);
        }
    }

    @Test
    void nothingIsReplacedThatIsNotItsOwn() throws Exception {
        Workspaces.write(folder, "out/2026-01-a.csv", "mine");
        try (TestService service = TestService.start(folder, "-Dhapster.delivery-pause=300")) {
            service.run("small");
            JsonNode failed = after(service, "months", 1);
            assertThat(failed.path("failure").asText())
                    .contains("1 file is there already, and not from this delivery", "Nothing was written");
            assertThat(delivered()).isEqualTo(Map.of("2026-01-a.csv", "mine"));
            assertThat(service.get("/store").path("deliveries").toString())
                    .contains("The delivery months of samples failed", "hapster deliver samples months");
            assertThat(service.client("deliver", "samples").status()).isEqualTo(1);

            Files.delete(out.resolve("2026-01-a.csv"));
            for (int i = 0;
                    i < 500 && !last(service, "months").path("state").asText().equals("done");
                    i++) {
                Thread.sleep(20);
            }
            assertThat(delivered()).as("it was tried again").hasSize(4);
            assertThat(service.get("/store").path("deliveries")).isEmpty();

            Files.writeString(out.resolve("empty-b.csv"), "changed by hand");
            write("b.csv", "c,2026-02-03,30\n");
            service.run("small");
            JsonNode left = after(service, "months", 2);
            assertThat(left.path("notes").toString()).as(left.toString()).contains("empty-b.csv", "it is left");
            assertThat(delivered()).containsEntry("empty-b.csv", "changed by hand");
            Files.writeString(out.resolve("2026-02-a.csv"), "changed by hand");
            assertThat(service.client("deliver", "samples", "months").err())
                    .contains("1 file is no longer as the delivery wrote", "2026-02-a.csv");
            deliver("{name: loop, to: in/out.csv}", "{name: outside, to: /etc/out.csv}", "{name: own, to: jobs/x.csv}");
            assertThat(service.client("deliver", "samples", "loop").err())
                    .contains("would be found and loaded by the job small");
            assertThat(service.client("deliver", "samples", "outside").err()).contains("lies outside the folders");
            assertThat(service.client("deliver", "samples", "own").err()).contains("Hapster's own");
            assertThat(service.client("deliver", "samples").out()).contains("not declared any more");
            deliver("{name: months, to: \"out/{dayy:yyyy}.csv\"}");
            assertThat(service.client("datasets").out()
                            + service.client("deliver", "samples").err())
                    .contains("there is no column 'dayy'", "Did you mean 'day'?");
        }
    }

    @Test
    void aLostCatalogueAndARenamedDatasetKeepTheirFiles() throws Exception {
        Map<String, String> before;
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            after(service, "months", 1);
            before = delivered();
        }
        Files.delete(folder.resolve("store/catalogue.mv.db"));
        try (TestService service = TestService.start(folder)) {
            assertThat(service.client("verify", "--rebuild").status()).isZero();
            assertThat(service.client("deliver", "samples", "months").out())
                    .contains("0 files written, 4 unchanged, 0 removed");
            assertThat(service.client("datasets", "rename", "samples", "probes").status())
                    .isZero();
            assertThat(service.client("deliver", "probes", "months").out()).contains("0 removed; 4 rows in all");
            write("b.csv", "c,2026-02-03,30\n");
            long run = service.run("small").path("run").asLong();
            for (int i = 0; i < 500 && delivered().equals(before); i++) {
                Thread.sleep(20);
            }
            assertThat(service.client("deliver", "probes", "months").out()).contains("3 unchanged, 0 removed");
            assertThat(delivered()).as("after run " + run).hasSize(3).containsEntry("2026-02-b.csv", "id,n c,30");
        }
    }

    @ParameterizedTest
    @EnumSource(
            value = CrashPoint.class,
            names = {"DELIVERY_WRITTEN", "DELIVERY_NAMED"})
    void whatWasCutOffIsWholeAfterwards(CrashPoint moment, @TempDir Path pauses) throws Exception {
        try (TestService service = TestService.start(folder, "-Dhapster.pauses=" + pauses)) {
            service.run("small");
            after(service, "months", 1);
            write("a.csv", "a,2026-01-01,10\nb,2026-02-02,20\n");
            service.runUpTo(moment, "small", pauses);
            service.kill();
            try (Stream<Path> names = Files.list(out)) {
                assertThat(names.map(Path::getFileName).map(Path::toString).toList())
                        .contains("2026-01-a.csv", "2026-02-a.csv", "2026-02-b.csv");
            }
            Files.delete(pauses.resolve(moment + ".reached"));
            service.startAgain();
            for (int i = 0; i < 500 && !"id,n b,20".equals(delivered().get("2026-02-a.csv")); i++) {
                Thread.sleep(20);
            }
            assertThat(service.client("deliver", "samples", "months").out()).contains("4 unchanged, 0 removed; 4 rows");
            assertThat(delivered())
                    .as("and no draft is left")
                    .isEqualTo(Map.of(
                            "2026-01-a.csv", "id,n a,10",
                            "2026-02-a.csv", "id,n b,20",
                            "2026-02-b.csv", "id,n c,3",
                            "empty-b.csv", "id,n d,4"));
        }
    }

    @Test
    void everyFormatIsSplitSortedAndSaid() throws Exception {
        deliver(
                "{name: book, to: \"out/{id}.xlsx\", when: on call}",
                "{name: lines, to: \"out/{day}.jsonl\", sort: [-value], where: day is filled, when: on call}",
                "{name: all, to: out/all.csv, where: value > 100, separator: \";\", when: on call}");
        write("c.csv", "a/b,2026-02-03,5\na_b,2026-02-03,6\n../up,2026-02-03,7\n");
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            for (String name : List.of("book", "lines", "all")) {
                assertThat(service.client("deliver", "samples", name).status()).isZero();
            }
            assertThat(delivered())
                    .containsEntry("all.csv", "id;day;value")
                    .containsKeys("a.xlsx", "a_b.xlsx")
                    .hasSize(1 + 7 + 3);
            assertThat(delivered().keySet()).anyMatch(name -> name.matches("a_b~[0-9a-f]{8}\\.xlsx"));
            assertThat(delivered().keySet()).anyMatch(name -> name.matches("_\\._up~[0-9a-f]{8}\\.xlsx"));
            assertThat(delivered().get("2026-02-03.jsonl").lines().map(line -> line.replaceAll(".*\"value\":|}", "")))
                    .containsExactly("7", "6", "5", "3");
            assertThat(service.client("deliver", "samples", "all", "--history").out())
                    .contains("out/all.csv", "done");
        }
    }

    /** Sheets of a workbook, and how many rows each has. */
    private static Map<String, Integer> sheets(Path book) throws IOException {
        Map<String, Integer> sheets = new TreeMap<>();
        try (ReadableWorkbook all = new ReadableWorkbook(book.toFile())) {
            for (Sheet sheet : all.getSheets().toList()) {
                sheets.put(sheet.getName(), sheet.read().size());
            }
        }
        return sheets;
    }

    @Test
    void aSheetOfAReportIsWrittenAndTheOthersStay() throws Exception {
        deliver("{name: report, to: out/report.xlsx, sheet: Data, columns: [id, value]}");
        Path report = out.resolve("report.xlsx");
        try (TestService service = TestService.start(folder, "-Dhapster.delivery-pause=300")) {
            service.run("small");
            assertThat(last(service, "report").path("failure").asText()).contains("report.xlsx is not there. Put");
            Files.createDirectories(out);
            String path = report.toString();
            assertThat(service.client("export", "samples", "--to", path, "--where", "id = a")
                            .status())
                    .isZero();
            for (int i = 0; i < 500 && sheets(report).size() < 2; i++) {
                Thread.sleep(20);
            }
            assertThat(sheets(report)).isEqualTo(Map.of("samples", 2, "Data", 5));
            write("b.csv", "c,2026-02-03,30\n");
            service.run("small");
            assertThat(after(service, "report", 2).path("written").asInt()).isEqualTo(1);
            assertThat(sheets(report)).isEqualTo(Map.of("samples", 2, "Data", 4));
            assertThat(service.client("deliver", "samples", "report").out()).contains("0 files written, 1 unchanged");

            assertThat(service.client("export", "samples", "--to", path, "--sheet", "samples", "--below")
                            .status())
                    .isZero();
            assertThat(sheets(report)).isEqualTo(Map.of("samples", 5, "Data", 4));
            assertThat(service.client("export", "samples", "--to", path, "--sheet", "New", "--columns", "id as Who")
                            .status())
                    .isZero();
            assertThat(sheets(report)).isEqualTo(Map.of("samples", 5, "Data", 4, "New", 4));
            byte[] whole = Files.readAllBytes(report);
            assertThat(service.client("export", "samples", "--to", path, "--sheet", "a/b")
                            .err())
                    .contains("A sheet cannot be called 'a/b'");
            assertThat(service.client(
                                    "export",
                                    "samples",
                                    "--to",
                                    folder.resolve("in/a.csv").toString(),
                                    "--as",
                                    "xlsx",
                                    "--sheet",
                                    "Data")
                            .err())
                    .contains("It is not a workbook (.xlsx)");
            assertThat(service.client(
                                    "export",
                                    "samples",
                                    "--to",
                                    folder.resolve("none.xlsx").toString(),
                                    "--sheet",
                                    "x")
                            .err())
                    .contains("is not there; leave --sheet out");
            assertThat(report).hasBinaryContent(whole);
            deliver("{name: other, to: out/other.csv}");
            assertThat(service.client("deliver", "samples", "other").status()).isZero();
            assertThat(report).as("it belongs to somebody").hasBinaryContent(whole);
        }
    }

    @Test
    void anExportIsSplitOnceAndReplacesNothingUnasked() throws Exception {
        deliver("{name: none, to: other/x.csv, when: on call}");
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            String to = out + "/{day:yyyy}/{file.stem}-{id}.csv";
            assertThat(service.client("export", "samples", "--to", to, "--columns", "id,value as n")
                            .out())
                    .containsPattern("2026/a-a.csv +1 +11")
                    .contains("4 files below " + out, "4 rows");
            Map<String, String> whole = Map.of(
                    "2026/a-a.csv", "id,n a,1",
                    "2026/a-b.csv", "id,n b,2",
                    "2026/b-c.csv", "id,n c,3",
                    "empty/b-d.csv", "id,n d,4");
            assertThat(delivered()).isEqualTo(whole);
            assertThat(service.client("export", "samples", "--to", to, "--where", "id = a")
                            .err())
                    .contains("1 file is there already: 2026/a-a.csv; --overwrite replaces them");
            assertThat(delivered()).isEqualTo(whole);
            service.client("export", "samples", "--to", to, "--where", "id = a", "--overwrite");
            assertThat(delivered())
                    .containsEntry("2026/a-a.csv", "id,day,value a,2026-01-01,1")
                    .hasSize(4);
            assertThat(service.client("export", "samples", "--to", to, "--where", "id = nobody")
                            .out())
                    .contains("No row matches, so there is no file");
            assertThat(service.client("export", "samples", "--to", out + "/{dayy}.csv")
                            .err())
                    .contains("there is no column 'dayy'", "Did you mean 'day'?");
            assertThat(service.client("export", "samples", "--to", out + "/{id}")
                            .err())
                    .contains("says nothing of a format");
        }
    }
}
