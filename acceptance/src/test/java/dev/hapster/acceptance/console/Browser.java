package dev.hapster.acceptance.console;

import com.microsoft.playwright.BrowserType.LaunchOptions;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Playwright;
import com.microsoft.playwright.Playwright.CreateOptions;
import com.microsoft.playwright.assertions.PlaywrightAssertions;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Headless Chromium of the system, at a window of 1280 x 800. */
final class Browser implements AutoCloseable {

    /** Milliseconds: the service of a test is compiled simply and shares its cores, and no test here is of speed. */
    private static final double PATIENCE = 60_000;

    private final Set<ProcessHandle> before = ProcessHandle.current().children().collect(Collectors.toSet());
    private final Playwright playwright =
            Playwright.create(new CreateOptions().setEnv(Map.of("PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD", "1")));
    private final List<ProcessHandle> driver = ProcessHandle.current()
            .children()
            .filter(child -> !before.contains(child))
            .toList();
    private final com.microsoft.playwright.Browser browser;

    Browser() {
        PlaywrightAssertions.setDefaultAssertionTimeout(PATIENCE);
        Path chromium = Path.of(System.getenv().getOrDefault("HAPSTER_CHROMIUM", "/usr/bin/chromium"));
        browser = playwright
                .chromium()
                .launch(new LaunchOptions()
                        .setExecutablePath(chromium)
                        .setHeadless(true)
                        .setArgs(List.of(
                                "--no-sandbox",
                                "--disable-gpu",
                                "--disable-quic",
                                "--no-first-run",
                                "--disable-background-networking",
                                "--disable-component-update",
                                "--disable-sync")));
    }

    Page page(String url) {
        Page page = browser.newPage(new com.microsoft.playwright.Browser.NewPageOptions()
                .setViewportSize(1280, 800)
                .setTimezoneId("UTC"));
        page.navigate(url);
        return page;
    }

    @Override
    public void close() {
        List<ProcessHandle> all = driver.stream()
                .flatMap(one -> Stream.concat(Stream.of(one), one.descendants()))
                .toList();
        browser.close();
        playwright.close();
        all.forEach(ProcessHandle::destroyForcibly); // one that stays has our error output, for which Maven would wait
    }
}
