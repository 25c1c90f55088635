package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import org.junit.jupiter.api.io.TempDir;

/** Questions to a dataset: asked, kept under a name, and kept when what they ask gets other names. */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class QueriesTest {

    @TempDir
    private static Path workspace;

    private static TestService service;

    @BeforeAll
    static void rows() throws Exception {
        Workspaces.small(workspace);
        Workspaces.write(
                workspace,
                "in/a.csv",
                "id,day,value\na,2026-01-01,1\nb,2026-01-31,2\nc,2026-02-01,\nit's,2026-04-01,9\n");
        service = TestService.start(workspace);
        service.client("run", "small");
    }

    @AfterAll
    static void stop() {
        service.close();
    }

    @Test
    @Order(1)
    void countsAddUpAndListTheFirstGroups() {
        Result counts = service.client(
                "count", "samples", "--by", "day:quarter", "--measure", "sum(value),count(value)", "--top", "1");
        assertThat(counts.out())
                .containsPattern("2026-Q1 +3 +3[.0]* +2 +▪")
                .containsPattern("\\(1 more\\) +1 +9[.0]* +1")
                .contains("4 rows in 2 groups; of all sum(value) 12", ", count(value) 3");
        assertThat(service.client("count", "samples", "--measure", "max(day)").out())
                .contains("4 rows, max(day) 2026-04-01");
        assertThat(service.client("count", "samples", "--by", "id", "--measure", "mean(id)"))
                .satisfies(wrong -> assertThat(wrong.status()).isEqualTo(2))
                .satisfies(wrong -> assertThat(wrong.err()).contains("There is no mean of id"));
        assertThat(service.client("rows", "samples", "--where", "day = 2026-01 or id = 'it''s'")
                        .out())
                .contains("3 rows of samples that match the conditions");
        assertThat(service.client("rows", "samples", "--where", "id in (A, it) and value > 0")
                        .out())
                .contains(
                        "0 rows of samples", "No row has \"A\" in id. Did you mean \"a\"?", "No row has \"it\" in id");
        assertThat(service.client("count", "samples", "--by", "day", "--where", "id = nobody at all")
                        .out())
                .contains("0 rows in 0 groups", "in id; there is \"a\", \"b\", \"c\", \"it's\"");
    }

    @Test
    @Order(1)
    void aProfileSaysWhatColumnsHold() throws Exception {
        assertThat(service.client("profile", "samples").out())
                .containsPattern("id .*- +4 +a.*it's")
                .containsPattern("value .*25.0 % +3 +1.*9")
                .contains("4 rows in samples");
        assertThat(service.client("profile", "samples", "--columns", "value").out())
                .contains(
                        "4 rows, 1 empty (25.0 %), 3 different values",
                        "mean 4, standard deviation 3.559026", "50 % 2");
        assertThat(service.client("profile", "samples", "--by", "day", "--where", "day < 2026-03")
                        .out())
                .containsPattern("2026-02-01 +1 +- +- +100 %")
                .contains("3 rows in 3 groups; the share of them without a value");
        assertThat(service.client("profile", "samples", "--where", "id = nobody")
                        .out())
                .contains("samples has no rows that match.");
    }

    @Test
    @Order(1)
    void filesAreProfiledBeforeTheyAreLoaded() throws Exception {
        Workspaces.write(workspace, "other/b.csv", "id,value\nx,1\ny,many\nx,\n");
        Workspaces.job(workspace, "other", "other", "read: {missing_columns: empty}\nkeep: 'id != \"z\"'\n");
        Workspaces.write(workspace, "other/c.csv", "id,day,value\nz,2026-01-01,1\nw,2026-01-01,4\n");
        Result all = service.client("profile", "other", "--job");
        assertThat(all.status()).isEqualTo(1);
        assertThat(all.out())
                .containsPattern("id +75.0 % +- +- +- +2 ")
                .containsPattern("value +50.0 % +25.0 % +- +25.0 % +2 ")
                .contains("5 rows in 2 files, 1 rejected, 1 set aside by the job's rules; nothing was loaded")
                .contains("value: number-unreadable rejects 1 row, first b.csv:3 ");
        assertThat(service.client("profile", "other", "c.csv").out()).contains("2 rows in 1 file, 0 rejected");
        assertThat(service.client("profile", "other", "d.csv").err()).contains("There is no file 'd.csv'");
        assertThat(service.client("datasets").out()).containsPattern("samples +4 ");
    }

    @Test
    @Order(2)
    void aQuestionIsKeptAndAskedByItsName() throws Exception {
        assertThat(service.client("query").out()).contains("no queries yet");
        assertThat(service.client("count", "samples", "--by", "day:month", "--save", "months", "--about", "By month")
                        .out())
                .contains("hapster query months", "2026-01");
        assertThat(service.client("rows", "samples", "--where", "valu > 1", "--save", "wrong"))
                .satisfies(wrong -> assertThat(wrong.status()).isEqualTo(2))
                .satisfies(wrong -> assertThat(wrong.err()).contains("Did you mean 'value'?"));
        assertThat(workspace.resolve("queries/wrong.yaml")).doesNotExist();
        assertThat(service.client("rows", "samples", "--save", "months").err())
                .contains("There is a query months already; --replace replaces it");
        assertThat(service.client(
                                "rows",
                                "samples",
                                "--where",
                                "value > 1",
                                "--sort",
                                "-value",
                                "--columns",
                                "value,id",
                                "--save",
                                "high")
                        .status())
                .isZero();
        assertThat(service.client("query").out()).contains("months", "By month", "value, id where value > 1");
        assertThat(service.client("query", "high").out()).containsPattern("source +value +id\n.*a.csv:5 +9");
        assertThat(service.client("query", "months", "--where", "value is filled")
                        .out())
                .contains("3 rows in 2 groups");
        Path csv = workspace.resolve("high.csv");
        assertThat(service.client(
                                "export",
                                "--query",
                                "high",
                                "--to",
                                csv.toString(),
                                "--separator",
                                ";",
                                "--decimal",
                                ",")
                        .out())
                .contains("2 rows");
        assertThat(Files.readString(csv)).matches("value;id\r\n9[,0]*;it's\r\n2[,0]*;b\r\n");
        assertThat(service.client("export", "--query", "months", "--to", "x.csv")
                        .err())
                .contains("The query months counts rows");
        assertThat(service.client("export", "samples", "--to", "x.json", "--separator", ";")
                        .err())
                .contains("go with CSV, not with json");
        assertThat(service.client("query", "mont").err()).contains("Did you mean 'months'?");
    }

    @Test
    @Order(3)
    void otherNamesLeaveTheQuestionWhatItWas() throws Exception {
        String before = Files.readString(workspace.resolve("queries/high.yaml"));
        assertThat(service.client("datasets", "rename", "samples", "measured").status())
                .isZero();
        assertThat(Files.readString(workspace.resolve("queries/high.yaml")))
                .isEqualTo(before.replace("samples", "measured"));
        String dataset = Files.readString(workspace.resolve("datasets/measured.yaml"));
        Workspaces.write(
                workspace, "datasets/measured.yaml", dataset.replace("name: value", "name: amount, was: value"));
        assertThat(service.client("query", "high").out()).containsPattern("source +amount +id\n.*a.csv:5 +9");

        Workspaces.write(workspace, "datasets/measured.yaml", dataset.replace("name: value", "name: amount"));
        Result broken = service.client("query");
        assertThat(broken.status()).isEqualTo(1);
        assertThat(broken.out()).contains("cannot be asked", "By month");
        assertThat(broken.err()).contains("queries/high.yaml", "There is no column 'value'");
        assertThat(service.client("query", "high").status()).isEqualTo(1);
        Workspaces.write(workspace, "datasets/measured.yaml", dataset);

        Workspaces.write(workspace, "queries/odd.yaml", "query: odd\ndataset: measurd\ntop: 5\nwher: x\n");
        assertThat(service.client("query").err())
                .contains(
                        "odd.yaml:2",
                        "there is no dataset 'measurd'",
                        "Did you mean 'measured'?",
                        "Did you mean 'where'?");
        assertThat(service.client("query", "odd", "--delete").status()).isZero();
        assertThat(service.client("query", "odd").status()).isNotZero();
    }
}
