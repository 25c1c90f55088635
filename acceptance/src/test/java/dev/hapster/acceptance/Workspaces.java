package dev.hapster.acceptance;

import dev.hapster.demo.DemoWorkspace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** Workspaces for tests: the demo's, and small ones made from a few lines. */
public final class Workspaces {

    public static final String DATASET =
            """
            dataset: samples
            columns:
              - {name: id, type: text, required: true}
              - {name: day, type: date}
              - {name: value, type: integer}
            """;

    private Workspaces() {}

    public static Path demo(Path folder) throws IOException {
        DemoWorkspace.write(folder);
        return folder;
    }

    /** A dataset {@code samples}, and a job {@code small} that takes {@code in/*.csv}. */
    public static Path small(Path folder) throws IOException {
        write(folder, "datasets/samples.yaml", DATASET);
        job(folder, "small", "in", "");
        Files.createDirectories(folder.resolve("in"));
        return folder;
    }

    public static void job(Path folder, String name, String inbox, String rest) throws IOException {
        write(
                folder,
                "jobs/" + name + ".yaml",
                "job: " + name + "\ninto: samples\nfind: [{folder: \"" + inbox + "\", settle: 0s, take: \"*.csv\"}]\n"
                        + rest);
    }

    public static Path write(Path folder, String name, String text) throws IOException {
        Files.createDirectories(folder.resolve(name).getParent());
        return Files.writeString(folder.resolve(name), text);
    }
}
