package dev.hapster.core.shape;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import java.text.Normalizer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/**
 * Which field of a file feeds which column of the dataset.
 *
 * <p>Names are compared without regard to case, spaces, {@code _} and {@code -}; a name that stands exactly so goes
 * first.
 *
 * @param names the file's columns
 * @param fields for each column of the dataset the index of its field, or {@link #CONSTANT} (also for a fact, which is
 *     the same in every row), {@link #COMPUTED} or {@link #ABSENT}
 * @param used the fields that feed columns, or of which computed columns make something
 * @param missing names that the job needs and the file lacks
 * @param unused names of the file that feed no column, and for which no condition asks
 * @param extra those of them that the job does not let pass
 * @param unfed columns of the dataset that stay empty, since neither the job nor the file speaks of them
 */
public record Binding(
        List<String> names,
        int[] fields,
        int[] used,
        List<String> missing,
        List<String> unused,
        List<String> extra,
        List<String> unfed) {

    public static final int CONSTANT = -1;
    public static final int ABSENT = -2;
    public static final int COMPUTED = -3;

    /**
     * Columns that Hapster adds where it hands out rows to be corrected: they are not mapped, and let the corrected
     * copy pass.
     */
    public static final Set<String> OURS = Set.of("_file", "_line", "_column", "_value", "_code", "_reason", "_rule");

    /**
     * @param names the file's columns
     * @throws FileRejectedException where two of the file's columns answer to one name
     */
    public static Binding of(DatasetDef dataset, JobDef job, List<String> names) throws FileRejectedException {
        List<String> folded = names.stream().map(Binding::fold).toList();
        int[] fields = new int[dataset.columns().size()];
        List<String> missing = new ArrayList<>();
        List<String> unfed = new ArrayList<>();
        Set<Integer> used = new LinkedHashSet<>();
        for (int i = 0; i < fields.length; i++) {
            ColumnDef column = dataset.columns().get(i);
            Mapping mapping = job.map().get(column.name());
            if (mapping instanceof Mapping.Constant || mapping instanceof Mapping.Fact) {
                fields[i] = CONSTANT;
                continue;
            }
            if (mapping != null && mapping.computed().isPresent()) {
                fields[i] = COMPUTED;
                continue;
            }
            List<String> wanted = new ArrayList<>(wanted(column, mapping));
            if (mapping == null) {
                wanted.addAll(column.was());
            }
            fields[i] = ABSENT;
            for (String name : wanted) {
                fields[i] = fields[i] == ABSENT ? find(name, names, folded) : fields[i];
            }
            if (fields[i] != ABSENT) {
                used.add(fields[i]);
            } else if ((column.required() && column.fallback().isEmpty())
                    || (mapping != null && !job.read().get(ReadSection.EMPTY_MISSING))) {
                missing.add(String.join(" or ", wanted(column, mapping)));
            } else {
                unfed.add(column.name());
            }
        }
        for (String asked : asked(job)) {
            int field = find(asked, names, folded);
            if (field != ABSENT) {
                used.add(field);
            } else if (!job.read().get(ReadSection.EMPTY_MISSING)) {
                missing.add(asked);
            }
        }
        int[] feeding = used.stream().mapToInt(Integer::intValue).toArray();
        job.handling().sourceColumns().forEach(asked -> {
            if (names.contains(asked)) {
                used.add(names.indexOf(asked));
            }
        });
        List<String> unused = new ArrayList<>();
        for (int i = 0; i < names.size(); i++) {
            if (!used.contains(i)) {
                unused.add(names.get(i));
            }
        }
        List<String> passed = job.read().get(ReadSection.EXTRA_COLUMNS).ignored().stream()
                .map(Binding::fold)
                .toList();
        List<String> extra = job.read().get(ReadSection.EXTRA_COLUMNS).ignoreExtra()
                ? List.of()
                : unused.stream()
                        .filter(name -> !name.isBlank() && !OURS.contains(name) && !passed.contains(fold(name)))
                        .toList();
        return new Binding(List.copyOf(names), fields, feeding, missing, unused, extra, unfed);
    }

    /** Whether any column comes from the file, or needs none. */
    public boolean isFed() {
        return Arrays.stream(fields).anyMatch(field -> field >= 0)
                || Arrays.stream(fields).allMatch(field -> field == CONSTANT || field == COMPUTED);
    }

    /** The file's own columns of which computed columns make something, in the order in which they are written. */
    public static Set<String> asked(JobDef job) {
        Set<String> asked = new LinkedHashSet<>();
        job.map().values().forEach(mapping -> mapping.computed().ifPresent(one -> asked.addAll(one.sourceColumns())));
        return asked;
    }

    /** How many of the names that the job looks for are among {@code names}. */
    public static int fit(DatasetDef dataset, JobDef job, List<String> names) {
        List<String> folded = names.stream().map(Binding::fold).toList();
        return (int) dataset.columns().stream()
                .filter(column ->
                        job.map().get(column.name()) == null || job.map().get(column.name()) instanceof Mapping.Source)
                .filter(column -> wanted(column, job.map().get(column.name())).stream()
                        .anyMatch(name -> folded.contains(fold(name))))
                .count();
    }

    /** The names by which a column is looked for, the first one first. */
    public static List<String> wanted(ColumnDef column, Mapping mapping) {
        return mapping instanceof Mapping.Source source && !source.from().isEmpty()
                ? source.from()
                : List.of(column.name());
    }

    private static int find(String wanted, List<String> names, List<String> folded) throws FileRejectedException {
        String key = fold(wanted);
        int first = folded.indexOf(key);
        int last = folded.lastIndexOf(key);
        if (first == last) {
            return first < 0 ? ABSENT : first;
        }
        int exact = names.indexOf(wanted);
        if (exact >= 0 && exact == names.lastIndexOf(wanted)) {
            return exact;
        }
        throw new FileRejectedException(Reasons.columnAmbiguous(wanted, List.of(names.get(first), names.get(last))));
    }

    /** A name without case, spaces, {@code _} and {@code -}, in Unicode normal form C. */
    public static String fold(String name) {
        StringBuilder folded = new StringBuilder();
        Normalizer.normalize(name, Normalizer.Form.NFC)
                .toLowerCase(Locale.ROOT)
                .codePoints()
                .filter(c -> c != '_' && c != '-' && !Cleaner.isSpace(c))
                .forEach(folded::appendCodePoint);
        return folded.toString();
    }
}
