package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Arrays;
import java.util.Locale;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Drops files into a folder that a job watches ({@code arrival: true}, {@code settle: 0s}), one after the other, and
 * measures how long it takes until their rows are counted in the dataset. Beside it the same files one after the other
 * by {@code hapster}'s own call, which is told when they are there: what watching costs. Run by {@code ./dev bench
 * Arrival}.
 */
@Tag("benchmark")
class ArrivalBenchmark {

    private static final int FILES = 30;
    private static final int ROWS = 1000;

    @TempDir
    private Path workspace;

    private static void file(Path folder, String name) throws Exception {
        StringBuilder text = new StringBuilder("id,day,value\n");
        for (int i = 0; i < ROWS; i++) {
            text.append(name)
                    .append('-')
                    .append(i)
                    .append(",2026-01-01,")
                    .append(i)
                    .append('\n');
        }
        Path whole = Files.writeString(folder.resolveSibling(name + ".new"), text);
        Files.move(whole, folder.resolve(name + ".csv"), StandardCopyOption.ATOMIC_MOVE);
    }

    private static long rows(TestService service, String job) {
        return service.get("/datasets/samples/rows?limit=1&where=" + "_job%20=%20" + job)
                .path("total")
                .asLong();
    }

    /** Seconds until the rows of a file are there. */
    private static double await(TestService service, String job, long expected, long since) throws Exception {
        while (rows(service, job) < expected) {
            assertThat(System.nanoTime() - since).isLessThan(60_000_000_000L);
            Thread.sleep(5);
        }
        return (System.nanoTime() - since) / 1e9;
    }

    @Test
    void arrivalToDataset() throws Exception {
        Workspaces.small(workspace);
        for (String job : new String[] {"watched", "called"}) {
            Files.createDirectories(workspace.resolve("in/" + job));
            Workspaces.write(
                    workspace,
                    "jobs/" + job + ".yaml",
                    "job: " + job + "\ninto: samples\nfind: [{folder: in/" + job
                            + ", settle: 0s, take: \"*.csv\"}]\n"
                            + (job.equals("watched") ? "when: {arrival: true}\n" : ""));
        }
        try (TestService service = Measured.start(workspace)) {
            double[] watched = new double[FILES];
            double[] called = new double[FILES];
            for (int i = 0; i < FILES; i++) {
                file(workspace.resolve("in/watched"), "w" + i);
                watched[i] = await(service, "watched", (i + 1L) * ROWS, System.nanoTime());
                file(workspace.resolve("in/called"), "c" + i);
                long since = System.nanoTime();
                service.run("called");
                called[i] = await(service, "called", (i + 1L) * ROWS, since);
            }
            System.out.printf(
                    Locale.ROOT,
                    "%nfiles of %,d rows, %d one after the other: seconds from the file to its rows in the dataset%n"
                            + "  when it arrives  median %.2f  longest %.2f  first %.2f (goal: each under 3)%n"
                            + "  when called for  median %.2f  longest %.2f  first %.2f%n"
                            + "watching costs %.1f times the call%n",
                    ROWS,
                    FILES,
                    Measured.median(watched),
                    Arrays.stream(watched).max().orElseThrow(),
                    watched[0],
                    Measured.median(called),
                    Arrays.stream(called).max().orElseThrow(),
                    called[0],
                    Measured.median(watched) / Measured.median(called));
        }
    }
}
