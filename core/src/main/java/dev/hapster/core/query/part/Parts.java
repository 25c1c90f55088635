package dev.hapster.core.query.part;

import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.QueryException;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.function.Supplier;
import java.util.stream.IntStream;

/** The parts of one dataset in order, and the files in which they lie. Immutable. */
public final class Parts {

    private static final int CORES = Runtime.getRuntime().availableProcessors();
    /** Files of more bytes than this are gone through by several at once. */
    private static final long SHARED = 4L << 20;

    /** By source; parts of one source follow each other. */
    private final List<PartFile> all;
    /** For each part the number of its source, counted from 0. */
    private final int[] groups;
    /** The files in which they lie. */
    private final List<StoredFile> files;
    /** For each part the number of its file. */
    private final int[] filesOf;

    public Parts(List<PartFile> parts) {
        all = parts.stream().sorted(Comparator.comparing(PartFile::source)).toList();
        files = StoredFile.of(all);
        groups = new int[all.size()];
        for (int i = 1; i < groups.length; i++) {
            String source = all.get(i).source();
            boolean same = !source.isEmpty() && source.equals(all.get(i - 1).source());
            groups[i] = groups[i - 1] + (same ? 0 : 1);
        }
        filesOf = new int[all.size()];
        for (int file = 0; file < files.size(); file++) {
            for (int part : files.get(file).numbers()) {
                filesOf[part] = file;
            }
        }
    }

    /** By source; parts of one source follow each other. */
    public List<PartFile> all() {
        return all;
    }

    /** The files in which they lie. */
    public List<StoredFile> files() {
        return files;
    }

    /** Rows that count. */
    public long rows() {
        return all.stream().mapToLong(PartFile::rows).sum();
    }

    /** The number of a part's source. */
    public int groupOf(int part) {
        return groups[part];
    }

    /** The number of the file in which a part lies. */
    public int fileOf(int part) {
        return filesOf[part];
    }

    /** The part behind the last one of the source that a part is of. */
    public int endOfSource(int part) {
        int end = part + 1;
        while (end < all.size() && groups[end] == groups[part]) {
            end++;
        }
        return end;
    }

    /**
     * A file, or every so manieth row group of one.
     *
     * @param file its number
     * @param of how many slices there are; {@code slice} counts from 0
     */
    public record Slice(int file, int slice, int of) {

        /** The row groups that are of this slice. */
        public int[] groups(PartReader reader) {
            int[] some = new int[Math.max(0, (reader.groups() - slice + of - 1) / of)];
            Arrays.setAll(some, i -> slice + i * of);
            return some;
        }
    }

    /** Files cut so that all cores have something to do. */
    private List<Slice> slices(List<Integer> numbers) {
        List<Slice> slices = new ArrayList<>();
        for (int file : numbers) {
            boolean shared = numbers.size() < 8 * CORES
                    && files.get(file).path().toFile().length() > SHARED;
            for (int slice = 0; slice < (shared ? CORES : 1); slice++) {
                slices.add(new Slice(file, slice, shared ? CORES : 1));
            }
        }
        return slices;
    }

    /** The numbers of all files. */
    public List<Integer> everyFile() {
        List<Integer> numbers = new ArrayList<>();
        for (int file = 0; file < files.size(); file++) {
            numbers.add(file);
        }
        return numbers;
    }

    /** What is done with a slice of a file. */
    public interface SliceWork<T> {
        void perform(Slice slice, PartReader reader, T result) throws IOException, QueryException;
    }

    /**
     * Goes through files on several cores.
     *
     * @return what each of those who did it has gathered
     */
    public <T> List<T> each(List<Integer> numbers, List<Field> fields, Supplier<T> begin, SliceWork<T> work)
            throws IOException, QueryException {
        List<Slice> slices = slices(numbers);
        return Spread.over(slices.size(), begin, (number, result) -> {
            Slice slice = slices.get(number);
            try (PartReader reader = files.get(slice.file()).read(fields)) {
                work.perform(slice, reader, result);
            }
        });
    }

    /** Rows that are looked for at once by one. */
    private static final int FETCHED = 256;

    /**
     * Reads rows, wherever they stand.
     *
     * @param numbersOfFiles for each row its file
     * @param rows its number in that file
     * @return in the same order
     */
    public List<List<Comparable<?>>> fetch(int[] numbersOfFiles, long[] rows, List<Field> fields)
            throws IOException, QueryException {
        List<List<Comparable<?>>> found = new ArrayList<>(Collections.nCopies(rows.length, List.of()));
        int[] places = IntStream.range(0, rows.length)
                .boxed()
                .sorted(Comparator.<Integer>comparingInt(place -> numbersOfFiles[place])
                        .thenComparingLong(place -> rows[place]))
                .mapToInt(Integer::intValue)
                .toArray();
        List<int[]> some = new ArrayList<>();
        for (int from = 0, end; from < places.length; from = end) {
            end = from + 1;
            while (end < places.length
                    && end - from < FETCHED
                    && numbersOfFiles[places[end]] == numbersOfFiles[places[from]]) {
                end++;
            }
            some.add(Arrays.copyOfRange(places, from, end));
        }
        Spread.over(some.size(), () -> found, (number, all) -> {
            int[] wanted = some.get(number);
            int[] next = {0};
            try (PartReader reader =
                    new PartReader(files.get(numbersOfFiles[wanted[0]]).path(), fields)) {
                reader.rows(
                        IntStream.of(wanted).mapToLong(place -> rows[place]).toArray(),
                        (row, at) -> all.set(wanted[next[0]++], values(reader, at, fields.size())));
            }
        });
        return found;
    }

    /** The values of a row of the present batch. */
    public static List<Comparable<?>> values(PartReader reader, int row, int count) throws IOException {
        List<Comparable<?>> values = new ArrayList<>(count);
        for (int i = 0; i < count; i++) {
            values.add(reader.value(i, row));
        }
        return values;
    }
}
