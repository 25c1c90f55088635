package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.YearMonth;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Whether everything arrived, after acts in any order. */
class CalendarTest {

    private static final String HEADER = "id,day,value\n";
    private final YearMonth present = YearMonth.now(ZoneOffset.UTC);

    @TempDir
    private Path workspace;

    private TestService service;

    @BeforeEach
    void make() throws Exception {
        Workspaces.small(workspace);
        service = TestService.start(workspace);
    }

    @AfterEach
    void stop() {
        service.close();
    }

    private void job(String take, String due) throws Exception {
        Workspaces.write(
                workspace,
                "jobs/labs.yaml",
                "job: labs\ninto: samples\nfind: [{folder: in, depth: 1, settle: 0s, take: [\"" + take + "\"]}]\n"
                        + due);
    }

    private void file(String lab, YearMonth month, String rows) throws Exception {
        Workspaces.write(workspace, "in/" + lab + "/" + month + ".csv", HEADER + rows);
    }

    /** The states of a source, the earliest period first. */
    private List<String> states(String source) {
        JsonNode calendar = service.get("/jobs/labs/calendar");
        List<String> states = new ArrayList<>();
        calendar.path("sources").forEach(one -> {
            if (one.path("name").asText().equals(source)) {
                one.path("cells").forEach(cell -> states.add(cell.path("state").asText()));
            }
        });
        return states;
    }

    @Test
    void saysWhatIsMissingThroughUndoRepairRenameAndLoss() throws Exception {
        job(
                "{lab}/{month:yyyy-MM}.csv",
                "due: {each: month, facts: {lab: [east, north]}, by: last day, files: 1, rows: 1 to 5, zone: UTC}\n");
        assertThat(service.client("calendar").status())
                .as("nobody has looked yet")
                .isZero();
        file("east", present.minusMonths(3), "a,2026-01-01,1\n");
        file("east", present.minusMonths(2), "b,2026-01-01,1\n");
        file("north", present.minusMonths(3), "c,2026-01-01,1\nc2,2026-01-01,x\n");
        file("north", present.minusMonths(2), "b,2026-01-01,1\n"); // the same as east's
        file("wset", present.minusMonths(2), "d,2026-01-01,1\n");
        Files.write(workspace.resolve("in/north/" + present + ".csv"), new byte[] {0, 1, 2, 3});
        file("north", present.plusYears(1), "e,2026-01-01,1\n");
        service.client("run", "labs");
        assertThat(states("east")).containsExactly("arrived", "arrived", "awaited", "awaited");
        assertThat(states("north")).containsExactly("arrived", "missing", "awaited", "rejected");
        assertThat(states("wset")).containsExactly("none", "arrived", "none", "none");
        Result all = service.client("calendar");
        assertThat(all.status()).isEqualTo(1);
        assertThat(all.out().replaceAll("\\s+", " "))
                .contains("labs wset (not due)")
                .contains("has the same content as another file")
                .contains("(run 1)")
                .contains(present.plusYears(1) + ".csv: its name bears the date of a period that lies ahead");

        long run = service.get("/runs?job=labs").path(0).path("run").asLong();
        service.client("undo", String.valueOf(run));
        assertThat(states("east")).containsExactly("missing", "missing", "awaited", "awaited");
        ByteArrayOutputStream metrics = new ByteArrayOutputStream();
        service.api().copy("/metrics", metrics);
        assertThat(metrics.toString(StandardCharsets.UTF_8))
                .containsPattern("hapster_arrivals\\{job=\"labs\",state=\"missing\"} [1-9]")
                .contains("hapster_last_run_failed{job=\"labs\"} 0.0");
        assertThat(service.client("calendar", "labs").out().replaceAll("\\s+", " "))
                .contains("was taken out again");
        service.client("run", "labs");
        assertThat(states("east")).containsExactly("arrived", "arrived", "awaited", "awaited");

        file("north", present.minusMonths(2), "f,2026-01-01,1\n"); // corrected, long after it was due
        Files.delete(workspace.resolve("in/north/" + present + ".csv"));
        service.client("run", "labs");
        assertThat(states("north"))
                .as("nobody looked when it was due; a rejected file that is gone is still rejected")
                .containsExactly("arrived", "arrived", "awaited", "rejected");
        service.client("dismiss", "labs", "north/" + present + ".csv", "--because", "a test of theirs");
        assertThat(states("north")).containsExactly("arrived", "arrived", "awaited", "awaited");

        service.client("jobs", "rename", "labs", "laboratories");
        JsonNode renamed = service.get("/jobs/laboratories/calendar");
        assertThat(renamed.path("counts").path("arrived").asInt()).isEqualTo(5);
        assertThat(renamed.path("periods")).hasSize(4);
        service.kill();
        service.startAgain();
        assertThat(service.get("/jobs/laboratories/calendar")).isEqualTo(renamed);
    }

    @Test
    void aFileADayUnderOneNameAndAProposal() throws Exception {
        job("*.csv", "due: {files: at least 1, by: \"00:00\", zone: UTC}\n");
        Workspaces.write(workspace, "in/now.csv", HEADER + "a,2026-01-01,1\n");
        service.client("run", "labs");
        JsonNode calendar = service.get("/jobs/labs/calendar");
        assertThat(calendar.path("periods").path(0).asText())
                .isIn(
                        LocalDate.now(ZoneOffset.UTC).toString(),
                        LocalDate.now(ZoneOffset.UTC).minusDays(1).toString());
        assertThat(calendar.path("counts").path("arrived").asInt()).isEqualTo(1);
        assertThat(service.client("calendar", "labs", "--propose").out())
                .contains("each: day")
                .contains("does not tell how often they are due");

        for (int month = 1; month <= 4; month++) {
            file("north", YearMonth.of(2026, month), "n" + month + ",2026-01-01,1\n");
            file("east", YearMonth.of(2026, month), "e" + month + ",2026-01-01,1\nx,2026-01-01,1\n");
        }
        job("{lab}/{month:yyyy-MM}.csv", "");
        service.client("run", "labs");
        String proposal = service.client("calendar", "labs", "--propose").out();
        assertThat(proposal)
                .contains("each: month   # in 4 of them files arrived, 2026-01 to 2026-04")
                .contains("facts: {lab: [\"east\", \"north\"]}")
                .contains("now.csv")
                .contains("files: 1");
        job("{lab}/{month:yyyy-MM}.csv", proposal.substring(0, proposal.indexOf("\n\n") + 1));
        assertThat(states("north").subList(0, 4)).containsOnly("arrived");
    }

    @Test
    void mistakesAreSaidWithTheirPlace() throws Exception {
        job("{lab}/{month:yyyy-MM}.csv", "due: {each: month, facts: {labs: [north]}, by: \"08:00\", from: 2027}\n");
        Result calendar = service.client("calendar", "labs");
        assertThat(calendar.status()).isEqualTo(1);
        assertThat(calendar.err())
                .contains("jobs/labs.yaml:4")
                .contains("Did you mean 'lab'?")
                .contains("does not say on which day of the month");
        assertThat(service.client("calendar", "labs", "--periods", "0").status())
                .isEqualTo(2);
        assertThat(service.client("calendar", "lbas").err()).contains("labs");
    }
}
