package dev.hapster.acceptance.console;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.LoadState;
import dev.hapster.acceptance.TestService;
import dev.hapster.demo.DemoWorkspace;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Every page, as Chromium draws it in both themes, keeps the rules of axe-core for people who cannot see it or point.
 */
class AccessibilityTest {

    private static final Path AXE = Path.of("..", "console", "node_modules", "axe-core", "axe.min.js");
    private static final String RULES = "axe.run(document).then(result => result.violations.flatMap(one => one.nodes"
            + ".map(node => one.id + ': ' + node.target.join(' ') + '  ' + node.html.slice(0, 200))))";

    @TempDir
    private static Path folder;

    private static TestService service;
    private static Browser browser;

    @BeforeAll
    static void start() throws Exception {
        DemoWorkspace.write(folder);
        service = TestService.start(folder);
        for (String job : List.of("east-lab", "loggers", "north-lab", "harbour")) {
            service.run(job);
        }
        browser = new Browser();
    }

    @AfterAll
    static void stop() {
        browser.close();
        service.close();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "/",
                "/jobs/north-lab",
                "/jobs/north-lab/find",
                "/jobs/harbour?peek=harbour-2026.xlsx!2026-01",
                "/jobs/east-lab/fit",
                "/jobs/east-lab/profile",
                "/jobs/east-lab/rows?file=samples-2026-02.csv&stage=cleaned",
                "/jobs/east-lab/edit?file=samples-2026-02.csv&rejected=yes",
                "/jobs/east-lab/edit?as=text&edit=dataset",
                "/new-job?at=inbox/east&path=inbox/east",
                "/runs",
                "/runs/1?open=east-lab.date-unreadable.sampled_at",
                "/runs/2",
                "/calendar",
                "/messages",
                "/schedule",
                "/datasets",
                "/datasets/river_samples?sort=-value",
                "/datasets/river_samples?view=counts&by=sampled_at:month&by=lab",
                "/datasets/river_samples?view=profile&column=value",
                "/datasets/river_samples?view=deliveries",
                "/rejects?open=north-lab.number-unreadable.value",
                "/there/is/no/such/page"
            })
    void keepsTheRules(String address) throws Exception {
        try (Page page = browser.page(service.url() + address)) {
            for (String mode : List.of("light", "dark")) { // drawn anew, so that no colour is on its way to another
                page.evaluate("mode => localStorage.setItem('hapster.mode', mode)", mode);
                page.reload();
                page.locator("h1").waitFor();
                page.waitForLoadState(LoadState.NETWORKIDLE);
                assertThat(page.getByRole(AriaRole.PROGRESSBAR)).hasCount(0);
                assertThat(violations(page)).as(mode).isEmpty();
            }
        }
    }

    private static List<?> violations(Page page) throws Exception {
        page.evaluate(Files.readString(AXE));
        return (List<?>) page.evaluate(RULES);
    }
}
