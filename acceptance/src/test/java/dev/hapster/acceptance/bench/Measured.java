package dev.hapster.acceptance.bench;

import dev.hapster.acceptance.TestService;
import dev.hapster.cli.http.ServiceProcess;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** What benchmarks have in common. */
final class Measured {

    private Measured() {}

    /** A service as it is started for users; tests make do with the quicker compiler and collector. */
    static TestService start(Path workspace, String... options) throws Exception {
        return start(workspace, List.of(), options);
    }

    /** The same on one core. */
    static TestService startOnOneCore(Path workspace) throws Exception {
        return start(workspace, List.of("taskset", "--cpu-list", "0"));
    }

    private static TestService start(Path workspace, List<String> prefix, String... options) throws Exception {
        List<String> all = new ArrayList<>(List.of("-XX:TieredStopAtLevel=4", "-XX:-UseSerialGC"));
        all.addAll(ServiceProcess.JAVA_OPTIONS);
        all.addAll(List.of(options));
        return TestService.start(workspace, prefix, TestService.serviceJar(), all.toArray(String[]::new));
    }

    static double median(double[] values) {
        double[] sorted = values.clone();
        Arrays.sort(sorted);
        return sorted[sorted.length / 2];
    }

    static long peakMegabytes(long pid) throws IOException {
        return Files.readAllLines(Path.of("/proc/" + pid + "/status")).stream()
                .filter(line -> line.startsWith("VmHWM:"))
                .mapToLong(line -> Long.parseLong(line.replaceAll("\\D", "")) / 1024)
                .findFirst()
                .orElseThrow();
    }
}
