package dev.hapster.core.draft;

import dev.hapster.core.draft.GroupProfile.FileProfile;
import dev.hapster.core.draft.column.ColumnProfile;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Which columns tell every row from all others.
 *
 * @param columns their headers; empty where no one, two or three do
 * @param why what this rests on
 */
record KeySearch(List<String> columns, String why) {

    private static final int ENOUGH = 20;
    /** Columns of which combinations are tried. */
    private static final int MOST_TRIED = 12;

    private static final KeySearch NONE = new KeySearch(List.of(), "");

    /**
     * Looks for a key.
     *
     * @param headers folded, in the order of the files
     * @param profiles of all files together
     * @param files of each by itself, with the values that stand together
     * @param shown what people call each of the headers
     */
    static KeySearch of(
            List<String> headers,
            Map<String, ColumnProfile> profiles,
            List<FileProfile> files,
            Map<String, String> shown) {
        List<String> filled = headers.stream()
                .filter(header -> profiles.get(header).filled() > 0)
                .filter(header -> profiles.get(header).empties() == 0)
                .filter(header ->
                        files.stream().allMatch(file -> file.together().containsKey(header)))
                .toList();
        long rows = filled.isEmpty() ? 0 : profiles.get(filled.get(0)).rows();
        if (rows < ENOUGH) {
            return NONE;
        }
        for (String header : filled) {
            if (profiles.get(header).isUnique()) {
                return new KeySearch(
                        List.of(header),
                        "all " + profiles.get(header).rows() + " values of \"" + shown.get(header) + "\" differ"
                                + (profiles.get(header).isCapped() ? ", as far as they were compared" : ""));
            }
        }
        List<String> tried = filled.subList(0, Math.min(MOST_TRIED, filled.size()));
        for (int size = 2; size <= 3; size++) {
            for (List<String> some : combinations(tried, size, 0)) {
                long compared = compared(some, files);
                if (compared >= ENOUGH) {
                    return new KeySearch(
                            some,
                            "no two of " + compared + " rows that were compared have the same "
                                    + String.join(
                                            " and ",
                                            some.stream()
                                                    .map(name -> '"' + shown.get(name) + '"')
                                                    .toList()));
                }
            }
        }
        return NONE;
    }

    private static List<List<String>> combinations(List<String> of, int size, int from) {
        List<List<String>> all = new ArrayList<>();
        if (size == 0) {
            return List.of(List.of());
        }
        for (int i = from; i < of.size(); i++) {
            for (List<String> rest : combinations(of, size - 1, i + 1)) {
                List<String> one = new ArrayList<>();
                one.add(of.get(i));
                one.addAll(rest);
                all.add(one);
            }
        }
        return all;
    }

    /** How many rows were compared and differ; 0 where two are the same. */
    private static long compared(List<String> columns, List<FileProfile> files) {
        Set<List<Long>> seen = new HashSet<>();
        long compared = 0;
        for (FileProfile file : files) {
            for (int row = 0; row < file.kept(); row++) {
                List<Long> values = new ArrayList<>(columns.size());
                for (String column : columns) {
                    values.add(file.together().get(column)[row]);
                }
                if (!seen.add(values)) {
                    return 0;
                }
                compared++;
            }
        }
        return compared;
    }
}
