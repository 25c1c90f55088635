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
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.LongPredicate;
import java.util.function.Predicate;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The folder of parts: {@code parts/DATASET/NAME.parquet}, beside them {@code deleted/DATASET/NAME.parquet} for those
 * that say that rows are to go, and {@code staging/} for what is not finished. A file appears under its final name at
 * once and whole, or not at all; it never changes afterwards. Thread-safe.
 *
 * <p>A part is called {@code DATASET/NAME.parquet} where it has a file for itself, and
 * {@code DATASET/NAME.parquet#FIRST+ROWS} where it is some rows of a bundle. Which parts of a bundle were let go of
 * stands in {@code released/DATASET/NAME.txt}, a line {@code FIRST+ROWS} each; once it is all of them, the file goes.
 */
public final class PartStore {

    /** What the names of a part's notes begin with in its footer. */
    static final String NOTE = "hapster.";

    /** The folder of what is to go; and in the footer of a part, by what its file there is known. */
    public static final String DELETED = "deleted";

    static final String PARTS = "parts";

    private static final String SUFFIX = ".parquet";
    /** What parts without a file may take of memory, in all runs together. */
    private static final long MOST_HELD_BYTES = 48L << 20;

    /** Bytes of a file that is small. */
    private static final long SMALL_FILE = 1L << 18;
    /** Files that become one at once, at most. */
    private static final int MOST_MERGED = 256;
    /** How long a file stays that somebody may be about to open. */
    private static final Duration UNREAD_FOR = Duration.ofSeconds(Integer.getInteger("hapster.unread-for", 60));

    private static final Logger LOG = LoggerFactory.getLogger(PartStore.class);

    private static final Pattern RUN = Pattern.compile("(\\d{1,18})-");

    private final Path parts;
    private final Path deleted;
    private final Path released;
    private final Path staging;
    /** Rows of files by their first ones: one entry for a part with a file of its own. */
    private final Map<Path, Map<Long, Long>> counted = new ConcurrentHashMap<>();
    /** By what staged parts will be known. */
    private final Map<Path, String> seals = new ConcurrentHashMap<>();
    /** Staged parts that have no file. */
    private final Map<Path, HeldPart> held = new ConcurrentHashMap<>();

    private final AtomicLong heldBytes = new AtomicLong();
    /** Questions that are being answered, by since when. */
    private final Map<Object, Long> readings = new ConcurrentHashMap<>();
    /** Files that are to go, by since when. */
    private final Map<String, Long> needless = new ConcurrentHashMap<>();

    /** @param store the workspace's folder {@code store} */
    public PartStore(Path store) throws IOException {
        parts = Files.createDirectories(store.resolve(PARTS));
        deleted = Files.createDirectories(store.resolve(DELETED));
        released = Files.createDirectories(store.resolve("released"));
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
        held.keySet().stream().filter(staged -> staged.startsWith(desk)).forEach(this::letGo);
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

    /** Whether there is memory for parts without a file. Several may find so at once: it is no exact limit. */
    public boolean canHold() {
        return heldBytes.get() < MOST_HELD_BYTES;
    }

    /** Stages a part that is to share a file with others. */
    public void hold(Path staged, HeldPart part) {
        if (held.put(staged, part) == null) {
            heldBytes.addAndGet(part.bytes());
        }
    }

    private boolean letGo(Path staged) {
        HeldPart part = held.remove(staged);
        if (part != null) {
            heldBytes.addAndGet(-part.bytes());
        }
        return part != null;
    }

    /** Whether a staged part has no file, but is to share one with others. */
    public boolean isHeld(Path staged) {
        return held.containsKey(staged);
    }

    /** What a staged part that has no file takes of memory, in bytes, about; 0 for others. */
    public long heldBytes(Path staged) {
        HeldPart part = held.get(staged);
        return part == null ? 0 : part.bytes();
    }

    /**
     * Writes a part that has no file into one of its own, forces it to disk and gives it its final name.
     *
     * @return the name under which {@link #span} finds it
     */
    public String publishAlone(Path staged, String dataset) throws IOException {
        seal(staged, Bundle.write(staged, List.of(held.get(staged))));
        letGo(staged);
        return publish(staged, dataset);
    }

    /**
     * Writes parts that have no file into one that they share, forces it to disk and gives it its final name.
     *
     * @param staged where they are staged, at least two, in the order in which their rows are to lie
     * @param name what the file is called, without its ending: of no other file of the dataset
     * @return the names under which {@link #span} finds them, in the same order
     */
    public List<String> publishBundle(Path desk, String name, List<Path> staged, String dataset) throws IOException {
        Path draft = stage(desk, name);
        List<HeldPart> taken = staged.stream().map(held::get).toList();
        seal(draft, Bundle.write(draft, taken));
        String file = publish(draft, dataset);
        Map<Long, Long> rows = new HashMap<>();
        List<String> names = new ArrayList<>();
        long first = 0;
        for (HeldPart part : taken) {
            names.add(Span.named(file, first, part.rows()));
            rows.put(first, part.rows());
            first += part.rows();
        }
        if (!counts(path(file)).equals(rows)) {
            throw new DamagedPartException(path(file), "has other rows than were written to it");
        }
        staged.forEach(this::letGo);
        return names;
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

    /** Where the rows of a part lie. */
    public Span span(String part) {
        return Span.of(parts, part);
    }

    /** The file in which the rows of a part lie. */
    public Path path(String part) {
        return span(part).file();
    }

    /** Where a part says what is to go, if it does. */
    public Path deletions(String part) {
        return deleted.resolve(Span.fileOf(part));
    }

    /**
     * Rows of a part, counted from the footer of its file. Files never change, so they are counted once.
     *
     * @throws DamagedPartException where the part's file is gone, or is not what was written
     */
    public long rows(String part) throws IOException {
        Span span = span(part);
        Map<Long, Long> known = counted.get(span.file());
        if (known == null || !Files.exists(span.file())) {
            known = counts(span.file());
            counted.put(span.file(), known);
        }
        return rows(span, known);
    }

    private static long rows(Span span, Map<Long, Long> counts) throws IOException {
        Long rows = counts.get(span.first());
        if (rows == null || !(span.isWhole() || span.rows() == rows)) {
            throw new DamagedPartException(
                    span.file(), "has no part of " + span.rows() + " rows at row " + span.first());
        }
        return rows;
    }

    /** Rows of the parts in a file by their first ones, from its footer. */
    private static Map<Long, Long> counts(Path file) throws IOException {
        try (ParquetFileReader reader = open(file)) {
            return counts(file, reader);
        }
    }

    private static Map<Long, Long> counts(Path file, ParquetFileReader reader) throws IOException {
        Map<String, String> notes = notes(reader);
        if (!notes.containsKey(Bundle.LIST)) {
            return Map.of(0L, reader.getRecordCount());
        }
        Map<Long, Long> counts = new HashMap<>();
        long rows = 0;
        try {
            for (Bundle.Member member : Bundle.members(notes)) {
                counts.put(member.first(), member.rows());
                rows += member.rows();
            }
        } catch (IOException wrong) {
            throw new DamagedPartException(file, "is damaged: " + wrong.getMessage());
        }
        if (rows != reader.getRecordCount()) {
            throw new DamagedPartException(
                    file, "has " + reader.getRecordCount() + " rows, and its parts have " + rows);
        }
        return counts;
    }

    /** Lets go of a part that was staged, or of anything else on a desk. */
    public void dropStaged(Path staged) throws IOException {
        seals.remove(staged);
        if (letGo(staged)) {
            return;
        }
        Files.deleteIfExists(staged);
        Files.deleteIfExists(deletions(staged));
    }

    /** Rows of any Parquet file, from its footer. */
    public static long countRows(Path path) throws IOException {
        try (ParquetFileReader reader = open(path)) {
            return reader.getRecordCount();
        }
    }

    /** A look at whole parts, each file of which is read once. Not thread-safe. */
    public final class Check {
        private final Map<Path, Map<Long, Long>> sound = new HashMap<>();
        private final Map<Path, DamagedPartException> damaged = new HashMap<>();

        /**
         * Reads a whole part, and sees whether it is what was written.
         *
         * @return rows that it has
         * @throws DamagedPartException where it is missing or is not
         */
        public long of(String part) throws IOException {
            Span span = span(part);
            if (damaged.containsKey(span.file())) {
                throw damaged.get(span.file());
            }
            try {
                if (!sound.containsKey(span.file())) {
                    sound.put(span.file(), read(part, span.file()));
                }
                return rows(span, sound.get(span.file()));
            } catch (DamagedPartException told) {
                damaged.put(span.file(), told);
                throw told;
            }
        }

        private Map<Long, Long> read(String part, Path file) throws IOException {
            if (Files.exists(deletions(part)) || notes(file).containsKey(DELETED)) {
                SealedInput.check(deletions(part));
            }
            SealedInput.check(file);
            return counts(file);
        }
    }

    public Check check() {
        return new Check();
    }

    /** As {@link Check#of}, of one part alone. */
    public long check(String part) throws IOException {
        return check().of(part);
    }

    private static ParquetFileReader open(Path path) throws IOException {
        return SealedInput.open(path);
    }

    /**
     * What the footer of a file says: its notes by name, and its number of rows as {@code rows}.
     *
     * @throws IOException where it is no Parquet file, or damaged
     */
    public static Map<String, String> notes(Path path) throws IOException {
        try (ParquetFileReader reader = open(path)) {
            return notes(reader);
        } catch (RuntimeException damaged) {
            throw new IOException(path.getFileName() + " cannot be read as Parquet: " + damaged.getMessage(), damaged);
        }
    }

    private static Map<String, String> notes(ParquetFileReader reader) {
        Map<String, String> notes = new HashMap<>();
        reader.getFileMetaData().getKeyValueMetaData().forEach((name, value) -> {
            if (name.startsWith(NOTE)) {
                notes.put(name.substring(NOTE.length()), value);
            }
        });
        notes.put("rows", Long.toString(reader.getRecordCount()));
        return notes;
    }

    /**
     * What a file says of the parts in it, those that were let go of left out.
     *
     * @param file by its name among {@link #all()}
     * @return notes by the names of the parts, in the order of their rows; the number of rows is among the notes
     * @throws IOException where it is no Parquet file, or damaged
     */
    public Map<String, Map<String, String>> contents(String file) throws IOException {
        Map<String, String> notes = notes(path(file));
        if (!notes.containsKey(Bundle.LIST)) {
            return Map.of(file, notes);
        }
        Set<String> gone = releasedOf(file);
        Map<String, Map<String, String>> contents = new LinkedHashMap<>();
        for (Bundle.Member member : Bundle.members(notes)) {
            String part = Span.named(file, member.first(), member.rows());
            if (!gone.contains(part)) {
                contents.put(part, member.notes());
            }
        }
        return contents;
    }

    /** Lets go of the rows of parts. The file of a bundle goes with the last of its parts. */
    public void drop(Collection<String> gone) throws IOException {
        Map<String, List<String>> byFile = new LinkedHashMap<>();
        for (String part : gone) {
            byFile.computeIfAbsent(Span.fileOf(part), file -> new ArrayList<>()).add(part);
        }
        for (Map.Entry<String, List<String>> one : byFile.entrySet()) {
            if (one.getValue().contains(one.getKey())) {
                dropFile(one.getKey());
            } else {
                release(one.getKey(), one.getValue());
            }
        }
    }

    /** Removes a file with all parts in it. */
    public void dropFile(String file) throws IOException {
        counted.remove(path(file));
        Files.deleteIfExists(path(file));
        Files.deleteIfExists(deletions(file));
        Files.deleteIfExists(releases(file));
    }

    private Path releases(String file) {
        return released.resolve(file.substring(0, file.length() - SUFFIX.length()) + ".txt");
    }

    private synchronized void release(String file, List<String> gone) throws IOException {
        if (!Files.exists(path(file))) {
            Files.deleteIfExists(releases(file));
            return;
        }
        Path list = releases(file);
        folder(released, file.substring(0, file.indexOf('/')));
        StringBuilder lines = new StringBuilder("\n"); // what was cut off before stays a line by itself
        gone.forEach(part -> lines.append(part.substring(file.length() + 1)).append('\n'));
        Files.writeString(list, lines, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
        force(list);
        force(list.getParent());
        try {
            if (contents(file).isEmpty()) {
                dropFile(file);
            }
        } catch (DamagedPartException damaged) {
            LOG.warn("Whether {} is needed is not known, and it stays: {}", file, damaged.getMessage());
        }
    }

    /** Parts of a bundle that were let go of. What was cut off at the end is none. */
    private Set<String> releasedOf(String file) throws IOException {
        Path list = releases(file);
        return Files.exists(list)
                ? Files.readAllLines(list).stream()
                        .map(line -> file + "#" + line)
                        .collect(Collectors.toSet())
                : Set.of();
    }

    /**
     * What small files became.
     *
     * @param file the new one, by its name among {@link #all()}
     * @param names what the parts in it are called now, by what they were called
     * @param old the files from which they are; still there
     */
    public record Merged(String file, Map<String, String> names, List<String> old) {}

    /**
     * Writes the parts of small files of a dataset, and of bundles of which more than half was let go of, into one file
     * under its final name. Nothing else changes: it is an orphan until the catalogue knows it.
     *
     * @param known names of all parts of the dataset that the catalogue knows; others are not copied
     * @param from how many such files are worth the work
     * @return empty where there are too few
     */
    public Optional<Merged> merge(String dataset, Collection<String> known, int from) throws IOException {
        Map<String, List<String>> byFile = new TreeMap<>(
                Comparator.comparingLong((String file) -> runOf(path(file))).thenComparing(Comparator.naturalOrder()));
        for (String part : known) {
            byFile.computeIfAbsent(Span.fileOf(part), file -> new ArrayList<>()).add(part);
        }
        List<String> worth = new ArrayList<>();
        for (Map.Entry<String, List<String>> one : byFile.entrySet()) {
            if (path(one.getKey()).toFile().length() < SMALL_FILE || isHalfGone(one.getKey(), one.getValue())) {
                worth.add(one.getKey());
            }
        }
        if (worth.size() < from) {
            return Optional.empty(); // and none of them is opened
        }
        Map<Merge, List<String>> merges = new LinkedHashMap<>();
        for (String file : worth) {
            take(file, Set.copyOf(byFile.get(file)), merges);
        }
        Merge merge = merges.keySet().stream()
                .max(Comparator.comparingInt(one -> merges.get(one).size()))
                .orElse(null);
        if (merge == null || merges.get(merge).size() < from) {
            return Optional.empty();
        }
        String name = "0-merged-" + UUID.randomUUID().toString().substring(0, 13);
        Path desk = Files.createDirectories(desk(name));
        try {
            Path draft = stage(desk, name);
            seal(draft, merge.write(draft));
            String file = publish(draft, dataset);
            if (!counts(path(file)).equals(merge.counts())) {
                throw new DamagedPartException(path(file), "has other rows than were written to it");
            }
            return Optional.of(new Merged(file, merge.renamed(file), merges.get(merge)));
        } finally {
            drop(desk);
        }
    }

    private boolean isHalfGone(String file, List<String> known) throws IOException {
        long left = known.stream()
                .map(this::span)
                .filter(span -> !span.isWhole())
                .mapToLong(Span::rows)
                .sum();
        if (left == 0 || !Files.exists(path(file))) {
            return false;
        }
        rows(known.get(0));
        return left * 2
                < counted.get(path(file)).values().stream()
                        .mapToLong(Long::longValue)
                        .sum();
    }

    private void take(String file, Set<String> wanted, Map<Merge, List<String>> merges) {
        try {
            for (Map.Entry<Merge, List<String>> one : merges.entrySet()) {
                if (one.getValue().size() == MOST_MERGED || one.getKey().take(file, wanted)) {
                    one.getValue().add(file);
                    return;
                }
            }
            Merge fresh = new Merge(this);
            if (fresh.take(file, wanted)) {
                merges.put(fresh, new ArrayList<>(List.of(file)));
            }
        } catch (IOException damaged) {
            LOG.warn("{} stays as it is: {}", file, damaged.getMessage()); // whoever reads or verifies it is told
        }
    }

    // files that somebody may still read

    /** Something that asks for names of parts, and then for their rows. */
    public interface Question<T, E extends Exception> {
        T ask() throws IOException, E;
    }

    /** Asks something, and keeps files that are not needed any more from going until there is the answer. */
    public <T, E extends Exception> T reading(Question<T, E> question) throws IOException, E {
        Object reading = new Object();
        readings.put(reading, System.nanoTime());
        try {
            return question.ask();
        } finally {
            readings.remove(reading);
        }
    }

    /** Removes files of which nobody asks for any part any more, a while after those are done who may have. */
    public void dropWhenUnread(Collection<String> files) throws IOException {
        long now = System.nanoTime();
        files.forEach(file -> needless.put(file, now));
        dropUnread();
    }

    /** Removes those of them that can go by now. */
    public void dropUnread() throws IOException {
        long now = System.nanoTime();
        for (Map.Entry<String, Long> file : Map.copyOf(needless).entrySet()) {
            if (now - file.getValue() >= UNREAD_FOR.toNanos()
                    && readings.values().stream().noneMatch(since -> since - file.getValue() <= 0)) {
                dropFile(file.getKey());
                needless.remove(file.getKey());
            }
        }
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
        for (Path of : List.of(parts, deleted, released)) {
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

    /** Every file with parts that lies in the store, as {@code DATASET/FILE}. */
    public List<String> all() throws IOException {
        List<String> names = new ArrayList<>();
        try (DirectoryStream<Path> datasets = Files.newDirectoryStream(parts, Files::isDirectory)) {
            for (Path dataset : datasets) {
                try (DirectoryStream<Path> files = Files.newDirectoryStream(dataset, "*" + SUFFIX)) {
                    files.forEach(file -> names.add(dataset.getFileName() + "/" + file.getFileName()));
                }
            }
        }
        names.removeAll(needless.keySet());
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
        Set<String> knownFiles = files(known);
        for (String file : all()) {
            if (knownFiles.contains(file)) {
                continue;
            }
            if (unfinished.test(runOf(path(file)))) {
                dropFile(file);
                removed.add(path(file));
            } else {
                strangers.add(path(file));
            }
        }
        dropWithoutFile(deleted, SUFFIX); // their parts were never named
        dropWithoutFile(released, ".txt");
        return new Swept(removed, strangers);
    }

    /** The files in which parts lie, by the names of the parts. */
    public static Set<String> files(Collection<String> parts) {
        return parts.stream().map(Span::fileOf).collect(Collectors.toSet());
    }

    /** Removes what stands beside files that are gone. */
    private void dropWithoutFile(Path beside, String suffix) throws IOException {
        try (DirectoryStream<Path> datasets = Files.newDirectoryStream(beside, Files::isDirectory)) {
            for (Path dataset : datasets) {
                try (DirectoryStream<Path> files = Files.newDirectoryStream(dataset, "*" + suffix)) {
                    for (Path file : files) {
                        String name = file.getFileName().toString();
                        String of = name.substring(0, name.length() - suffix.length()) + SUFFIX;
                        if (!Files.exists(parts.resolve(dataset.getFileName()).resolve(of))) {
                            Files.delete(file);
                        }
                    }
                }
            }
        }
    }

    /**
     * Removes what a run left behind that failed, and that its catalogue does not know, such as parts whose commit
     * failed because the disk was full.
     *
     * @param known names of all parts in the catalogue
     */
    public void dropUnknown(Set<String> known, long run) throws IOException {
        Set<String> knownFiles = files(known);
        for (String file : all()) {
            if (!knownFiles.contains(file) && runOf(path(file)) == run) {
                dropFile(file);
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
