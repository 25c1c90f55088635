package dev.hapster.core.draft;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.edit.ReadEdit;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.draft.Draft.ColumnDraft;
import dev.hapster.core.draft.GroupProfile.FileProfile;
import dev.hapster.core.draft.column.ColumnProfile;
import dev.hapster.core.draft.column.Conclusion;
import dev.hapster.core.draft.column.TypeFinder;
import dev.hapster.core.draft.name.ColumnNames;
import dev.hapster.core.shape.Binding;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;

/** What becomes of the columns of a group of files: names, types, and how their values come about. */
final class ColumnDrafts {

    private static final int SAMPLES = 4;
    /** How sure two columns must be to be one, of 100. */
    private static final int SURE = 60;

    /**
     * A column with all that is known of it.
     *
     * @param headers what the files call it, the most common first
     * @param name in the dataset
     * @param found what was concluded
     * @param missing in how many files it is missing
     */
    record Column(
            List<String> headers,
            String name,
            Conclusion found,
            ColumnProfile profile,
            int missing,
            List<String> doubts) {

        boolean required() {
            return found.required() && missing == 0;
        }
    }

    private final FileGroup group;
    private final List<FileProfile> files;
    private final Map<String, ColumnProfile> profiles = new LinkedHashMap<>();
    private final Map<String, String> shown = new LinkedHashMap<>();
    private final char decimal;

    ColumnDrafts(FileGroup group, GroupProfile.Part part) {
        this.group = group;
        files = part.files();
        for (String header : group.headers()) {
            shown.putIfAbsent(Binding.fold(header), header);
        }
        for (String key : shown.keySet()) {
            ColumnProfile column = part.columns().get(key);
            profiles.put(key, column == null ? new ColumnProfile(line -> "") : column);
        }
        Set<Character> marks = new LinkedHashSet<>();
        profiles.values().forEach(profile -> {
            char mark = TypeFinder.provenDecimal(profile);
            if (mark != 0) {
                marks.add(mark);
            }
        });
        decimal = marks.size() == 1 ? marks.iterator().next() : 0;
    }

    Map<String, ColumnProfile> profiles() {
        return profiles;
    }

    Map<String, String> shown() {
        return shown;
    }

    private Conclusion conclusion(ColumnProfile profile, List<String> keys) {
        List<ColumnProfile.Brief> each = files.stream()
                .flatMap(file -> keys.stream().map(file.columns()::get).filter(Objects::nonNull))
                .toList();
        return new TypeFinder(profile, each, decimal).find();
    }

    /** All columns, in the order of the files. */
    List<Column> columns() {
        List<List<String>> together = together();
        List<String> names = ColumnNames.of(
                plain(together.stream().map(keys -> shown.get(keys.get(0))).toList()));
        List<Column> columns = new ArrayList<>();
        for (int i = 0; i < together.size(); i++) {
            List<String> keys = together.get(i);
            ColumnProfile profile = profiles.get(keys.get(0));
            List<String> doubts = new ArrayList<>();
            if (keys.size() > 1) {
                profile = new ColumnProfile(line -> "");
                for (String key : keys) {
                    profile.merge(profiles.get(key));
                }
                List<String> headers =
                        keys.stream().map(key -> '"' + shown.get(key) + '"').toList();
                doubts.add(String.join(" and ", headers) + " look like one column ("
                        + likeness(keys.get(0), keys.get(1))
                        + " of 100): by place, type and values; no file has both");
            }
            int with = (int) files.stream()
                    .filter(file -> keys.stream().anyMatch(file.columns()::containsKey))
                    .count();
            Conclusion found = conclusion(profile, keys);
            doubts.addAll(found.doubts());
            columns.add(new Column(
                    keys.stream().map(shown::get).toList(), names.get(i), found, profile, files.size() - with, doubts));
        }
        return columns;
    }

    /** Names without the path to the rows, which most have in common, where they are different without it. */
    private List<String> plain(List<String> headers) {
        List<String> rows = group.first().read().get(ReadSection.ROWS);
        String mark = group.format().pathMark();
        List<String> plain = new ArrayList<>();
        for (String header : headers) {
            String name = header;
            for (int i = 1; i < rows.size(); i++) {
                String prefix = String.join(mark, rows.subList(0, i)) + mark;
                name = header.startsWith(prefix) ? header.substring(prefix.length()) : name;
            }
            plain.add(name);
        }
        for (int i = 0; i < plain.size(); i++) {
            if (plain.indexOf(plain.get(i)) != plain.lastIndexOf(plain.get(i))) {
                return headers;
            }
        }
        return plain;
    }

    /** Columns of other names in other files that look like one. */
    private List<List<String>> together() {
        List<List<String>> all = new ArrayList<>();
        for (String key : shown.keySet()) {
            List<String> same =
                    all.stream().filter(keys -> isOne(keys, key)).findFirst().orElse(null);
            if (same == null) {
                all.add(new ArrayList<>(List.of(key)));
            } else {
                same.add(key);
            }
        }
        return all;
    }

    /** Whether a column looks like others, and no file has both. */
    private boolean isOne(List<String> keys, String key) {
        boolean both = files.stream()
                .filter(file -> file.columns().containsKey(key))
                .anyMatch(file -> keys.stream().anyMatch(file.columns()::containsKey));
        return !both && isMissing(key) && isMissing(keys.get(0)) && likeness(keys.get(0), key) >= SURE;
    }

    private boolean isMissing(String key) {
        return files.stream().anyMatch(file -> !file.columns().containsKey(key));
    }

    /** How alike two columns are, of 100: by type and patterns, by their place, by values in common. */
    private int likeness(String one, String other) {
        Conclusion a = conclusion(profiles.get(one), List.of(one));
        Conclusion b = conclusion(profiles.get(other), List.of(other));
        if (a.type().kind() != b.type().kind() || !a.patterns().equals(b.patterns())) {
            return 0;
        }
        int likeness = 40;
        likeness += place(one) == place(other) ? 30 : 0;
        Set<String> values = new LinkedHashSet<>(profiles.get(one).values().keySet());
        int all = values.size();
        values.retainAll(profiles.get(other).values().keySet());
        return likeness + (all == 0 ? 0 : 30 * values.size() / all);
    }

    private int place(String key) {
        return files.stream()
                .filter(file -> file.columns().containsKey(key))
                .findFirst()
                .map(file -> List.copyOf(file.columns().keySet()).indexOf(key))
                .orElse(-1);
    }

    /** How values of a column come about, as the section `map` says it; empty where nothing need be said. */
    static Map<String, Object> mapping(
            String name, ColumnType type, List<String> headers, Conclusion found, List<String> clean) {
        Map<String, Object> mapping = new LinkedHashMap<>();
        if (headers.size() > 1 || !Binding.fold(headers.get(0)).equals(Binding.fold(name))) {
            mapping.put("from", headers.size() == 1 ? headers.get(0) : headers);
        }
        if (found.trim() || !clean.isEmpty()) {
            List<String> steps = new ArrayList<>(found.trim() ? List.of("trim") : List.of());
            steps.addAll(clean);
            mapping.put("clean", steps);
        }
        if (!found.patterns().isEmpty() && type.isTemporal()) {
            mapping.put(
                    "pattern", found.patterns().size() == 1 ? found.patterns().get(0) : found.patterns());
        }
        if (!found.language().isEmpty() && type.isTemporal()) {
            mapping.put("language", found.language());
        }
        if (found.decimal() != 0 && type.isNumber()) {
            mapping.put("decimal", String.valueOf(found.decimal()));
        }
        if (found.thousands() != 0 && type.isNumber()) {
            mapping.put("thousands", String.valueOf(found.thousands()));
        }
        if (!found.nothing().isEmpty()) {
            List<String> words = new ArrayList<>(List.of(""));
            words.addAll(found.nothing());
            mapping.put("empty_as", words);
        }
        if (!found.trueAs().isEmpty() && type.kind() == ColumnType.Kind.BOOLEAN) {
            mapping.put("true_as", found.trueAs());
            mapping.put("false_as", found.falseAs());
        }
        return mapping;
    }

    /** The same on one line; a column that only has another name is that name. */
    static String inLine(Map<String, Object> mapping) {
        return mapping.isEmpty()
                ? ""
                : mapping.size() == 1 && mapping.get("from") instanceof String from
                        ? ReadEdit.inLine(from)
                        : ReadEdit.inLine(mapping);
    }

    /** How a column of the dataset is declared, on one line. */
    static Map<String, Object> declaration(String name, String type, boolean required, Conclusion found) {
        Map<String, Object> declared = new LinkedHashMap<>();
        declared.put("name", name);
        declared.put("type", type);
        if (type.equals(ColumnType.of(ColumnType.Kind.TEXT).toString())) {
            found.length().ifPresent(length -> declared.put("length", length));
            if (!found.allowed().isEmpty()) {
                declared.put("one_of", found.allowed());
            }
        }
        if (required) {
            declared.put("required", true);
        }
        return declared;
    }

    static ColumnDraft draft(Column column, String name, String type, boolean required, String mapping, String why) {
        return new ColumnDraft(
                name,
                column.headers(),
                type,
                mapping,
                required,
                why,
                column.doubts(),
                column.profile().samples(SAMPLES),
                column.profile().rows(),
                column.profile().empties());
    }
}
