package dev.hapster.core.find;

import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Which files other processes have open for writing, as far as the system tells: on Linux those of processes that this
 * account may look into (all, for root), read from {@code /proc}; elsewhere none.
 */
final class OpenFiles {

    private static final Path PROCESSES = Path.of("/proc");
    /** The lowest bits of a file's flags: 0 is reading only, 1 writing, 2 both. */
    private static final int ACCESS_MODE = 3;

    private OpenFiles() {}

    /** Files with the process that writes them, such as {@code process 4711 (rsync)}. */
    static Map<Path, String> forWriting() {
        Map<Path, String> open = new HashMap<>();
        if (!Files.isDirectory(PROCESSES.resolve("self/fdinfo"))) {
            return open;
        }
        long own = ProcessHandle.current().pid();
        try (DirectoryStream<Path> processes = Files.newDirectoryStream(
                PROCESSES,
                path -> Character.isDigit(path.getFileName().toString().charAt(0)))) {
            for (Path process : processes) {
                if (!process.getFileName().toString().equals(Long.toString(own))) {
                    of(process, open);
                }
            }
        } catch (IOException gone) {
            return open; // no list of processes: nothing is known of any
        }
        return open;
    }

    private static void of(Path process, Map<Path, String> open) {
        try (DirectoryStream<Path> descriptors = Files.newDirectoryStream(process.resolve("fd"))) {
            for (Path descriptor : descriptors) {
                String target = Files.readSymbolicLink(descriptor).toString();
                if (target.startsWith("/")
                        && !target.startsWith("/dev/")
                        && !target.startsWith("/proc/")
                        && writes(process, descriptor)) {
                    open.put(
                            Path.of(target),
                            "process " + process.getFileName() + " ("
                                    + Files.readString(process.resolve("comm")).strip() + ")");
                }
            }
        } catch (IOException | InvalidPathException | java.nio.file.DirectoryIteratorException notOurs) {
            // the process has ended, or belongs to another account: then the system does not tell
        }
    }

    private static boolean writes(Path process, Path descriptor) throws IOException {
        List<String> lines = Files.readAllLines(process.resolve("fdinfo").resolve(descriptor.getFileName()));
        return lines.stream()
                .filter(line -> line.startsWith("flags:"))
                .anyMatch(line -> (Integer.parseInt(line.substring(6).strip(), 8) & ACCESS_MODE) != 0);
    }
}
