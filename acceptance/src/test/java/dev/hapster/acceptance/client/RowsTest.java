package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What {@code hapster rows --stage} prints of rows before they are loaded. */
class RowsTest {

    @TempDir
    private static Path workspace;

    private static TestService service;

    @BeforeAll
    static void start() throws Exception {
        Workspaces.write(
                workspace,
                "datasets/orders.yaml",
                "dataset: orders\ncolumns:\n  - {name: id, type: text}\n  - {name: amount, type: \"decimal(8,2)\"}\n"
                        + "  - {name: gross, type: \"decimal(8,2)\"}\n");
        Workspaces.write(
                workspace,
                "jobs/orders.yaml",
                "job: orders\ninto: orders\nfind: [{folder: in, settle: 0s, take: \"*.csv\"}]\n"
                        + "map: {gross: {compute: \"round(amount * 1.19, 2)\"}}\nkeep: \"id != 'skip'\"\n");
        Workspaces.write(workspace, "in/a.csv", "id,amount\na,1.50\nb,x\nskip,3\n");
        Workspaces.write(workspace, "in/b.csv", "id;amount\nc;1\n");
        service = TestService.start(workspace);
    }

    @AfterAll
    static void stop() {
        service.close();
    }

    @Test
    void rowsAreShownWithWhatBecomesOfThem() throws Exception {
        Result stored = service.client("rows", "orders", "a.csv", "--stage", "stored");
        assertThat(stored.status()).isZero();
        assertThat(stored.out())
                .isEqualTo(
                        """
                        line  becomes    id    amount  gross
                        2     stored     a       1.50   1.79
                        3     rejected   b          !
                        4     set aside  skip    3.00   3.57
                          ! 3  amount: "x" is not a number (number-unreadable)
                          - 4  set aside by keep: id != 'skip'
                        3 of 3 rows shown, as they would be stored
                        """);
        assertThat(service.client("rows", "orders", "--stage", "cleaned", "--where", "amount > 1", "--sort", "-amount")
                        .out())
                .contains("a.csv:4  set aside  skip")
                .contains("2 rows of all 3 that were looked at satisfy this")
                .contains("the condition could not be evaluated for 1 row")
                .contains("! b.csv would be rejected as a whole: it looks separated by \";\"");
    }

    @Test
    void whatCannotBeShownSaysWhy() throws Exception {
        Result whole = service.client("rows", "orders", "b.csv", "--stage", "read");
        assertThat(whole.status()).isEqualTo(1);
        assertThat(whole.out()).contains("b.csv would be rejected as a whole").contains("Set `read: separator:`");
        assertThat(service.client("rows", "orders", "--stage", "read").err())
                .contains("As they are read, files have columns of their own: name one of them");
        assertThat(service.client("rows", "orders", "a.csv").err()).contains("go with --stage");
        assertThat(service.client("rows", "orders", "a.csv", "--stage", "stored", "--where", "amuont > 1")
                        .err())
                .contains("The condition has a mistake at character 1: there is no 'amuont'");
    }
}
