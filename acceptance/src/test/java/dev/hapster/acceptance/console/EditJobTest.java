package dev.hapster.acceptance.console;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Locator.GetByLabelOptions;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Page.GetByRoleOptions;
import com.microsoft.playwright.options.AriaRole;
import dev.hapster.acceptance.TestService;
import dev.hapster.demo.DemoWorkspace;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.assertj.core.api.Assertions;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The rules of the eastern laboratory are repaired in the console, with the rows in view that break them. */
class EditJobTest {

    private static final String BARE =
            """
            # The eastern laboratory
            job: east-lab
            into: river_samples
            find:
              - folder: inbox/east
                take: ["fair.csv"]   # one is enough here
            """;

    private static final Pattern MORE = Pattern.compile("^\\d+ more$");

    @TempDir
    private Path folder;

    private TestService service;
    private Browser browser;
    private Page page;

    @BeforeEach
    void start() throws Exception {
        DemoWorkspace.write(folder);
        Files.writeString(folder.resolve("jobs/east-lab.yaml"), BARE);
        // without the rows that no rule can repair
        Files.writeString(
                folder.resolve("inbox/east/fair.csv"),
                Files.readAllLines(folder.resolve("inbox/east/samples-2026-04.csv"), StandardCharsets.ISO_8859_1)
                                .stream()
                                .filter(line -> !line.contains(";1.2,"))
                                .collect(Collectors.joining("\n"))
                        + "\n",
                StandardCharsets.ISO_8859_1);
        service = TestService.start(folder);
        browser = new Browser();
        page = browser.page(service.url() + "/jobs/east-lab/edit?file=fair.csv");
    }

    @AfterEach
    void stop() {
        browser.close();
        service.close();
    }

    private void fill(String key, String text) {
        Locator field = page.getByLabel(key, new Page.GetByLabelOptions().setExact(true));
        field.fill(text);
        field.press("Tab");
    }

    private void column(String name, String... keysAndTexts) {
        Locator summary = page.locator(".MuiAccordionSummary-root")
                .filter(new Locator.FilterOptions()
                        .setHasText(Pattern.compile("^" + name + "(text|decimal|timestamp)")));
        summary.click();
        Locator region = page.locator(".MuiAccordion-root.Mui-expanded");
        for (int i = 0; i < keysAndTexts.length; i += 2) {
            Locator field = region.getByLabel(keysAndTexts[i], new GetByLabelOptions().setExact(true));
            region.getByText(MORE).or(field).first().waitFor();
            while (!field.isVisible()) { // what comes back from the service may move the button away
                region.getByText(MORE).or(field).first().click();
                page.waitForTimeout(100);
            }
            if (keysAndTexts[i + 1].startsWith("choose ")) {
                field.click();
                page.getByRole(
                                AriaRole.OPTION,
                                new GetByRoleOptions()
                                        .setName(keysAndTexts[i + 1].substring(7))
                                        .setExact(true))
                        .click();
            } else {
                field.fill(keysAndTexts[i + 1]);
                field.press("Tab");
            }
        }
        summary.click();
        assertThat(region).hasCount(0);
    }

    @Test
    void theRulesAreRepairedInTheFormsAlone() throws Exception {
        assertThat(page.getByText("fair.csv would be rejected as a whole")).isVisible();
        fill("separator", ";");
        fill("encoding", "windows-1252");
        page.getByText(MORE).first().click();
        fill("lines_above", "3");
        fill("empty_as", "\"\"\n-");
        column("sample_id", "from", "Probe");
        column("station", "from", "Messstelle", "clean", "trim\nupper\nremove: -\nreplace: VS = VS-");
        column("sampled_at", "from", "Entnahme", "pattern", "dd.MM.yyyy HH:mm\ndd.MM.yyyy");
        column(
                "parameter",
                "from",
                "Parameter",
                "clean",
                "trim\nlower\nreplace: nitrat = nitrate\nreplace: phosphat = phosphate\nreplace: trübung = turbidity");
        column("unit", "from", "Einheit");
        column("lab", "value", "East");
        column("value", "from", "Messwert");
        assertThat(page.getByText("of them rejected").first()).isVisible();
        assertThat(page.locator("[data-fault=number-unreadable]").first()).isVisible();
        column("value", "decimal", "choose ,", "thousands", "choose .");
        assertThat(page.locator("[data-fault=number-unreadable]")).hasCount(0);
        page.getByLabel("only rejected").click();
        page.getByLabel("look at all rows").click();
        assertThat(page.locator("[data-fault=value-not-allowed]").first()).isVisible();
        fill("keep", "parameter != 'chlorid'");
        assertThat(page.getByText("found 0 in all")).isVisible();

        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Save")).click();
        assertThat(page.getByText("jobs/east-lab.yaml, as it is saved")).isVisible();
        Assertions.assertThat(folder.resolve("jobs/east-lab.yaml"))
                .hasContent(
                        BARE
                                + """
                        read: {separator: ";", encoding: windows-1252, lines_above: 3, empty_as: ["", "-"]}
                        map:
                          sample_id: {from: Probe}
                          station: {from: Messstelle, clean: [trim, upper, {remove: "-"}, {replace: {VS: VS-}}]}
                          sampled_at: {from: Entnahme, pattern: ["dd.MM.yyyy HH:mm", "dd.MM.yyyy"]}
                          parameter: {from: Parameter, clean: [trim, lower, {replace: {nitrat: nitrate}}, {replace: {phosphat: phosphate}}, {replace: {trübung: turbidity}}]}
                          unit: {from: Einheit}
                          lab: {value: East}
                          value: {from: Messwert, decimal: ",", thousands: .}
                        keep: "parameter != 'chlorid'"
                        """);
        Assertions.assertThat(
                        service.run("east-lab").path("rows").path("rejected").asLong())
                .isZero();
    }

    @Test
    void factsLookupsAndColumnsOfTheDatasetAreAddedInTheForms() throws Exception {
        Files.createDirectories(folder.resolve("lookups"));
        Files.writeString(folder.resolve("lookups/labs.csv"), "code,name\neast,East\n");
        page.getByText(MORE).first().click();
        press("facts …");
        page.getByLabel("a name for facts").fill("site");
        press("Add");
        Locator fact = page.getByRole(AriaRole.GROUP, new Page.GetByRoleOptions().setName("site"));
        Locator after = fact.getByLabel("after", new GetByLabelOptions().setExact(true));
        after.fill("Labor:");
        after.press("Tab");
        page.locator(".MuiAccordionSummary-root")
                .filter(new Locator.FilterOptions().setHasText(Pattern.compile("^lab")))
                .click();
        Locator lookupButton = page.getByRole(
                AriaRole.BUTTON, new GetByRoleOptions().setName("lookup …").setExact(true));
        page.locator(".MuiAccordion-root.Mui-expanded")
                .getByText(MORE)
                .or(lookupButton)
                .first()
                .click();
        if (lookupButton.isVisible()) {
            lookupButton.click();
        }
        Locator lookup = page.getByRole(AriaRole.GROUP, new Page.GetByRoleOptions().setName("lookup"));
        for (String pair : List.of("file lookups/labs.csv", "by code", "take name", "with \"east\"")) {
            Locator field =
                    lookup.getByLabel(pair.substring(0, pair.indexOf(' ')), new GetByLabelOptions().setExact(true));
            field.fill(pair.substring(pair.indexOf(' ') + 1));
            field.press("Tab");
            assertThat(page.locator(".MuiAccordionSummary-root.Mui-expanded"))
                    .containsText('"' + pair.substring(0, pair.indexOf(' ')) + '"');
        }
        press("dataset river_samples");
        page.getByLabel("a new column").fill("remark");
        page.getByLabel("a new column").press("Enter");
        column("remark", "length", "80");
        column("value", "min", "1");
        press("Save");
        assertThat(page.getByText("datasets/river_samples.yaml, as it is saved"))
                .isVisible();
        Assertions.assertThat(Files.readString(folder.resolve("datasets/river_samples.yaml")))
                .contains("- {name: remark, type: text, length: 80}");
        press("job *");
        press("Save");
        assertThat(page.getByText("jobs/east-lab.yaml, as it is saved")).isVisible();
        Assertions.assertThat(Files.readString(folder.resolve("jobs/east-lab.yaml")))
                .isEqualTo(
                        BARE
                                + """
                        read:
                          facts: {site: {after: "Labor:"}}
                        map:
                          lab: {lookup: {file: lookups/labs.csv, by: code, take: name, with: "\\"east\\""}}
                        """);
    }

    @Test
    void theSameRowsAreSeenAtAnotherStage() {
        page.navigate(service.url() + "/jobs/north-lab/rows?file=samples-2026-02.csv");
        Locator rows = page.getByRole(AriaRole.ROW);
        rows.nth(5).waitFor();
        page.getByRole(AriaRole.TABLE).or(page.getByRole(AriaRole.GRID)).first().hover();
        page.mouse().wheel(0, 2_000);
        page.waitForTimeout(300);
        Locator far =
                page.getByText("70", new Page.GetByTextOptions().setExact(true)).first();
        assertThat(far).isInViewport();
        press("read");
        assertThat(page.getByRole(AriaRole.COLUMNHEADER, new Page.GetByRoleOptions().setName("Sample No.")))
                .isVisible();
        assertThat(far).isInViewport();
        press("cleaned");
        assertThat(page.getByRole(AriaRole.COLUMNHEADER, new Page.GetByRoleOptions().setName("sample_id")))
                .isVisible();
        assertThat(far).isInViewport();
    }

    @Test
    void aMistakeInTheTextIsMarkedAtItsPlaceAndTwoPeopleAreToldOfEachOther() throws Exception {
        page.navigate(service.url() + "/jobs/east-lab/edit?as=text");
        Locator text = page.getByLabel("jobs/east-lab.yaml");
        text.click();
        page.keyboard().press("Control+End");
        page.keyboard().insertText("keep: \"vlaue > 0\"");
        long typed = System.nanoTime();
        Locator mark = page.locator(".cm-lintRange-error");
        mark.waitFor();
        System.out.printf(
                Locale.ROOT,
                "A mistake is marked after %d ms%n",
                Duration.ofNanos(System.nanoTime() - typed).toMillis());
        assertThat(mark).hasText("vlaue");
        assertThat(page.getByText("there is no 'vlaue'. Did you mean")).hasCount(0);
        assertThat(page.getByText("Did you mean 'value'?")).isVisible();
        assertThat(page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Save")))
                .isDisabled();
        page.keyboard().press("Control+z");
        page.keyboard().insertText("keep: \"value > 0\"\n");

        Files.writeString(folder.resolve("jobs/east-lab.yaml"), BARE + "about: theirs\n");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Save")).click();
        assertThat(page.getByText("Somebody else has saved jobs/east-lab.yaml in the meantime"))
                .isVisible();
        assertThat(page.getByLabel("The difference")).containsText("about: theirs");
        page.getByText("Keep mine and overwrite theirs").click();
        Assertions.assertThat(folder.resolve("jobs/east-lab.yaml")).hasContent(BARE + "about: theirs\n");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Save")).click();
        assertThat(page.getByText("jobs/east-lab.yaml, as it is saved")).isVisible();
        Assertions.assertThat(folder.resolve("jobs/east-lab.yaml")).hasContent(BARE + "keep: \"value > 0\"\n");
    }

    @Test
    void aJobIsDeletedWithItsRowsOrWithout() throws Exception {
        long rows = service.run("loggers").path("rows").path("loaded").asLong();
        page.navigate(service.url() + "/jobs/loggers");
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Delete …"))
                .click();
        assertThat(page.getByText("that it loaded stay in river_samples")).isVisible();
        page.getByLabel("take its rows out of river_samples as well").click();
        assertThat(page.getByText("out of river_samples, 0 rows come back")).isVisible();
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Delete").setExact(true))
                .click();
        assertThat(page).hasURL(service.url() + "/");
        Assertions.assertThat(rows).isPositive();
        Assertions.assertThat(folder.resolve("jobs/loggers.yaml")).doesNotExist();
        Assertions.assertThat(
                        service.get("/datasets/river_samples").path("rows").asLong())
                .isZero();
    }

    private void press(String button) {
        page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName(button).setExact(true))
                .click();
    }

    private void name(String button, String label, String name) {
        press(button + " …");
        page.getByLabel(label).fill(name);
        press(button);
    }

    @Test
    void jobsAndDatasetsGetOtherNamesAndADatasetIsDeletedOnceNothingLoadsIntoIt() throws Exception {
        service.run("loggers");
        page.navigate(service.url() + "/jobs/loggers");
        name("Rename", "New name", "north-lab");
        assertThat(page.getByText("there is a job of that name already")).isVisible();
        page.getByLabel("New name").fill("sensors");
        press("Rename");
        assertThat(page).hasURL(service.url() + "/jobs/sensors");
        Assertions.assertThat(
                        service.run("sensors").path("files").path("unchanged").asLong())
                .isPositive();
        page.navigate(service.url() + "/datasets/river_samples");
        name("Rename", "New name", "vessa");
        assertThat(page.getByRole(AriaRole.HEADING, new GetByRoleOptions().setName("vessa")))
                .isVisible();
        press("Delete …");
        assertThat(page.getByText("6 jobs load into it")).isVisible();
        press("Leave it as it is");
        name("Copy", "Name of the new dataset", "lakes");
        assertThat(page.getByText("0 rows in 0 parts")).isVisible();
        press("Delete …");
        press("Delete");
        assertThat(page).hasURL(service.url() + "/datasets");
        Assertions.assertThat(folder.resolve("datasets/lakes.yaml")).doesNotExist();
        for (String job : List.of("north-lab", "east-lab", "harbour", "history", "field-visits", "sensors")) {
            service.api().delete("/jobs/" + job);
        }
        page.navigate(service.url() + "/datasets/vessa");
        press("Delete …");
        assertThat(page.getByRole(
                        AriaRole.BUTTON,
                        new GetByRoleOptions().setName("Delete").setExact(true)))
                .isDisabled();
        page.getByText("take out ").click();
        press("Delete");
        assertThat(page).hasURL(service.url() + "/datasets");
        Assertions.assertThat(service.get("/datasets")).isEmpty();
    }
}
