package dev.hapster.core.draft;

import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.draft.name.ColumnNames;
import dev.hapster.core.draft.reading.Reading;
import dev.hapster.core.shape.Binding;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * Files that one job can read: of one format and encoding, with columns that answer to the same names.
 *
 * @param files in the order of their paths
 * @param headers the columns in the words of the files, those of the first file first
 * @param headed whether any file names its columns
 * @param others names of the sheets of the same workbooks that do not belong to it
 */
record FileGroup(List<Found> files, List<String> headers, boolean headed, List<String> others) {

    /** Of 100 names of two headers, how many must be the same for their files to be of one kind. */
    private static final int ALIKE = 50;

    FileGroup {
        files = List.copyOf(files);
        headers = List.copyOf(headers);
        others = List.copyOf(others);
    }

    Reading first() {
        return files.get(0).reading().orElseThrow();
    }

    Format format() {
        return first().read().as();
    }

    /** The encodings of those files that tell theirs, UTF-8 first, which others are not taken for. */
    List<Charset> charsets() {
        List<Charset> told = files.stream()
                .map(file -> file.reading().orElseThrow())
                .filter(reading -> !reading.ascii())
                .map(reading -> reading.read().encoding())
                .distinct()
                .sorted(Comparator.comparing((Charset one) -> !one.equals(StandardCharsets.UTF_8))
                        .thenComparing(Charset::name))
                .toList();
        return told.isEmpty() ? List.of(first().read().encoding()) : told;
    }

    /** How many files set a key to each value, the most common first. */
    <T> List<T> values(dev.hapster.core.definition.key.Key<T> key) {
        Map<T, Integer> counts = new LinkedHashMap<>();
        files.forEach(file -> counts.merge(file.reading().orElseThrow().read().get(key), 1, Integer::sum));
        return counts.entrySet().stream()
                .sorted(Map.Entry.<T, Integer>comparingByValue().reversed())
                .map(Map.Entry::getKey)
                .toList();
    }

    /** The names of a file's columns, whole and different from each other. */
    static List<String> names(Reading reading) {
        return reading.names().isEmpty() || reading.read().as().isOrdered()
                ? ColumnNames.whole(reading.names(), reading.width())
                : reading.names();
    }

    /** Whether the file's own header serves as it is. */
    static boolean serves(Reading reading) {
        return reading.headed()
                && reading.names().stream().noneMatch(String::isBlank)
                && reading.names().stream().map(Binding::fold).distinct().count()
                        == reading.names().size();
    }

    /**
     * Puts files together, the largest group first.
     *
     * @param found files that can be read
     */
    static List<FileGroup> of(List<Found> found) {
        Map<String, List<Found>> exact = new TreeMap<>();
        for (Found file : found) {
            Reading reading = file.reading().orElseThrow();
            if (reading.headed()) {
                exact.computeIfAbsent(key(reading, folded(reading).toString()), key -> new ArrayList<>())
                        .add(file);
            }
        }
        List<List<Found>> groups = new ArrayList<>();
        exact.values().stream()
                .sorted(Comparator.comparing((List<Found> files) -> -files.size())
                        .thenComparing(files -> files.get(0).name()))
                .forEach(files -> groups.stream()
                        .filter(other -> alike(other.get(0), files.get(0)))
                        .findFirst()
                        .ifPresentOrElse(other -> other.addAll(files), () -> groups.add(new ArrayList<>(files))));
        for (Found file : found) {
            Reading reading = file.reading().orElseThrow();
            if (!reading.headed()) {
                groups.stream()
                        .filter(other -> suits(other.get(0).reading().orElseThrow(), reading))
                        .findFirst()
                        .ifPresentOrElse(other -> other.add(file), () -> groups.add(new ArrayList<>(List.of(file))));
            }
        }
        return groups.stream()
                .flatMap(files -> byEncoding(files).stream())
                .map(FileGroup::inOrder)
                .sorted(Comparator.comparing((FileGroup group) -> -group.files.size())
                        .thenComparing(group -> group.files.get(0).name()))
                .toList();
    }

    private static String key(Reading reading, String header) {
        return reading.read().as() + " " + reading.read().get(ReadSection.ROWS) + " " + header;
    }

    private static Set<String> folded(Reading reading) {
        Set<String> folded = new TreeSet<>();
        names(reading).forEach(name -> folded.add(Binding.fold(name)));
        return folded;
    }

    private static boolean alike(Found one, Found other) {
        Reading a = one.reading().orElseThrow();
        Reading b = other.reading().orElseThrow();
        if (a.read().as() != b.read().as()
                || !a.read().get(ReadSection.ROWS).equals(b.read().get(ReadSection.ROWS))) {
            return false;
        }
        Set<String> first = folded(a);
        Set<String> both = new TreeSet<>(first);
        both.retainAll(folded(b));
        first.addAll(folded(b));
        return both.size() > 1 && both.size() * 100 >= first.size() * ALIKE;
    }

    /** Whether a file without a header has the form of one that has one, or of another without. */
    private static boolean suits(Reading with, Reading without) {
        return with.read().as() == without.read().as()
                && with.width() == without.width()
                && with.read().get(ReadSection.SEPARATOR).equals(without.read().get(ReadSection.SEPARATOR))
                && with.read().get(ReadSection.COLUMNS).equals(without.read().get(ReadSection.COLUMNS));
    }

    /**
     * Files that are nothing but ASCII go with any others. UTF-8 and one other encoding can be told apart file by file,
     * two others cannot.
     */
    private static List<List<Found>> byEncoding(List<Found> files) {
        Map<Charset, List<Found>> groups = new TreeMap<>();
        List<Found> ascii = new ArrayList<>();
        for (Found file : files) {
            Reading reading = file.reading().orElseThrow();
            (reading.ascii() ? ascii : groups.computeIfAbsent(reading.read().encoding(), key -> new ArrayList<>()))
                    .add(file);
        }
        if (groups.isEmpty()) {
            return List.of(ascii);
        }
        List<Found> utf8 = groups.get(StandardCharsets.UTF_8);
        groups.entrySet().stream()
                .filter(one -> utf8 != null && isTold(one.getKey()))
                .max(Comparator.comparing(
                        (Map.Entry<Charset, List<Found>> one) -> one.getValue().size()))
                .ifPresent(other -> {
                    utf8.addAll(other.getValue());
                    groups.remove(other.getKey());
                });
        groups.values().stream()
                .max(Comparator.comparing(List::size))
                .orElseThrow()
                .addAll(ascii);
        return List.copyOf(groups.values());
    }

    /** Whether texts in an encoding are hardly ever valid UTF-8; UTF-16 often is. */
    private static boolean isTold(Charset charset) {
        return !charset.name().startsWith("UTF-");
    }

    private static FileGroup inOrder(List<Found> files) {
        List<Found> ordered = files.stream()
                .sorted(Comparator.comparing((Found file) -> file.name()))
                .toList();
        boolean headed =
                ordered.stream().anyMatch(file -> file.reading().orElseThrow().headed());
        Set<String> seen = new LinkedHashSet<>();
        List<String> headers = new ArrayList<>();
        for (Found file : ordered) {
            Reading reading = file.reading().orElseThrow();
            if (reading.headed() || !headed) {
                names(reading).stream()
                        .filter(name -> seen.add(Binding.fold(name)))
                        .forEach(headers::add);
            }
        }
        return new FileGroup(ordered, headers, headed, List.of());
    }
}
