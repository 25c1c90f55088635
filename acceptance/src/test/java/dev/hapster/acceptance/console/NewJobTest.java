package dev.hapster.acceptance.console;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Page.GetByRoleOptions;
import com.microsoft.playwright.options.AriaRole;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.acceptance.elsewhere.ObjectServer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import org.assertj.core.api.Assertions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Somebody makes a job in the console, from a workspace without any, in a handful of clicks. */
class NewJobTest {

    private static final int MOST_CLICKS = 12;

    @TempDir
    private Path folder;

    private int clicks;

    private void click(Locator target) {
        target.click();
        clicks++;
    }

    @Test
    void aJobIsMadeFromAFolderAndRun() throws Exception {
        Path demo = Workspaces.demo(folder.resolve("demo"));
        Path workspace = Files.createDirectories(folder.resolve("ws"));
        Files.move(demo.resolve("inbox"), workspace.resolve("inbox"));
        List<String> errors = new ArrayList<>();
        try (TestService service = TestService.start(workspace);
                Browser browser = new Browser();
                Page page = browser.page(service.url() + "/")) {
            page.onConsoleMessage(message -> {
                if (message.type().equals("error")) {
                    errors.add(message.text());
                }
            });
            click(page.getByRole(AriaRole.LINK, new GetByRoleOptions().setName("New job")));
            click(page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("inbox/")));
            click(page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("north/")));
            click(page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Draft from this folder")));
            Locator columns = page.getByRole(AriaRole.TABLE, new GetByRoleOptions().setName("Columns of north"));
            assertThat(columns).containsText("35 values are not numbers");
            assertThat(page.getByText("29 would be rejected")).isVisible();
            assertThat(page.getByLabel("The first lines of samples-2026-01 - copy.csv"))
                    .containsText("Sample No.");

            Locator separator = page.getByLabel("Separator");
            separator.fill(";");
            separator.press("Enter");
            assertThat(page.getByText("as you chose; \";\" gives")).isVisible();
            separator.fill("");
            separator.press("Enter");
            assertThat(columns).containsText("35 values are not numbers");

            click(page.getByLabel("Take Remark"));
            assertThat(page.getByLabel("jobs/north.yaml")).hasValue(Pattern.compile("extra_columns: \\[\"Remark\"\\]"));
            page.getByLabel("Name of Sample No.").fill("sample_id");
            page.getByLabel("Name of Site").click();
            clicks++;
            assertThat(page.getByLabel("datasets/north.yaml")).hasValue(Pattern.compile("name: sample_id"));
            assertThat(page.getByLabel("jobs/north.yaml")).hasValue(Pattern.compile("sample_id: +Sample No\\."));

            click(page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Save and run")));
            assertThat(page).hasURL(Pattern.compile(".*/runs/1"));
            assertThat(page.locator("[data-state=finished]")).isVisible();
            Assertions.assertThat(clicks).isLessThan(MOST_CLICKS);
            Assertions.assertThat(errors).isEmpty();
            Assertions.assertThat(service.get("/datasets/north").path("rows").asLong())
                    .isEqualTo(1891);
            Assertions.assertThat(workspace.resolve("jobs/north.yaml"))
                    .hasContent(
                            """
                            job: north
                            into: north
                            find:
                              - folder: inbox/north
                                take: ["samples-2026-*.csv"]
                            read:
                              as: delimited
                              separator: ","
                              extra_columns: ["Remark"]
                            map:
                              sample_id: Sample No.
                              site:      {clean: [trim]}
                              result:    {empty_as: ["", "n/a"]}
                            """);
        }
    }

    @Test
    void aJobIsMadeFromABucketOfAnotherMachine() throws Exception {
        Path workspace = Files.createDirectories(folder.resolve("far"));
        try (ObjectServer objects = ObjectServer.start(folder.resolve("objects"))) {
            objects.put("buoys/2026/a.csv", "id;value\n1;2,5\n2;3,5\n3;4,5\n");
            Workspaces.write(workspace, "accounts.yaml", "accounts:\n" + objects.account());
            try (TestService service = TestService.start(workspace);
                    Browser browser = new Browser();
                    Page page = browser.page(service.url() + "/")) {
                page.getByRole(AriaRole.LINK, new GetByRoleOptions().setName("New job"))
                        .click();
                for (String step : new String[] {"s3://archive/", "river/", "buoys/"}) {
                    page.getByRole(
                                    AriaRole.BUTTON,
                                    new GetByRoleOptions().setName(step).setExact(true))
                            .click();
                }
                Locator typed = page.getByLabel(Pattern.compile("^Folder, here or elsewhere"));
                assertThat(typed).hasValue("s3://archive/river/buoys");
                typed.fill("s3://archive/river/buoys/2026");
                typed.press("Enter");
                assertThat(page.getByText("a.csv")).isVisible();
                page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Draft from this folder"))
                        .click();
                page.getByRole(AriaRole.BUTTON, new GetByRoleOptions().setName("Save and run"))
                        .click();
                assertThat(page.locator("[data-state=finished]")).isVisible();
                String job = service.get("/jobs").path(0).path("name").asText();
                Assertions.assertThat(workspace.resolve("jobs/" + job + ".yaml"))
                        .content()
                        .contains("folder: s3://archive/river/buoys/2026");
                Assertions.assertThat(service.get("/runs/1")
                                .path("rows")
                                .path("loaded")
                                .asLong())
                        .isEqualTo(3);
            }
        }
    }
}
