package dev.hapster.service;

import io.quarkus.test.common.QuarkusTestResourceLifecycleManager;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.Map;
import java.util.stream.Stream;

/** An empty workspace in which the service runs within a test. */
public final class TestWorkspace implements QuarkusTestResourceLifecycleManager {

    private Path folder;

    @Override
    public Map<String, String> start() {
        try {
            folder = Files.createTempDirectory("hapster-service-test");
        } catch (IOException unwritable) {
            throw new UncheckedIOException(unwritable);
        }
        return Map.of("hapster.workspace", folder.toString(), "quarkus.http.test-port", "0");
    }

    @Override
    public void stop() {
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path one : all.sorted(Comparator.reverseOrder()).toList()) {
                Files.delete(one);
            }
        } catch (IOException left) {
            throw new UncheckedIOException(left);
        }
    }
}
