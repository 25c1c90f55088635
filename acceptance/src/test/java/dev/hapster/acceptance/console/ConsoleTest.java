package dev.hapster.acceptance.console;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.microsoft.playwright.Download;
import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Page.GetByRoleOptions;
import com.microsoft.playwright.options.AriaRole;
import dev.hapster.acceptance.TestService;
import dev.hapster.demo.DemoWorkspace;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import org.junit.jupiter.api.io.TempDir;

/**
 * The console as somebody uses it who asks: did everything arrive, what was rejected, and why. One service, one journey
 * after another.
 */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class ConsoleTest {

    @TempDir
    private static Path folder;

    private static TestService service;
    private static Browser browser;

    @BeforeAll
    static void start() throws Exception {
        DemoWorkspace.write(folder);
        service = TestService.start(folder);
        browser = new Browser();
    }

    @AfterAll
    static void stop() throws Exception {
        browser.close();
        service.close();
    }

    @Test
    @Order(1)
    void aRunIsStartedWatchedAndItsRejectsFollowedToTheirLine() throws Exception {
        List<String> errors = new ArrayList<>();
        Page page = browser.page(service.url());
        page.onPageError(errors::add);
        assertThat(page.getByText("Nothing has run yet")).isVisible();
        page.getByRole(AriaRole.LINK, new GetByRoleOptions().setName("east-lab"))
                .click();

        assertThat(page).hasURL(Pattern.compile(".*/jobs/east-lab"));
        assertThat(page.getByRole(AriaRole.TABLE, new GetByRoleOptions().setName("Files found")))
                .containsText("samples-2026-06.csv.part");
        assertThat(page.getByRole(AriaRole.TABLE, new GetByRoleOptions().setName("Files found")))
                .containsText("waiting: has an unfinished name");
        assertThat(page.getByRole(AriaRole.LIST, new GetByRoleOptions().setName("Rules of inbox/east")))
                .containsText("6 remain");
        page.getByText("samples-2026-03.csv").first().click();
        Locator lines = page.getByRole(AriaRole.TABLE, new GetByRoleOptions().setName("Lines of samples-2026-03.csv"));
        assertThat(lines).containsText("Probe,Messstelle,Entnahme");
        assertThat(page).hasURL(Pattern.compile(".*peek=samples-2026-03.csv"));
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Last")).click();
        assertThat(lines.getByRole(AriaRole.ROW).last()).containsText("429");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Close")).click();
        Locator rows = page.getByRole(AriaRole.TABLE, new GetByRoleOptions().setName("Files found"));
        rows.locator("[role=row][tabindex='0']").focus();
        page.keyboard().press("Home");
        page.keyboard().press("ArrowDown");
        page.keyboard().press("ArrowDown");
        page.keyboard().press("ArrowUp");
        String second = rows.locator("[data-index='1'] [role=cell]").first().textContent();
        page.keyboard().press("Enter");
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText(second.replaceFirst("^\\W+", ""));
        page.keyboard().press("Escape");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Run").setExact(true))
                .click();

        assertThat(page).hasURL(Pattern.compile(".*/runs/\\d+"));
        assertThat(page.locator("[data-state=finished]")).isVisible();
        assertThat(page.getByText("1\u202f184 loaded + 11 set aside + 50 rejected"))
                .isVisible();
        assertThat(page.locator("[data-holds=true]")).hasCount(3);

        page.locator("[data-reason=date-unreadable] button").click();
        Locator first = page.getByRole(AriaRole.TABLE, new GetByRoleOptions().setName("Rejected rows"))
                .getByRole(AriaRole.ROW)
                .first();
        assertThat(first).containsText("samples-2026-02.csv:13");
        assertThat(first).containsText("is not a valid date");
        assertThat(first).containsText("O20009;VS-003;30.02.2026 08:00;Nitrat");
        assertThat(page).hasURL(Pattern.compile(".*open=east-lab.date-unreadable.sampled_at"));

        page.navigate(service.url() + "/rejects");
        assertThat(page.getByText("Currently rejected: 4 reasons")).isVisible();
        assertThat(errors).isEmpty();
    }

    @Test
    @Order(2)
    void aDatasetIsSortedNarrowedAndCountedByTwoColumns() throws Exception {
        assertThat(service.run("north-lab").path("state").asText()).isEqualTo("finished");
        assertThat(service.run("loggers").path("state").asText()).isEqualTo("finished");
        Page page = browser.page(service.url() + "/datasets/river_samples");
        Locator rows = page.getByRole(AriaRole.TABLE, new GetByRoleOptions().setName("Rows of river_samples"));

        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("value").setExact(true))
                .click();
        page.getByRole(
                        AriaRole.BUTTON,
                        new GetByRoleOptions().setName("value ↑").setExact(true))
                .click();
        assertThat(rows.getByRole(AriaRole.ROW).nth(1)).containsText("dump-2026-part1.txt:398");
        assertThat(rows.getByRole(AriaRole.ROW).nth(1)).containsText("45.5360");
        page.getByLabel("Condition").fill("lab = North");
        page.getByLabel("Condition").press("Enter");
        assertThat(page.getByText("1\u202f882 rows that match the conditions")).isVisible();
        assertThat(page).hasURL(Pattern.compile(".*where=lab.*sort=-value|.*sort=-value.*where=lab.*"));
        page.getByLabel("Condition").fill("valu > 3");
        page.getByLabel("Condition").press("Enter");
        assertThat(page.getByText("There is no column 'valu'. Did you mean 'value'?"))
                .isVisible();

        page.navigate(service.url() + "/datasets/river_samples?view=counts");
        page.getByLabel("Count by").click();
        page.getByRole(AriaRole.OPTION, new GetByRoleOptions().setName("lab").setExact(true))
                .click();
        page.getByLabel("and by").click();
        page.getByRole(AriaRole.OPTION, new GetByRoleOptions().setName("sampled_at:month"))
                .click();
        Locator counts = page.getByRole(AriaRole.TABLE, new GetByRoleOptions().setName("Counts"));
        assertThat(counts.getByRole(AriaRole.ROW)
                        .filter(new Locator.FilterOptions().setHasText("North"))
                        .first())
                .containsText("2026-01");
        assertThat(counts.getByRole(AriaRole.ROW)
                        .filter(new Locator.FilterOptions().setHasText("North"))
                        .first())
                .containsText("441");
        assertThat(page.locator("svg rect[fill], svg path[fill]").first()).isVisible();
        page.getByLabel("Find out in each group").click();
        page.getByRole(AriaRole.OPTION, new GetByRoleOptions().setName("max(value)"))
                .click();
        page.keyboard().press("Escape");
        assertThat(page.getByText("max(value) of all 45.536")).isVisible();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Queries …"))
                .click();
        page.getByRole(AriaRole.MENUITEM, new GetByRoleOptions().setName("Save what is asked now …"))
                .click();
        page.getByLabel("Name").fill("months");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Save").setExact(true))
                .click();
        assertThat(page.getByRole(AriaRole.DIALOG)).hasCount(0);
        page.navigate(service.url() + "/queries/months");
        page.getByRole(AriaRole.LINK, new GetByRoleOptions().setName("441")).click();
        assertThat(page.getByText("441 rows that match the conditions")).isVisible();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Columns …"))
                .click();
        page.getByLabel("Move value up").click();
        page.getByLabel("unit", new Page.GetByLabelOptions().setExact(true)).uncheck();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Show")).click();
        assertThat(page).hasURL(Pattern.compile(".*columns=sampled_at.*columns=value&columns=parameter.*"));
        assertThat(page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("6 of 7 columns …")))
                .isVisible();

        page.navigate(service.url() + "/datasets/river_samples?columns=lab&columns=value&where=value%20%3E%2040");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Export …"))
                .click();
        page.getByLabel("Name of lab").fill("value");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Save the file"))
                .click();
        assertThat(page.getByText("Two columns would be called \"value\"")).isVisible();
        page.getByLabel("Name of lab").fill("Laboratory");
        Download file = page.waitForDownload(
                () -> page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Save the file"))
                        .click());
        org.assertj.core.api.Assertions.assertThat(Files.readAllLines(file.path()))
                .hasSize(5)
                .startsWith("Laboratory,value")
                .contains("North,40.7680");

        page.navigate(service.url() + "/datasets/river_samples?view=profile");
        page.getByRole(AriaRole.ROW)
                .filter(new Locator.FilterOptions().setHasText("45.5360"))
                .click();
        assertThat(page.getByRole(AriaRole.HEADING, new GetByRoleOptions().setName("value")))
                .isVisible();
        Locator frequent = page.getByRole(AriaRole.TABLE, new GetByRoleOptions().setName("Most frequent values"));
        String count = frequent.getByRole(AriaRole.LINK).first().innerText();
        frequent.getByRole(AriaRole.LINK).first().click();
        assertThat(page.getByText(count + " rows that match the conditions")).isVisible();
    }

    @Test
    @Order(2)
    void deliversOnCall() {
        Page page = browser.page(service.url() + "/datasets/river_samples?view=deliveries");
        page.getByRole(AriaRole.ROW)
                .filter(new Locator.FilterOptions().setHasText("ministry"))
                .click();
        assertThat(page.getByText("It was never done.")).isVisible();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Try")).click();
        assertThat(page.getByText("1 file would be written, 0 unchanged, 0 removed"))
                .isVisible();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Deliver now"))
                .click();
        assertThat(page.getByText("1 written, 0 unchanged, 0 removed")).isVisible();
        assertThat(page.getByText("out/ministry/nitrate.xlsx").last()).isVisible();
    }

    @Test
    @Order(3)
    void showsWhenJobsRunAndPausesThem() {
        Page page = browser.page(service.url() + "/schedule");
        Locator visits = page.getByRole(AriaRole.ROW).filter(new Locator.FilterOptions().setHasText("field-visits"));
        assertThat(visits.getByText("at 30 7 * * MON-FRI (Europe/Vienna)")).isVisible();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Pause field-visits"))
                .click();
        page.getByLabel("Why, for others").fill("the team is away");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Pause").setExact(true))
                .click();
        assertThat(visits.getByText("paused")).isVisible();
        page.getByRole(AriaRole.LINK, new GetByRoleOptions().setName("field-visits"))
                .click();
        assertThat(page.getByText("the team is away")).isVisible();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Resume field-visits"))
                .click();
        assertThat(page.getByLabel("Next times").getByRole(AriaRole.LISTITEM)).hasCount(10);
        page.navigate(service.url() + "/jobs/field-visits/edit");
        assertThat(page.getByLabel("Next times").getByRole(AriaRole.LISTITEM).first())
                .containsText("07:30");
    }

    @Test
    @Order(3)
    void showsWhetherEverythingArrived() throws Exception {
        Page page = browser.page(service.url());
        page.getByRole(AriaRole.LINK, new GetByRoleOptions().setName("Arrivals").setExact(true))
                .last()
                .click();
        Locator grid = page.getByRole(AriaRole.REGION, new Page.GetByRoleOptions().setName("Arrivals by month"));
        Locator east = grid.getByRole(AriaRole.ROW).filter(new Locator.FilterOptions().setHasText("east-lab"));
        assertThat(east).containsText("1 missing, 2 rejected");
        assertThat(page.getByLabel("Findings")).containsText("samples-2026-03.csv: looks separated by");
        assertThat(page.getByLabel("Findings")).containsText("nothing there by 2026-07-05 08:00");
        east.getByRole(AriaRole.LINK, new Locator.GetByRoleOptions().setName("2026-05: rejected"))
                .click();
        assertThat(page).hasURL(Pattern.compile(".*/runs/\\d+"));
        page.navigate(service.url() + "/jobs/harbour");
        assertThat(page.getByRole(AriaRole.HEADING, new GetByRoleOptions().setName("Did everything arrive?")))
                .isVisible();
        page.navigate(service.url() + "/datasets/river_samples");
        page.getByRole(AriaRole.TAB, new GetByRoleOptions().setName("Arrivals")).click();
        assertThat(page.getByRole(AriaRole.REGION, new GetByRoleOptions().setName("Arrivals by month")))
                .containsText("east-lab");
        page.navigate(service.url() + "/messages");
        assertThat(page.getByText("No message was made yet")).isVisible();
        Files.writeString(
                folder.resolve("accounts.yaml"),
                "accounts: [{name: nowhere, mail: {host: 127.0.0.1, port: 1, from: hapster@vessa.example}}]\n");
        service.client("messages", "--try", "nowhere", "--to", "mira@vessa.example");
        page.reload();
        page.getByRole(AriaRole.ROW)
                .filter(new Locator.FilterOptions().setHasText("a trial message"))
                .click();
        assertThat(page.getByText("cannot be reached")).isVisible();
        assertThat(page.getByLabel("Text", new Page.GetByLabelOptions().setExact(true)))
                .containsText("by the account nowhere");
    }

    @Test
    @Order(3)
    void whatAJobsFilesHoldIsSeenBeforeTheyAreLoaded() {
        Page page = browser.page(service.url() + "/jobs/east-lab");
        page.getByRole(AriaRole.LINK, new GetByRoleOptions().setName("Profile")).click();
        assertThat(page.getByText("nothing was loaded")).isVisible();
        page.getByRole(AriaRole.ROW)
                .filter(new Locator.FilterOptions().setHasText("station"))
                .click();
        assertThat(page.getByRole(AriaRole.HEADING, new GetByRoleOptions().setName("station")))
                .isVisible();
        assertThat(page.getByText("rejects").first()).isVisible();
    }

    @Test
    @Order(3)
    void theSearchGoesToAJobAndTheThemeIsKept() {
        Page page = browser.page(service.url());
        page.getByText("Jobs", new Page.GetByTextOptions().setExact(true)).waitFor();
        page.keyboard().press("/");
        page.keyboard().type("logg");
        page.getByRole(AriaRole.OPTION, new GetByRoleOptions().setName("loggers"))
                .click();
        assertThat(page).hasURL(Pattern.compile(".*/jobs/loggers"));
        page.getByLabel("Dark theme").click();
        page.reload();
        assertThat(page.getByLabel("Light theme")).isVisible();
    }

    @Test
    @Order(4)
    void aJobIsCheckedAndTriedBeforeItRunsAndABrokenOneSaysWhere() throws Exception {
        Page page = browser.page(service.url() + "/jobs/east-lab");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Check").setExact(true))
                .click();
        assertThat(page.getByText("Checked: it can run")).isVisible();
        assertThat(page.getByText("would be rejected: holds 0 bytes")).isVisible();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Try").setExact(true))
                .click();
        assertThat(page.getByText("Tried, nothing written")).isVisible();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("As its file"))
                .click();
        assertThat(page.getByLabel("jobs/east-lab.yaml")).containsText("lines_above: 3");

        Files.writeString(
                folder.resolve("jobs/broken.yaml"),
                "job: broken\ninto: river_samples\nfind:\n  - {folder: inbox, tkae: x}\n");
        page.navigate(service.url() + "/jobs/broken");
        assertThat(page.getByText("unknown key 'tkae'")).isVisible();
        assertThat(page.getByText("Did you mean 'take'?")).isVisible();
        assertThat(page.getByText("jobs/broken.yaml:4:21")).isVisible();
        assertThat(page.getByRole(
                        AriaRole.BUTTON, new GetByRoleOptions().setName("Run").setExact(true)))
                .isDisabled();
        page.navigate(service.url() + "/runs/99");
        assertThat(page.getByText("There is no run 99")).isVisible();
        page.navigate(service.url() + "/jobs/nobody");
        assertThat(page.getByText("There is no job 'nobody'")).isVisible();
        Files.delete(folder.resolve("jobs/broken.yaml"));
    }

    @Test
    @Order(5)
    void rulesAreBuiltFromNothingWhileTheListFollowsAndAreSavedAsAPersonWritesThem() throws Exception {
        Path file = folder.resolve("jobs/fresh.yaml");
        Files.writeString(
                file,
                """
                # A job that nobody has finished.
                job: fresh
                into: river_samples

                # As the north writes it.
                map: {sample_id:   Sample No., station: Site, sampled_at: Taken, value: Result}
                """);
        List<String> errors = new ArrayList<>();
        Page page = browser.page(service.url() + "/jobs/fresh");
        page.onPageError(errors::add);
        assertThat(page.getByText("'find' is missing")).isVisible();
        page.getByText("change the rules").click();
        Locator files = page.getByRole(AriaRole.TABLE, new GetByRoleOptions().setName("Files found"));
        Locator save = page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Save"));
        assertThat(save).isDisabled();

        page.getByLabel("Folder of a new place").fill("inbox/no");
        page.getByRole(AriaRole.OPTION, new GetByRoleOptions().setName("inbox/north"))
                .click();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Look there"))
                .click();
        assertThat(page.locator("[data-taken='7']")).isVisible();
        page.getByLabel("take 1", exactly()).fill("samples-*.csv");
        assertThat(page.locator("[data-taken='5']")).isVisible();
        assertThat(page.locator("[data-rule=take]")).containsText("5 remain");
        rule(page, "skip");
        assertThat(page.locator("[data-taken='4']")).isVisible();
        assertThat(files).containsText("skip \"*copy*\"");
        rule(page, "size");
        assertThat(page.getByLabel("size from")).hasValue("35 B");
        page.getByLabel("size from").fill("25 kB");
        page.getByLabel("size to").fill("");
        assertThat(page.locator("[data-taken='2']")).isVisible();
        rule(page, "modified");
        assertThat(page.getByLabel("modified", exactly())).hasValue("2026-05-04 to 2026-05-04");
        page.getByLabel("modified", exactly()).fill("since 5.5.2026");
        assertThat(page.locator("[data-taken='0']")).isVisible();
        assertThat(page.locator("[data-rule=modified]")).containsText("removed the last");
        page.getByLabel("modified", exactly()).fill("since 4.5.");
        assertThat(page.getByText("'4.5.' is not a time")).isVisible();
        page.getByLabel("modified", exactly()).fill("since 04.05.2026");
        assertThat(page.locator("[data-taken='2']")).isVisible();
        rule(page, "rank");
        page.getByLabel("rank by").click();
        page.getByRole(AriaRole.OPTION, new GetByRoleOptions().setName("largest"))
                .click();
        page.getByLabel("rank how many").fill("1");
        assertThat(page.locator("[data-taken='1']")).isVisible();
        page.getByLabel("Remove modified").click();
        page.getByLabel("Move size up").click();
        assertThat(page.locator("[data-rule]").nth(1)).hasAttribute("data-rule", "size");
        page.getByText("Undo").click();
        assertThat(page.locator("[data-rule]").nth(1)).hasAttribute("data-rule", "skip");
        page.getByLabel("Narrow the list").fill("COPY");
        assertThat(files.getByRole(AriaRole.ROW)).hasCount(2);

        assertThat(Files.readString(file))
                .as("nothing is written before it is saved")
                .doesNotContain("find");
        save.click();
        assertThat(save).isDisabled();
        page.waitForCondition(() -> says(file, "find"));
        assertThat(Files.readString(file))
                .isEqualTo(
                        """
                # A job that nobody has finished.
                job: fresh
                into: river_samples

                find:
                  - folder: inbox/north
                    take: ["samples-*.csv"]
                    skip: ["*copy*"]
                    size: {from: 25 kB}
                    rank: largest 1

                # As the north writes it.
                map: {sample_id:   Sample No., station: Site, sampled_at: Taken, value: Result}
                """);

        page.getByText("As text").click();
        page.getByLabel("jobs/fresh.yaml").fill(Files.readString(file).replace("largest 1", "largest 2"));
        assertThat(page.locator("[data-taken='2']")).isVisible();
        Files.writeString(file, Files.readString(file) + "# changed by somebody else\n");
        save.click();
        assertThat(page.getByText("was changed by somebody else in the meantime"))
                .isVisible();
        assertThat(errors).isEmpty();

        page.navigate(service.url() + "/jobs/fresh");
        page.getByText("Copy …").click();
        page.getByLabel("Name of the new job").fill("fresher");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Copy").setExact(true))
                .click();
        assertThat(page).hasURL(Pattern.compile(".*/jobs/fresher/find"));
        assertThat(Files.readString(folder.resolve("jobs/fresher.yaml")))
                .contains("job: fresher", "# changed by somebody else");
        Files.delete(file);
        Files.delete(folder.resolve("jobs/fresher.yaml"));
    }

    private static boolean says(Path file, String text) {
        try {
            return Files.readString(file).contains(text);
        } catch (java.io.IOException wrong) {
            throw new java.io.UncheckedIOException(wrong);
        }
    }

    private static Page.GetByLabelOptions exactly() {
        return new Page.GetByLabelOptions().setExact(true);
    }

    private static void rule(Page page, String name) {
        page.getByText("+ rule").click();
        page.getByRole(AriaRole.MENUITEM, new GetByRoleOptions().setName(Pattern.compile("^" + name)))
                .click();
    }

    @Test
    @Order(6)
    void filesAreSeenAgainstColumns() {
        Page page = browser.page(service.url() + "/jobs/east-lab");
        page.getByRole(AriaRole.LINK, new GetByRoleOptions().setName("Fit").setExact(true))
                .click();
        Locator matrix = page.getByRole(AriaRole.TABLE, new GetByRoleOptions().setName("Files against columns"));
        assertThat(matrix).containsText("1. 3 files, fit");
        assertThat(matrix).containsText("2. 1 file, does not fit");
        assertThat(matrix.getByLabel("value: present")).containsText("Messwert");
        assertThat(matrix).containsText("its columns cannot be read");
        assertThat(page.getByText("looks separated by")).isVisible();
        matrix.getByRole(AriaRole.BUTTON, new Locator.GetByRoleOptions().setName("samples-2026-03.csv"))
                .click();
        assertThat(page.getByRole(AriaRole.TABLE, new GetByRoleOptions().setName("Lines of samples-2026-03.csv")))
                .containsText("Probe,Messstelle");
    }

    @Test
    @Order(7)
    void aRejectedValueIsFollowedToItsLineTheRuleMendedAndTheRowsTriedAgain() throws Exception {
        List<String> errors = new ArrayList<>();
        Page page = browser.page(service.url());
        page.onPageError(errors::add);
        Locator reason = page.locator("[data-reason=number-unreadable]")
                .filter(new Locator.FilterOptions().setHasText("north-lab"));
        reason.getByRole(AriaRole.BUTTON).first().click();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName(Pattern.compile("^samples-2026-01\\.csv:26\\b")))
                .click();
        Locator refused = page.locator("[data-trace] [data-refused=number-unreadable]");
        assertThat(refused).containsText("<0.05");
        assertThat(refused).containsText("decimal(12,4); min: 0");
        assertThat(page.getByText("With the current rules it is still rejected."))
                .isVisible();

        Locator mend =
                page.locator("[data-mend]").filter(new Locator.FilterOptions().setHasText("jobs/north-lab.yaml"));
        assertThat(mend).containsText("28 of 28 rows would fit");
        assertThat(mend).containsText("+   value:     {from: Result, clean: [{remove: \"<\"}]}");
        mend.getByRole(AriaRole.BUTTON).click();
        page.getByText("Retry from run").click();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Retry what was rejected"))
                .click();
        assertThat(page.getByText("retry of")).isVisible();
        assertThat(page.getByText("38 rows read = 28 loaded + 10 rejected")).isVisible();

        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Undo …"))
                .click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("28 rows go out of river_samples, 0 rows come back");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Undo").setExact(true))
                .click();
        assertThat(page.getByText("28 rows taken out again")).isVisible();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Undo …"))
                .click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("0 rows go out of river_samples, 28 rows come back");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Undo").setExact(true))
                .click();
        assertThat(page.getByText("28 rows put back")).isVisible();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Undo …"))
                .click();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Undo").setExact(true))
                .click();
        assertThat(page.getByText("28 rows taken out again")).isVisible();
        assertThat(errors).isEmpty();
    }

    @Test
    @Order(8)
    void rowsOfAJobAreRemovedFromADatasetAndPutBack() throws Exception {
        long rows = service.get("/datasets/river_samples").path("rows").asLong();
        Page page = browser.page(service.url() + "/datasets/river_samples?view=columns");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Remove …"))
                .last()
                .click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("1\u202f882 rows go out of river_samples");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Remove").setExact(true))
                .click();
        assertThat(page.getByText("removed: job north-lab")).isVisible();
        org.assertj.core.api.Assertions.assertThat(
                        service.get("/datasets/river_samples").path("rows").asLong())
                .isEqualTo(rows - 1882);
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Undo …"))
                .click();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Undo").setExact(true))
                .click();
        assertThat(page.getByText("1\u202f882 rows put back")).isVisible();
        org.assertj.core.api.Assertions.assertThat(
                        service.get("/datasets/river_samples").path("rows").asLong())
                .isEqualTo(rows);
    }

    @Test
    @Order(20)
    void aRunShowsItsLogAndWhatChangedInItsDefinitionsAndAJobItsTrend() throws Exception {
        service.run("/jobs/loggers/runs", "{\"again\": true}");
        JsonNode run = service.run("/jobs/loggers/runs", "{\"again\": true, \"label\": \"before the repair\"}");
        Path job = folder.resolve("jobs/loggers.yaml");
        Files.writeString(job, Files.readString(job).replaceFirst("(?m)^about: .*$", "about: Readings, in parts"));
        Page page = browser.page(service.url() + "/runs/" + run.path("run").asLong());
        Locator log = page.getByRole(AriaRole.LOG);
        assertThat(log).hasCount(0);
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("all").setExact(true))
                .last()
                .click();
        assertThat(log).containsText("Run " + run.path("run").asLong() + " of loggers");
        assertThat(log).containsText("replaced, 519 rows, 1 rejected");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("warnings"))
                .click();
        assertThat(log).not().containsText("finished");
        assertThat(page).hasURL(Pattern.compile(".*log=warn.*"));

        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Definitions"))
                .click();
        assertThat(page.getByLabel("What changed in jobs/loggers.yaml")).containsText("Readings, in parts");
        assertThat(page.getByText("is the same")).isVisible();

        assertThat(page.getByText("before the repair")).isVisible();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Label …"))
                .click();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Take it away"))
                .click();
        assertThat(page.getByText("before the repair")).hasCount(0);

        page.navigate(service.url() + "/jobs/loggers");
        assertThat(page.getByRole(AriaRole.IMG, new GetByRoleOptions().setName(Pattern.compile("^Rows loaded of "))))
                .isVisible();
        page.close();
    }

    @Test
    @Order(21)
    void rejectsOfAFileAreDismissedWithAReasonAndListedAgain() {
        Page page = browser.page(service.url() + "/rejects");
        Locator reason = page.locator("[data-reason=not-text]");
        reason.getByRole(AriaRole.BUTTON).first().click();
        assertThat(reason.locator(".MuiCollapse-entered")).isVisible(); // a button that still moves may miss its click
        reason.getByRole(AriaRole.BUTTON, new Locator.GetByRoleOptions().setName("Dismiss …"))
                .click();
        Locator dialog = page.getByRole(AriaRole.DIALOG);
        assertThat(dialog.getByLabel("File, or a pattern such as samples-2026-*.csv"))
                .hasValue(Pattern.compile("dump-2026-part5.txt$"));
        Locator perform = dialog.getByRole(
                AriaRole.BUTTON,
                new Locator.GetByRoleOptions().setName("Dismiss").setExact(true));
        assertThat(perform).isDisabled();
        dialog.getByLabel("Why").fill("the memory card is dead");
        perform.click();
        assertThat(page).hasURL(Pattern.compile(".*/runs/\\d+$"));
        assertThat(page.getByText("the memory card is dead")).isVisible();
        String entry = page.url().replaceFirst("^.*/", "");
        page.navigate(service.url() + "/rejects");
        assertThat(page.locator("[data-reason]").first()).isVisible();
        assertThat(reason).hasCount(0);
        service.client("undo", entry);
        page.navigate(service.url() + "/rejects");
        assertThat(reason).hasCount(1);
        page.close();
    }
}
