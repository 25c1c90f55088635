package dev.hapster.acceptance.console;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import dev.hapster.acceptance.TestService;
import dev.hapster.demo.DemoWorkspace;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Consumer;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

/** Takes the pictures in docs/screenshots anew, from the demo. Run by {@code ./dev shots}. */
@Tag("shots")
class ScreenshotsTest {

    private static final Path TARGET = Path.of("..", "docs", "screenshots");

    @Test
    void takesThePictures() throws Exception {
        Path workspace = Path.of("target", "vessa").toAbsolutePath();
        new ProcessBuilder("rm", "-rf", workspace.toString()).start().waitFor();
        DemoWorkspace.write(workspace);
        try (TestService service = TestService.start(workspace);
                Browser browser = new Browser()) {
            for (String job : new String[] {"east-lab", "loggers", "north-lab", "harbour", "field-visits", "history"}) {
                service.run(job);
            }
            Map<String, String> pages = new TreeMap<>(Map.of(
                    "overview",
                    "/",
                    "job",
                    "/jobs/north-lab",
                    "find",
                    "/jobs/north-lab/find",
                    "deliveries",
                    "/datasets/river_samples?view=deliveries",
                    "fit",
                    "/jobs/east-lab/fit",
                    "run",
                    "/runs/1?open=east-lab.date-unreadable.sampled_at",
                    "rows",
                    "/datasets/river_samples?sort=-value",
                    "counts",
                    "/datasets/river_samples?view=counts&by=lab&by=sampled_at:quarter&measures=mean(value)",
                    "profile",
                    "/datasets/river_samples?view=profile&column=value",
                    "rejects",
                    "/rejects"));
            for (Map.Entry<String, String> entry : pages.entrySet()) {
                take(browser, service.url() + entry.getValue(), entry.getKey(), page -> {});
            }
            take(browser, service.url() + "/schedule", "schedule", page -> {});
            take(browser, service.url() + "/calendar", "calendar", page -> {});
            take(browser, service.url() + "/new-job?at=inbox/weather&path=inbox/weather", "new-job", page -> {});
            terminal(browser, service, "terminal-draft", "draft inbox/weather");
            take(browser, service.url() + "/jobs/east-lab/edit?file=samples-2026-02.csv", "edit", page -> page.locator(
                            ".MuiAccordionSummary-root")
                    .nth(1)
                    .click());
            take(
                    browser,
                    service.url() + "/rejects?open=north-lab.number-unreadable.value",
                    "mend",
                    page -> page.getByTitle("What each step makes of this row")
                            .first()
                            .click());
            terminal(browser, service, "terminal-run", "find north-lab --skipped", "run east-lab --again");
            terminal(
                    browser,
                    service,
                    "terminal-repair",
                    "trace 3 samples-2026-01.csv:26",
                    "mend 3 number-unreadable --apply 1",
                    "retry 3");
            terminal(
                    browser,
                    service,
                    "terminal-look",
                    "rows river_samples --where 'lab in (North, East) and value > 35' --sort -value --limit 4",
                    "count river_samples --by lab --measure 'mean(value),max(value)' --where 'value > 10'",
                    "profile river_samples");
        }
    }

    /** What commands print, as a terminal of 100 columns shows it. */
    private static void terminal(Browser browser, TestService service, String name, String... commands)
            throws Exception {
        StringBuilder text = new StringBuilder();
        for (String command : commands) {
            String[] words = command.split(" (?=(?:[^']*'[^']*')*[^']*$)");
            text.append("$ hapster ")
                    .append(command)
                    .append('\n')
                    .append(service.client(Arrays.stream(words)
                                    .map(word -> word.replace("'", ""))
                                    .toArray(String[]::new))
                            .out())
                    .append('\n');
        }
        Page page = browser.page("about:blank");
        page.setContent("<body style='margin:0;background:#FBF8F3;color:#1B2430'><pre style='font:15px/1.38 "
                + "monospace;margin:20px'>"
                + text.toString().replace("&", "&amp;").replace("<", "&lt;") + "</pre></body>");
        page.screenshot(new Page.ScreenshotOptions().setPath(TARGET.resolve(name + ".png")));
        page.close();
    }

    private static void take(Browser browser, String url, String name, Consumer<Page> first) {
        Page page = browser.page(url);
        first.accept(page);
        page.waitForTimeout(1000);
        page.waitForCondition(() -> page.getByRole(AriaRole.STATUS).count() == 0);
        page.waitForTimeout(1000);
        page.screenshot(new Page.ScreenshotOptions().setPath(TARGET.resolve(name + ".png")));
        page.close();
    }
}
