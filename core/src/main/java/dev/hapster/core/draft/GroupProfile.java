package dev.hapster.core.draft;

import dev.hapster.core.draft.column.ColumnProfile;
import dev.hapster.core.draft.column.ColumnProfile.Brief;
import dev.hapster.core.draft.column.UniqueValues;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * What the files of a group hold, put together file by file in their order, so that memory does not grow with their
 * values and hardly with their number. Files that write decimals in different ways stay apart. Not thread-safe.
 */
final class GroupProfile {

    /** Room for the values of all files that are held against each other, of eight bytes each. */
    private static final int ROOM = 1 << 23;

    /**
     * What is kept of one file.
     *
     * @param columns by the folded names of their headers, in their order
     * @param together as in {@link TableProfile}
     * @param kept rows of which it is kept which values stand together
     */
    record FileProfile(int order, Found found, Map<String, Brief> columns, Map<String, long[]> together, int kept) {}

    /**
     * Files that one job can read.
     *
     * @param files in their order
     * @param columns what all of them hold, by the folded names of their headers
     */
    record Part(List<FileProfile> files, Map<String, ColumnProfile> columns) {
        List<Found> found() {
            return files.stream().map(FileProfile::found).toList();
        }
    }

    private final UniqueValues.Room room = new UniqueValues.Room(ROOM);
    private final Map<Character, Part> parts = new LinkedHashMap<>();
    /** Each is kept once, since most files look alike. */
    private final Map<Brief, Brief> briefs = new HashMap<>();

    private int files;
    private long rows;

    /** Takes the next file. */
    void add(TableProfile profile) {
        Part part =
                parts.computeIfAbsent(profile.decimal(), mark -> new Part(new ArrayList<>(), new LinkedHashMap<>()));
        Map<String, Brief> columns = new LinkedHashMap<>();
        profile.columns.forEach((key, column) -> {
            Brief brief = column.brief();
            columns.put(key, briefs.computeIfAbsent(brief, same -> same));
            merge(part, key, column);
        });
        part.files.add(new FileProfile(files++, profile.found, columns, profile.together, profile.kept));
        rows += profile.rows;
    }

    private void merge(Part part, String key, ColumnProfile column) {
        part.columns
                .computeIfAbsent(key, any -> new ColumnProfile(line -> "", room))
                .merge(column);
    }

    boolean isEmpty() {
        return rows == 0;
    }

    /** The largest first; files that prove no decimal mark go with it. */
    List<Part> parts() {
        Part undecided = parts.remove((char) 0);
        List<Part> all = new ArrayList<>(parts.values().stream()
                .sorted(Comparator.comparing((Part part) -> -part.files.size()))
                .toList());
        if (undecided != null && all.isEmpty()) {
            all.add(undecided);
        } else if (undecided != null) {
            Part largest = all.get(0);
            largest.files.addAll(undecided.files);
            largest.files.sort(Comparator.comparing(FileProfile::order));
            undecided.columns.forEach((key, column) -> merge(largest, key, column));
        }
        return all;
    }
}
