package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import org.junit.jupiter.api.io.TempDir;

/** Files of equal name, in subfolders of one place and in two places: told apart everywhere, and never guessed. */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class NamesTest {

    @TempDir
    private static Path workspace;

    private static TestService service;

    @BeforeAll
    static void twins() throws Exception {
        Workspaces.small(workspace);
        Workspaces.write(
                workspace,
                "jobs/small.yaml",
                "job: small\ninto: samples\nfind:\n"
                        + "  - {folder: in, depth: 2, settle: 0s, take: \"**/*.csv\"}\n"
                        + "  - {folder: out, depth: 1, settle: 0s, take: \"**/*.csv\"}\n");
        for (String folder : new String[] {"in/north", "in/south", "out/south"}) {
            Workspaces.write(
                    workspace,
                    folder + "/a.csv",
                    "id,day,value\n" + folder.replace('/', '-') + ",2026-01-01,1\nbad,never,2\n");
        }
        Workspaces.write(workspace, "in/one.csv", "id,day,value\none,2026-01-01,1\n");
        service = TestService.start(workspace);
        service.client("run", "small");
    }

    @AfterAll
    static void stop() {
        service.close();
    }

    @Test
    @Order(1)
    void reportsRejectsAndRowsTellThemApart() {
        assertThat(service.client("runs", "1").out())
                .contains("  north/a.csv ", "  in/south/a.csv ", "  out/south/a.csv ", "  one.csv ");
        assertThat(service.client("rejects", "1", "--explain", "date-unreadable")
                        .out())
                .contains("north/a.csv:3", "in/south/a.csv:3", "out/south/a.csv:3");
        assertThat(service.client("rows", "samples").out())
                .contains("north/a.csv:2", "in/south/a.csv:2", "out/south/a.csv:2", "one.csv:2");
    }

    @Test
    @Order(2)
    void theNameThatIsShownIsTakenAndOneOfSeveralIsAnErrorThatListsThem() {
        assertThat(service.client("trace", "1", "north/a.csv:3").out()).contains("north/a.csv:3  rejected by run 1");
        ambiguous(service.client("trace", "1", "a.csv:3"), "north/a.csv, in/south/a.csv, out/south/a.csv");
        ambiguous(service.client("trace", "1", "south/a.csv:3"), "in/south/a.csv, out/south/a.csv");
        assertThat(service.client("trace", "1", "out/south/a.csv:3").status()).isEqualTo(1);

        assertThat(service.client("peek", "small", "north/a.csv").out()).contains("in-north,2026-01-01,1");
        ambiguous(service.client("peek", "small", "south/a.csv"), "in/south/a.csv, out/south/a.csv");
        assertThat(service.client("peek", "small", "out/south/a.csv").out()).contains("out-south,2026-01-01,1");

        assertThat(service.client("ledger", "small", "north/a.csv").out()).contains("in/north/a.csv");
        ambiguous(service.client("ledger", "small", "a.csv"), "in/north/a.csv, in/south/a.csv, out/south/a.csv");
        ambiguous(service.client("run", "small", "--again", "south/a.csv"), "in/south/a.csv, out/south/a.csv");
        ambiguous(service.client("dismiss", "small", "a.csv", "--because", "x"), "in/north/a.csv, in/south/a.csv");
    }

    @Test
    @Order(3)
    void removingSaysWhatItTakesAndAsks() {
        ambiguous(service.client("remove", "samples", "--file", "a.csv", "--yes"), "in/north/a.csv, in/south/a.csv");
        Result unasked = service.client("remove", "samples", "--file", "north/a.csv");
        assertThat(unasked.status()).isEqualTo(2);
        assertThat(unasked.err())
                .contains("Nothing was removed: nobody can be asked here. --yes removes 1 row of 1 file");
        assertThat(service.get("/datasets/samples").path("rows").asLong()).isEqualTo(4);
        assertThat(service.client("remove", "samples", "--file", "north/a.csv", "--yes")
                        .status())
                .isZero();
        assertThat(service.client("rows", "samples").out())
                .doesNotContain("north/a.csv")
                .contains("in/south/a.csv:2", "out/south/a.csv:2");
    }

    private static void ambiguous(Result result, String candidates) {
        assertThat(result.status()).as(result.out()).isEqualTo(2);
        assertThat(result.err()).contains("is the name of ", candidates, "Name one of them with its folder");
    }
}
