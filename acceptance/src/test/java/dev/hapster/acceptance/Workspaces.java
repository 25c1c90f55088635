package dev.hapster.acceptance;

import dev.hapster.demo.DemoWorkspace;
import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

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

    /** The files below a folder in which a service may be at work: what goes in the meantime is not among them. */
    public static List<Path> files(Path folder) throws IOException {
        List<Path> files = new ArrayList<>();
        Files.walkFileTree(folder, new SimpleFileVisitor<>() {
            @Override
            public FileVisitResult visitFile(Path file, BasicFileAttributes attributes) {
                if (Files.isRegularFile(file)) { // a link to one is, too; a link to a folder is not
                    files.add(file);
                }
                return FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult visitFileFailed(Path file, IOException wrong) throws IOException {
                if (wrong instanceof NoSuchFileException) {
                    return FileVisitResult.CONTINUE;
                }
                throw wrong;
            }
        });
        return files;
    }

    /** What these files say, by their path below the folder. */
    public static Map<String, String> contents(Path folder, Charset encoding) throws IOException {
        Map<String, String> contents = new TreeMap<>();
        for (Path file : files(folder)) {
            try {
                contents.put(folder.relativize(file).toString(), Files.readString(file, encoding));
            } catch (NoSuchFileException gone) {
                continue;
            }
        }
        return contents;
    }
}
