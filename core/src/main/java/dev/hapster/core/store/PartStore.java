package dev.hapster.core.store;

import dev.hapster.core.crash.CrashPoint;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.DirectoryStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.LongPredicate;
import java.util.function.Predicate;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.apache.parquet.ParquetReadOptions;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.hadoop.ParquetFileReader;

/**
 * The folder of parts: {@code parts/DATASET/NAME.parquet}, beside them {@code deleted/DATASET/NAME.parquet} for those
 * that say that rows are to go, and {@code staging/} for what is not finished. A part appears under its final name at
 * once and whole, or not at all; it never changes afterwards. Thread-safe.
 */
public final class PartStore {

    /** What the names of a part's notes begin with in its footer. */
    static final String NOTE = "hapster.";

    /** The folder of what is to go; and in the footer of a part, by what its file there is known. */
    public static final String DELETED = "deleted";

    static final String PARTS = "parts";

    private static final String SUFFIX = ".parquet";
    private static final Pattern RUN = Pattern.compile("(\\d{1,18})-");

    private final Path parts;
    private final Path deleted;
    private final Path staging;
    private final Map<Path, Long> counted = new ConcurrentHashMap<>();
    /** By what staged parts will be known. */
    private final Map<Path, String> seals = new ConcurrentHashMap<>();

    /** @param store the workspace's folder {@code store} */
    public PartStore(Path store) throws IOException {
        parts = Files.createDirectories(store.resolve(PARTS));
        deleted = Files.createDirectories(store.resolve(DELETED));
        staging = Files.createDirectories(store.resolve("staging"));
    }

    /** The folder for what is not finished; emptied when the service starts. */
    public Path staging() {
        return staging;
    }

    /**
     * Where a folder may be made for what one run or trial has not finished, so that all of it can be let go of at
     * once.
     */
    public Path desk(String name) {
        return staging.resolve(name);
    }

    /**
     * Lets go of a desk with everything on it. What cannot be removed now, such as on a disk with a fault, is tried
     * again when the next desk goes.
     *
     * @param over whether whoever had a desk is done with it
     */
    public void clear(Path desk, Predicate<String> over) throws IOException {
        drop(desk);
        try (DirectoryStream<Path> others = Files.newDirectoryStream(staging, Files::isDirectory)) {
            for (Path other : others) {
                if (over.test(other.getFileName().toString())) {
                    drop(other);
                }
            }
        }
    }

    private void drop(Path desk) throws IOException {
        if (Files.isDirectory(desk)) {
            try (DirectoryStream<Path> files = Files.newDirectoryStream(desk)) {
                for (Path file : files) {
                    if (Files.isDirectory(file)) {
                        drop(file);
                    } else {
                        dropStaged(file);
                    }
                }
            }
            Files.deleteIfExists(desk);
        }
    }

    /** A place on a desk to write a part to, of which nobody knows yet. */
    public static Path stage(Path desk, String name) {
        return desk.resolve(name + SUFFIX);
    }

    /** Where a part that is staged says what is to go. */
    public static Path deletions(Path staged) {
        return staged.resolveSibling(staged.getFileName() + ".deleted");
    }

    /**
     * By what a staged part will be known once it has its final name.
     *
     * @param seal as the writer gave it
     */
    public void seal(Path staged, String seal) {
        seals.put(staged, seal);
    }

    /**
     * Forces a finished part to disk, what it says is to go included, and gives it its final name, of which its seal is
     * a piece.
     *
     * @return the name under which {@link #path} finds it
     */
    public String publish(Path staged, String dataset) throws IOException {
        String seal = seals.remove(staged);
        String staging = staged.getFileName().toString();
        String name =
                seal == null ? staging : staging.substring(0, staging.length() - SUFFIX.length()) + "." + seal + SUFFIX;
        Path deletions = deletions(staged);
        if (Files.exists(deletions)) {
            place(deletions, folder(deleted, dataset).resolve(name));
        }
        Path target = folder(parts, dataset).resolve(name);
        place(staged, target);
        Long rows = counted.remove(staged);
        if (rows != null) {
            counted.put(target, rows);
        }
        CrashPoint.PART_NAMED.reached();
        return dataset + "/" + target.getFileName();
    }

    private static Path folder(Path of, String dataset) throws IOException {
        Path folder = of.resolve(dataset);
        if (!Files.isDirectory(folder)) {
            Files.createDirectories(folder);
            force(of);
        }
        return folder;
    }

    private static void place(Path staged, Path target) throws IOException {
        if (Files.exists(target)) {
            throw new FileAlreadyExistsException(target + " is there already, and no part is ever overwritten");
        }
        force(staged);
        CrashPoint.PART_WRITTEN.reached();
        Files.move(staged, target, StandardCopyOption.ATOMIC_MOVE);
        force(target.getParent());
    }

    /** Forces a file, or the names in a folder, to disk. */
    public static void force(Path path) throws IOException {
        try (FileChannel channel = FileChannel.open(path, StandardOpenOption.READ)) {
            channel.force(true);
        }
    }

    public Path path(String part) {
        return parts.resolve(part);
    }

    /** Where a part says what is to go, if it does. */
    public Path deletions(String part) {
        return deleted.resolve(part);
    }

    /**
     * Rows of a part, counted from its own footer. Parts never change, so a count is taken once.
     *
     * @throws DamagedPartException where the part's file is gone, or is not what was written
     */
    public long rows(String part) throws IOException {
        Path path = path(part);
        Long known = counted.get(path);
        if (known != null && Files.exists(path)) {
            return known;
        }
        long rows = countRows(path);
        counted.put(path, rows);
        return rows;
    }

    /** Rows of a part that is staged, counted from its own footer; not counted again once it is published. */
    public long stagedRows(Path staged) throws IOException {
        long rows = countRows(staged);
        counted.put(staged, rows);
        return rows;
    }

    /** Lets go of a part that was staged, or of anything else on a desk. */
    public void dropStaged(Path staged) throws IOException {
        counted.remove(staged);
        seals.remove(staged);
        Files.deleteIfExists(staged);
        Files.deleteIfExists(deletions(staged));
    }

    /** Rows of any Parquet file, from its footer. */
    public static long countRows(Path path) throws IOException {
        try (ParquetFileReader reader = open(path)) {
            return reader.getRecordCount();
        }
    }

    /**
     * Reads a whole part, and sees whether it is what was written.
     *
     * @return rows that it has
     * @throws DamagedPartException where it is missing or is not
     */
    public long check(String part) throws IOException {
        if (Files.exists(deletions(part)) || notes(path(part)).containsKey(DELETED)) {
            SealedInput.check(deletions(part), options());
        }
        return SealedInput.check(path(part), options());
    }

    private static ParquetReadOptions.Builder options() {
        return ParquetReadOptions.builder(new PlainParquetConfiguration()).withCodecFactory(new SnappyOnly());
    }

    private static ParquetFileReader open(Path path) throws IOException {
        return SealedInput.open(path, options());
    }

    /**
     * What the footer of a part says of it: its notes by name, and its number of rows as {@code rows}.
     *
     * @throws IOException where it is no Parquet file, or damaged
     */
    public static Map<String, String> notes(Path path) throws IOException {
        try (ParquetFileReader reader = open(path)) {
            Map<String, String> notes = new HashMap<>();
            reader.getFileMetaData().getKeyValueMetaData().forEach((name, value) -> {
                if (name.startsWith(NOTE)) {
                    notes.put(name.substring(NOTE.length()), value);
                }
            });
            notes.put("rows", Long.toString(reader.getRecordCount()));
            return notes;
        } catch (RuntimeException damaged) {
            throw new IOException(path.getFileName() + " cannot be read as Parquet: " + damaged.getMessage(), damaged);
        }
    }

    public void drop(String part) throws IOException {
        counted.remove(path(part));
        Files.deleteIfExists(path(part));
        Files.deleteIfExists(deletions(part));
    }

    /** Whether there are parts of a dataset. */
    public boolean holds(String dataset) throws IOException {
        return holds(parts.resolve(dataset)) || holds(deleted.resolve(dataset));
    }

    private static boolean holds(Path folder) throws IOException {
        if (!Files.isDirectory(folder)) {
            return false;
        }
        try (DirectoryStream<Path> files = Files.newDirectoryStream(folder)) {
            return files.iterator().hasNext();
        }
    }

    /**
     * Gives the folders of a dataset's parts another name: all of its parts are called {@code to/…} then. What has been
     * done of it already stays.
     */
    public void rename(String from, String to) throws IOException {
        for (Path of : List.of(parts, deleted)) {
            Path source = of.resolve(from);
            Path target = of.resolve(to);
            if (Files.isDirectory(source) && !holds(target)) {
                Files.deleteIfExists(target);
                Files.move(source, target, StandardCopyOption.ATOMIC_MOVE);
                force(of);
            }
        }
        counted.keySet().removeIf(path -> path.startsWith(parts.resolve(from)));
    }

    /** Every part that lies in the store, by name. */
    public List<String> all() throws IOException {
        List<String> names = new ArrayList<>();
        try (DirectoryStream<Path> datasets = Files.newDirectoryStream(parts, Files::isDirectory)) {
            for (Path dataset : datasets) {
                try (DirectoryStream<Path> files = Files.newDirectoryStream(dataset, "*" + SUFFIX)) {
                    files.forEach(file -> names.add(dataset.getFileName() + "/" + file.getFileName()));
                }
            }
        }
        names.sort(null);
        return names;
    }

    /**
     * Removes what interrupted runs left behind: everything in staging, and parts that the catalogue does not know, of
     * runs that it does know and that did not finish. Any other part that nobody knows is left alone: it may be all
     * that is left of a dataset of which the catalogue was lost.
     *
     * @param known names of all parts in the catalogue
     * @param unfinished whether the catalogue knows a run of this number as one that did not finish
     */
    public Swept sweep(Set<String> known, LongPredicate unfinished) throws IOException {
        List<Path> removed = new ArrayList<>();
        List<Path> strangers = new ArrayList<>();
        try (DirectoryStream<Path> files = Files.newDirectoryStream(staging)) {
            for (Path file : files) {
                if (Files.isDirectory(file)) {
                    drop(file);
                } else {
                    Files.delete(file);
                }
                removed.add(file);
            }
        }
        for (String part : all()) {
            if (known.contains(part)) {
                continue;
            }
            if (unfinished.test(runOf(path(part)))) {
                drop(part);
                removed.add(path(part));
            } else {
                strangers.add(path(part));
            }
        }
        try (DirectoryStream<Path> datasets = Files.newDirectoryStream(deleted, Files::isDirectory)) {
            for (Path dataset : datasets) {
                try (DirectoryStream<Path> files = Files.newDirectoryStream(dataset, "*" + SUFFIX)) {
                    for (Path file : files) {
                        if (!Files.exists(parts.resolve(deleted.relativize(file)))) {
                            Files.delete(file); // its part was never named
                        }
                    }
                }
            }
        }
        return new Swept(removed, strangers);
    }

    /**
     * Removes what a run left behind that failed, and that its catalogue does not know, such as parts whose commit
     * failed because the disk was full.
     *
     * @param known names of all parts in the catalogue
     */
    public void dropUnknown(Set<String> known, long run) throws IOException {
        for (String part : all()) {
            if (!known.contains(part) && runOf(path(part)) == run) {
                drop(part);
            }
        }
    }

    /** The run that wrote a part, by the number with which its name begins; -1 where it does not begin so. */
    private static long runOf(Path file) {
        Matcher number = RUN.matcher(file.getFileName().toString());
        return number.lookingAt() ? Long.parseLong(number.group(1)) : -1;
    }

    /**
     * What a sweep did.
     *
     * @param removed files that are gone now
     * @param strangers parts that nobody knows and that were left alone
     */
    public record Swept(List<Path> removed, List<Path> strangers) {}
}
