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

/** Long reports begin with what needs attention, and output for other programs is whole. */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class ReportsTest {

    private static final int FILES = 60;

    @TempDir
    private static Path workspace;

    private static TestService service;

    @BeforeAll
    static void start() throws Exception {
        Workspaces.small(workspace);
        for (int i = 0; i < FILES; i++) {
            Workspaces.write(
                    workspace,
                    String.format("in/f%02d.csv", i),
                    "id,day,value\na" + i + ",2026-01-01," + (i == 40 ? "x" : i) + "\n");
        }
        Workspaces.write(workspace, "in/f50.csv", "");
        service = TestService.start(workspace);
    }

    @AfterAll
    static void stop() {
        service.close();
    }

    @Test
    @Order(1)
    void ofManyFilesThoseThatNeedAttentionAreShown() {
        String usual = service.client("run", "small").out();
        assertThat(usual.lines().skip(1).limit(3))
                .satisfiesExactly(
                        line -> assertThat(line).contains("f50.csv", "rejected: holds 0 bytes"),
                        line -> assertThat(line).contains("f40.csv", "1 rejected"),
                        line -> assertThat(line)
                                .isEqualTo("  and 58 more, of which nothing was rejected (--files shows them)"));
        assertThat(service.client("runs", "1", "--files").out()).contains("f00.csv", "f59.csv");
        Result quiet = service.client("run", "small", "--quiet", "--again", "--all");
        assertThat(quiet.out().lines())
                .satisfiesExactly(
                        line -> assertThat(line).isEqualTo("small, run 2: 60 files found, 58 rows loaded, 1 rejected"),
                        line -> assertThat(line).startsWith("done with rejects in "));
        assertThat(quiet.status()).isEqualTo(1);
    }

    @Test
    @Order(2)
    void outputForOtherProgramsIsWhole() {
        String runs = service.piped("runs").out();
        assertThat(runs.lines().findFirst().orElse("")).contains("started", "rows rejected");
        assertThat(service.client("runs").out()).contains("not shown, since the terminal is too narrow: started");
        assertThat(service.client("rows", "samples", "--columns", "value,id", "--sort", "-value", "--limit", "1")
                        .out())
                .startsWith("source     value  id\nf59.csv:2     59  a59\n");
        assertThat(service.client("count", "samples", "--by", "day", "--sort", "-rows")
                        .out())
                .contains("2026-01-01", "58");
        Result csv = service.client(
                "export", "samples", "--to", "-", "--as", "csv", "--columns", "id", "--where", "value > 57");
        assertThat(csv.out()).isEqualTo("id\r\na58\r\na59\r\n");
        Result explained = service.client("rejects", "1", "--explain", "number-unreadable", "--json");
        assertThat(explained.status())
                .isEqualTo(service.client("rejects", "1").status())
                .isEqualTo(1);
        assertThat(explained.out()).contains("\"rows\"", "a40,2026-01-01,x");
    }

    @Test
    @Order(3)
    void aRejectedFileThatIsGoneIsShownAsGoneAndCanBeDismissed() throws Exception {
        Files.delete(workspace.resolve("in/f50.csv"));
        service.client("run", "small");
        assertThat(service.client("rejects").out())
                .contains("gone: f50.csv", "hapster dismiss small \"f50.csv\" --because \"the file is gone\"");
        assertThat(service.client("dismiss", "small", "f50.csv", "--because", "the file is gone")
                        .status())
                .isZero();
        assertThat(service.client("rejects").out()).doesNotContain("f50.csv").contains("f40.csv");
    }
}
