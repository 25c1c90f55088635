package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.Postgres;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.core.crash.CrashPoint;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A table follows its dataset through runs, undos, crashes of either side, and touches nothing else. */
class TablesTest {

    private static Postgres postgres;

    @TempDir
    private static Path data;

    @TempDir
    private Path folder;

    @BeforeAll
    static void server() throws Exception {
        postgres = Postgres.start(data.resolve("postgres"));
    }

    @AfterAll
    static void stop() throws IOException {
        postgres.close();
    }

    @BeforeEach
    void workspace() throws Exception {
        postgres.sql("DROP SCHEMA public CASCADE", "CREATE SCHEMA public");
        Workspaces.small(folder);
        Workspaces.write(
                folder,
                "accounts.yaml",
                "accounts:\n  - name: warehouse\n    postgresql: {host: 127.0.0.1, port: " + postgres.port()
                        + ", database: postgres, user: postgres, password: {file: secret}}\n");
        Workspaces.write(folder, "secret", Postgres.PASSWORD + "\n");
        deliver("follow");
        write("a.csv", "a,2026-01-01,1\nb,2026-02-02,2\n");
        write("b.csv", "c,,3\n");
    }

    private void deliver(String mode, String... further) throws IOException {
        dataset(
                "",
                "{name: table, to: {database: warehouse, table: samples, mode: " + mode + "}, columns: [id, value]"
                        + String.join("", further) + "}");
    }

    private void dataset(String columns, String delivery) throws IOException {
        Workspaces.write(
                folder, "datasets/samples.yaml", Workspaces.DATASET + columns + "deliver:\n  - " + delivery + "\n");
    }

    private void write(String name, String rows) throws IOException {
        Workspaces.write(folder, "in/" + name, "id,day,value\n" + rows);
    }

    private static String rows() throws Exception {
        return postgres.sql("SELECT id || '=' || coalesce(value::text, '') FROM samples ORDER BY id, value")
                .replace('\n', ' ');
    }

    /** Has it done, and waits until it is. */
    private static String delivered(TestService service) {
        TestService.Result done = service.client("deliver", "samples", "table");
        return done.out() + done.err();
    }

    private static void await(String rows) throws Exception {
        for (int i = 0; i < 500 && !(there() && rows().equals(rows)); i++) {
            Thread.sleep(20);
        }
        assertThat(rows()).isEqualTo(rows);
    }

    private static boolean there() throws Exception {
        return postgres.sql("SELECT to_regclass('samples') IS NOT NULL").equals("t");
    }

    @Test
    void aTableFollowsAndOnlyWhatChangedIsCarriedOver() throws Exception {
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            await("a=1 b=2 c=3");
            assertThat(delivered(service))
                    .contains("Rows of 0 files written, 2 unchanged, 0 removed; 3 rows in samples");
            String before = postgres.sql("SELECT xmin FROM samples WHERE id = 'a'");

            write("b.csv", "c,,30\nd,,4\n");
            service.run("small");
            await("a=1 b=2 c=30 d=4");
            service.post("/runs/2/undo");
            await("a=1 b=2 c=3");
            write("b.csv", "c,,3\n");
            assertThat(postgres.sql("SELECT xmin FROM samples WHERE id = 'a'"))
                    .as("other rows stay where they are")
                    .isEqualTo(before);

            dataset("  - {name: lab, type: text}\n", "{name: table, to: {database: warehouse, table: samples}}");
            Workspaces.write(folder, "in/c.csv", "id,day,value,lab\ne,2026-03-03,5,North\n");
            service.run("small");
            await("a=1 b=2 c=3 e=5");
            assertThat(postgres.sql("SELECT id, day, lab FROM samples ORDER BY id")
                            .lines())
                    .as("a column that the delivery has now is filled, and one that files lack costs nothing")
                    .containsExactly("a|2026-01-01|", "b|2026-02-02|", "c||", "e|2026-03-03|North");
            before = postgres.sql("SELECT xmin FROM samples WHERE id = 'a'");
            dataset(
                    "  - {name: lab, type: text}\n  - {name: unit, type: text}\n",
                    "{name: table, to: {database: warehouse, table: samples}}");
            assertThat(service.client("deliver", "samples", "table", "--try").out())
                    .contains("The table gets the column unit (text)", "0 files would be written, 3 unchanged");
            assertThat(delivered(service)).contains("0 files written, 3 unchanged");
            assertThat(postgres.sql("SELECT xmin FROM samples WHERE id = 'a'")).isEqualTo(before);
            assertThat(service.client("datasets", "rename", "samples", "probes").status())
                    .isZero();
            assertThat(service.client("deliver", "probes", "table").out())
                    .as("it is the same table under another name of its dataset")
                    .contains("0 files written, 3 unchanged, 0 removed; 4 rows in samples at warehouse");
        }
    }

    @Test
    void everyValueArrivesAsItIs() throws Exception {
        Workspaces.write(
                folder,
                "datasets/samples.yaml",
                """
                dataset: samples
                columns:
                  - {name: id, type: text, required: true}
                  - {name: day, type: date}
                  - {name: value, type: integer}
                  - {name: exact, type: "decimal(38,10)"}
                  - {name: about, type: double}
                  - {name: yes, type: boolean}
                  - {name: at, type: timestamp}
                  - {name: time, type: time}
                deliver:
                  - name: table
                    to: {database: warehouse, table: samples}
                    columns: [id, "day as The \\"Day\\"", value, exact, about, yes, at, time]
                    origins: true
                """);
        Workspaces.write(
                folder,
                "in/a.csv",
                """
                id,day,value,exact,about,yes,at,time
                "tab\there, \\back \\N and ""quotes"" too",0001-01-01,-9223372036854775808,1234567890123456789012345678.0123456789,1.7976931348623157E308,true,9999-12-31T23:59:59.999999,23:59:59.999999
                "two
                lines",9999-12-31,9223372036854775807,-0.0000000001,-4.9E-324,false,0001-01-01T00:00:00,00:00:00
                \\N,,,,,,,
                Zoë 😀,2026-02-28,0,0,0.1,,2026-02-28T12:30:00.5,
                """
                        .replace("\\t", "\t"));
        Files.delete(folder.resolve("in/b.csv"));
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            delivered(service);
            assertThat(postgres.sql(
                                    "SELECT replace(id, E'\\n', '|'), \"The \"\"Day\"\"\", value, exact, about, yes, at,"
                                            + " time, _line FROM samples ORDER BY _line")
                            .lines())
                    .containsExactly(
                            "tab\there, \\back \\N and \"quotes\" too|0001-01-01|-9223372036854775808|1234567890123456789012345678."
                                    + "0123456789|1.7976931348623157e+308|t|9999-12-31 23:59:59.999999|23:59:59.999999|2",
                            "two|lines|9999-12-31|9223372036854775807|-0.0000000001|-5e-324|f|0001-01-01 00:00:00|"
                                    + "00:00:00|3",
                            "\\N||||||||5",
                            "Zoë 😀|2026-02-28|0|0.0000000000|0.1||2026-02-28 12:30:00.5||6");
            Workspaces.write(folder, "in/b.jsonl", "{\"id\": \"fine\"}\n{\"id\": \"nul \\u0000 here\"}\n");
            Workspaces.write(
                    folder,
                    "jobs/lines.yaml",
                    "job: lines\ninto: samples\nfind: [{folder: in, settle: 0s, take: \"*.jsonl\"}]\n"
                            + "read: {as: json_lines}\n");
            service.run("lines");
            assertThat(delivered(service))
                    .contains("A database cannot hold the character U+0000, and id has it in", "row of b.jsonl:2");
            assertThat(postgres.sql("SELECT count(*) FROM samples")).isEqualTo("4");
        }
    }

    @ParameterizedTest
    @CsvSource({"TABLE_WRITTEN, service", "TABLE_COMMITTED, service", "TABLE_WRITTEN, server", "TABLE_COMMITTED, server"
    })
    void whicheverSideIsKilledNothingIsLostAndNothingDoubled(CrashPoint moment, String side, @TempDir Path pauses)
            throws Exception {
        try (TestService service =
                TestService.start(folder, "-Dhapster.pauses=" + pauses, "-Dhapster.delivery-pause=300")) {
            service.run("small");
            await("a=1 b=2 c=3");
            write("a.csv", "a,2026-01-01,10\nb,2026-02-02,20\n");
            service.runUpTo(moment, "small", pauses);
            assertThat(rows()).isEqualTo(moment == CrashPoint.TABLE_WRITTEN ? "a=1 b=2 c=3" : "a=10 b=20 c=3");
            if (side.equals("service")) {
                service.kill();
                Files.delete(pauses.resolve(moment + ".reached"));
                service.startAgain();
            } else {
                postgres.kill();
                Files.delete(pauses.resolve(moment + ".reached"));
                Thread.sleep(500); // so that it is tried while nobody answers
                postgres.start();
            }
            await("a=10 b=20 c=3");
            assertThat(delivered(service)).contains("0 files written, 2 unchanged, 0 removed; 3 rows");
            assertThat(service.get("/store").path("deliveries")).isEmpty();
        }
    }

    @Test
    void nothingElseIsTouchedAndWhatIsWrongIsSaid() throws Exception {
        postgres.sql("CREATE TABLE samples (id text, value bigint)", "INSERT INTO samples VALUES ('mine', 0)");
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            assertThat(delivered(service))
                    .contains("The table public.samples", "has rows that are not from a delivery. Nothing was changed");
            assertThat(rows()).isEqualTo("mine=0");
            postgres.sql("DROP TABLE samples", "CREATE VIEW samples AS SELECT 'x' AS id, 1 AS value");
            assertThat(delivered(service)).contains("is not a table, but a view");
            postgres.sql("DROP VIEW samples", "CREATE TABLE samples (id varchar, value date)");
            assertThat(delivered(service))
                    .contains(
                            "value is date there, and would have to be bigint",
                            "ALTER TABLE \"public\".\"samples\" ALTER COLUMN \"value\" TYPE bigint");
            postgres.sql("DROP TABLE samples", "CREATE TABLE samples (id varchar(1), value int2)");
            write("b.csv", "c,,3\nlong,,4\n");
            service.run("small");
            assertThat(delivered(service)).contains("value too long", "column id", "row of b.csv:3");
            assertThat(rows()).isEmpty();
            write("b.csv", "c,,3\n");
            service.run("small");
            await("a=1 b=2 c=3"); // after the run, by itself
            assertThat(delivered(service)).contains("2 unchanged, 0 removed; 3 rows");

            Path other = Workspaces.small(data.resolve("other"));
            for (String file : new String[] {"accounts.yaml", "secret", "datasets/samples.yaml"}) {
                Workspaces.write(other, file, Files.readString(folder.resolve(file)));
            }
            try (TestService second = TestService.start(other)) {
                assertThat(delivered(second))
                        .contains("is filled by the delivery table of samples of another workspace");
            }
            assertThat(rows()).isEqualTo("a=1 b=2 c=3");

            deliver("append");
            assertThat(delivered(service)).contains("was filled with `mode: follow` so far");
            dataset("", "{name: table, to: {database: warehouse, table: none.samples}}");
            assertThat(delivered(service)).contains("has no schema none. Make it: CREATE SCHEMA");
            dataset("", "{name: table, to: {database: warehause, table: samples}}");
            assertThat(delivered(service)).contains("There is no account 'warehause'", "Did you mean 'warehouse'?");
            deliver("follow");
            Workspaces.write(folder, "secret", "wrong");
            assertThat(delivered(service)).contains("does not let postgres in").doesNotContain("wrong");
            assertThat(service.get("/datasets/samples/deliveries").path(0).has("nextTry"))
                    .as("accounts get locked by passwords that are tried again and again")
                    .isFalse();
            assertThat(service.client("deliver", "samples").err())
                    .contains("not tried again before rows change or somebody calls: hapster deliver samples table");
            assertThat(service.client("deliver", "samples", "table", "--try").err())
                    .contains("does not let postgres in")
                    .doesNotContain("Exception");
            Workspaces.write(
                    folder,
                    "datasets/samples.yaml",
                    Workspaces.DATASET
                            + "deliver: [{name: t, to: {database: w, table: a.b.c, mode: follov}, sort: id}]");
            assertThat(service.client("deliver", "samples").err())
                    .contains("'sort' does not go with a table", "a table cannot be called 'a.b.c'", "'follow'");
        }
    }

    @Test
    void whatOthersChangedIsMendedWhenItIsCalledFor() throws Exception {
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            await("a=1 b=2 c=3");
            postgres.sql("DELETE FROM samples WHERE id = 'a'", "INSERT INTO samples (id, value) VALUES ('mine', 0)");
            assertThat(delivered(service))
                    .contains("rows of 1 file were not as they had been delivered", "has 1 row that is not from the");
            assertThat(rows()).isEqualTo("a=1 b=2 c=3 mine=0");
            postgres.sql("TRUNCATE samples");
            assertThat(delivered(service)).contains("2 files written");
            postgres.sql("ALTER TABLE samples DROP COLUMN _part");
            write("b.csv", "c,,30\n");
            service.run("small");
            await("a=1 b=2 c=30");
            postgres.sql("DROP TABLE samples");
            assertThat(delivered(service)).contains("2 files written");
            assertThat(rows()).isEqualTo("a=1 b=2 c=30");
        }
    }

    @Test
    void aTableIsReplacedOrAddedTo() throws Exception {
        deliver("replace", ", where: value > 1");
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            await("b=2 c=3");
            assertThat(postgres.sql("SELECT count(*) FROM information_schema.columns WHERE table_name = 'samples'"))
                    .as("no column is added")
                    .isEqualTo("2");
            write("b.csv", "c,,30\n");
            service.run("small");
            await("b=2 c=30");
            assertThat(delivered(service)).contains("0 files written, 2 unchanged");
            deliver("follow");
            assertThat(delivered(service)).contains("2 files written");
            assertThat(rows()).isEqualTo("a=1 b=2 c=30");

            postgres.sql(
                    "DROP TABLE samples",
                    "CREATE TABLE samples (id text, value bigint)",
                    "INSERT INTO samples VALUES ('mine', 0)");
            deliver("append");
            assertThat(delivered(service)).contains("2 files written");
            assertThat(rows()).isEqualTo("a=1 b=2 c=30 mine=0");
            write("b.csv", "c,,31\n");
            JsonNode run = service.run("small");
            await("a=1 b=2 c=30 c=31 mine=0");
            service.post("/runs/" + run.path("run").asLong() + "/undo");
            postgres.sql("DELETE FROM samples");
            assertThat(delivered(service)).as("each arrival comes once").contains("0 files written");
            assertThat(rows()).isEmpty();
        }
    }

    @Test
    void aLostCatalogueEmptiesNoTable() throws Exception {
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            await("a=1 b=2 c=3");
        }
        Files.delete(folder.resolve("store/catalogue.mv.db"));
        try (TestService service = TestService.start(folder, "-Dhapster.delivery-pause=300")) {
            for (int i = 0; i < 500 && service.get("/store").path("deliveries").isEmpty(); i++) {
                Thread.sleep(20);
            }
            assertThat(service.get("/store").path("deliveries").toString())
                    .contains("has no rows now, and the table public.samples has 3", "hapster verify --rebuild");
            assertThat(rows()).isEqualTo("a=1 b=2 c=3");
            assertThat(service.client("verify", "--rebuild").status()).isZero();
            assertThat(delivered(service)).contains("3 rows in samples at warehouse");
            assertThat(rows()).isEqualTo("a=1 b=2 c=3");
            service.post("/runs/1/undo");
            await("");
        }
    }
}
