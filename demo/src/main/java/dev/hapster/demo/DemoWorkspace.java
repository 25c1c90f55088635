package dev.hapster.demo;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/** Lays out a workspace with the demo's definitions and the files that have arrived. */
public final class DemoWorkspace {

    private static final List<String> DEFINITIONS = List.of(
            "values.yaml",
            "datasets/river_samples.yaml",
            "jobs/north-lab.yaml",
            "jobs/east-lab.yaml",
            "jobs/loggers.yaml",
            "jobs/harbour.yaml",
            "jobs/field-visits.yaml",
            "jobs/history.yaml");

    private DemoWorkspace() {}

    /** Writes definitions and arrived files into a folder, which is created. Always the same rows. */
    public static void write(Path folder) throws IOException {
        definitions(folder);
        new ArrivedFiles(folder.resolve("inbox")).write();
    }

    /** Writes the definitions alone. */
    public static void definitions(Path folder) throws IOException {
        for (String name : DEFINITIONS) {
            Path target = folder.resolve(name);
            Files.createDirectories(target.getParent());
            try (InputStream in = DemoWorkspace.class.getResourceAsStream("/workspace/" + name)) {
                Files.write(target, in.readAllBytes());
            }
        }
    }
}
