package dev.hapster.core.store;

import dev.hapster.core.moment.Moment;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.DirectoryStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.LongPredicate;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.apache.parquet.ParquetReadOptions;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.io.LocalInputFile;

/**
 * The folder of parts: {@code parts/DATASET/NAME.parquet}, and {@code staging/} for those not finished. A part appears
 * under its final name at once and whole, or not at all; it never changes afterwards. Thread-safe.
 */
public final class PartStore {

    private static final String SUFFIX = ".parquet";
    private static final Pattern RUN = Pattern.compile("(\\d{1,18})-");

    private final Path parts;
    private final Path staging;
    private final Map<Path, Long> counted = new ConcurrentHashMap<>();

    /** @param store the workspace's folder {@code store} */
    public PartStore(Path store) throws IOException {
        parts = Files.createDirectories(store.resolve("parts"));
        staging = Files.createDirectories(store.resolve("staging"));
    }

    /** The folder for what is not finished; emptied when the service starts. */
    public Path staging() {
        return staging;
    }

    /** A place to write a part to, of which nobody knows yet. */
    public Path stage(String name) throws IOException {
        Path staged = staging.resolve(name + SUFFIX);
        dropStaged(staged);
        return staged;
    }

    /**
     * Forces a finished part to disk and gives it its final name.
     *
     * @return the name under which {@link #path} finds it
     */
    public String publish(Path staged, String dataset) throws IOException {
        Path folder = parts.resolve(dataset);
        if (!Files.isDirectory(folder)) {
            Files.createDirectories(folder);
            force(parts);
        }
        Path target = folder.resolve(staged.getFileName());
        if (Files.exists(target)) {
            throw new FileAlreadyExistsException(target + " is there already, and no part is ever overwritten");
        }
        force(staged);
        Moment.PART_WRITTEN.reached();
        Files.move(staged, target, StandardCopyOption.ATOMIC_MOVE);
        Long rows = counted.remove(staged);
        if (rows != null) {
            counted.put(target, rows);
        }
        force(folder);
        Moment.PART_NAMED.reached();
        return dataset + "/" + target.getFileName();
    }

    static void force(Path path) throws IOException {
        try (FileChannel channel = FileChannel.open(path, StandardOpenOption.READ)) {
            channel.force(true);
        }
    }

    public Path path(String part) {
        return parts.resolve(part);
    }

    /**
     * Rows of a part, counted from its own footer. Parts never change, so a count is taken once.
     *
     * @throws NoSuchFileException where the part's file is gone
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

    /** Lets go of a part that was staged. */
    public void dropStaged(Path staged) throws IOException {
        counted.remove(staged);
        Files.deleteIfExists(staged);
    }

    /** Rows of any Parquet file, from its footer. */
    public static long countRows(Path path) throws IOException {
        try (ParquetFileReader reader = ParquetFileReader.open(new LocalInputFile(path),
                ParquetReadOptions.builder(new PlainParquetConfiguration()).build())) {
            return reader.getRecordCount();
        }
    }

    public void drop(String part) throws IOException {
        counted.remove(path(part));
        Files.deleteIfExists(path(part));
    }

    /**
     * Removes what interrupted runs left behind: everything in staging, and parts that the catalogue does not know, of runs
     * that it does know and that did not finish. Any other part that nobody knows is left alone: it may be all that is left
     * of a dataset of which the catalogue was lost.
     *
     * @param known      names of all parts in the catalogue
     * @param unfinished whether the catalogue knows a run of this number as one that did not finish
     */
    public Swept sweep(Set<String> known, LongPredicate unfinished) throws IOException {
        List<Path> removed = new ArrayList<>();
        List<Path> strangers = new ArrayList<>();
        try (DirectoryStream<Path> files = Files.newDirectoryStream(staging)) {
            for (Path file : files) {
                Files.delete(file);
                removed.add(file);
            }
        }
        try (DirectoryStream<Path> datasets = Files.newDirectoryStream(parts, Files::isDirectory)) {
            for (Path dataset : datasets) {
                try (DirectoryStream<Path> files = Files.newDirectoryStream(dataset, "*" + SUFFIX)) {
                    for (Path file : files) {
                        if (known.contains(dataset.getFileName() + "/" + file.getFileName())) {
                            continue;
                        }
                        if (unfinished.test(runOf(file))) {
                            Files.delete(file);
                            removed.add(file);
                        } else {
                            strangers.add(file);
                        }
                    }
                }
            }
        }
        return new Swept(removed, strangers);
    }

    /** The run that wrote a part, by the number with which its name begins; -1 where it does not begin so. */
    private static long runOf(Path file) {
        Matcher number = RUN.matcher(file.getFileName().toString());
        return number.lookingAt() ? Long.parseLong(number.group(1)) : -1;
    }

    /**
     * What a sweep did.
     *
     * @param removed   files that are gone now
     * @param strangers parts that nobody knows and that were left alone
     */
    public record Swept(List<Path> removed, List<Path> strangers) {
    }
}
