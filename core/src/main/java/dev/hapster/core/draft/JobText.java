package dev.hapster.core.draft;

import dev.hapster.core.definition.edit.ReadEdit;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.definition.read.Span;
import dev.hapster.core.draft.Draft.ColumnDraft;
import dev.hapster.core.draft.Draft.JobDraft;
import dev.hapster.core.draft.name.NameShape;
import dev.hapster.core.draft.reading.Evidence;
import dev.hapster.core.draft.reading.Reading;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/** The definition of a job as a person would write it, put together piece by piece. Not thread-safe. */
final class JobText {

    private static final int SHOWN = 20;

    private final DraftRequest request;
    private final FileGroup group;
    private final NameShape names;
    private final String name;
    private String into = "";
    private final Map<String, String> map = new LinkedHashMap<>();
    private final Map<String, String> whys = new LinkedHashMap<>();
    private final Set<String> skipped = new LinkedHashSet<>();
    private final List<String> doubts = new ArrayList<>();
    private boolean missing;

    JobText(DraftRequest request, FileGroup group, NameShape names, String name) {
        this.request = request;
        this.group = group;
        this.names = names;
        this.name = name;
        Set<String> all = new LinkedHashSet<>();
        group.files().forEach(file -> all.addAll(file.reading().orElseThrow().doubts()));
        doubts.addAll(all);
    }

    String name() {
        return name;
    }

    void into(String dataset) {
        into = dataset;
    }

    void doubt(String sentence) {
        doubts.add(sentence);
    }

    void skip(List<String> headers) {
        skipped.addAll(headers);
    }

    void map(String column, Map<String, Object> mapping, boolean lacking, String why) {
        Map<String, Object> said = mapping;
        if (lacking) {
            missing = true;
        }
        if (!said.isEmpty()) {
            map.put(column, ColumnDrafts.inLine(said));
            whys.put(column, why);
        }
    }

    void constant(String column, String value) {
        map.put(column, ReadEdit.inLine(Map.of("value", value)));
        whys.put(column, "no column of the files holds it");
    }

    /** A column of a dataset as a line of its definition. */
    static String column(Map<String, Object> declaration, String why) {
        return "  - " + ReadEdit.inLine(declaration) + (why.isEmpty() ? "" : "   # " + why);
    }

    /** The definition of a dataset. */
    static String dataset(String name, List<String> columns, List<String> key) {
        StringBuilder text = new StringBuilder("dataset: ").append(name).append("\ncolumns:\n");
        columns.forEach(line -> text.append(line).append('\n'));
        if (!key.isEmpty()) {
            text.append("key: [").append(String.join(", ", key)).append("]\n");
        }
        return text.toString();
    }

    /** All of it. */
    JobDraft job(Path workspace, List<ColumnDraft> columns) {
        Path folder = group.files().stream()
                .map(Found::folder)
                .reduce(JobText::common)
                .orElseThrow();
        List<Evidence> finding = new ArrayList<>();
        StringBuilder text = new StringBuilder("job: ")
                .append(name)
                .append("\ninto: ")
                .append(into)
                .append("\nfind:\n");
        String where = folder.startsWith(workspace) && !folder.equals(workspace)
                ? workspace.relativize(folder).toString()
                : folder.equals(workspace) ? "." : folder.toString();
        text.append("  - folder: ").append(ReadEdit.inLine(where)).append('\n');
        finding.add(new Evidence("take", String.join(", ", names.takes()), names.why()));
        text.append("    take: ").append(ReadEdit.inLine(names.takes())).append('\n');
        if (!names.skips().isEmpty()) {
            text.append("    skip: ").append(ReadEdit.inLine(names.skips())).append('\n');
            finding.add(new Evidence("skip", String.join(", ", names.skips()), "of another kind"));
        }
        int depth = group.files().stream()
                .mapToInt(file -> folder.relativize(file.file().path()).getNameCount() - 1)
                .max()
                .orElse(0);
        if (depth > 0) {
            text.append("    depth: ").append(depth).append('\n');
            finding.add(new Evidence("depth", String.valueOf(depth), "some files lie in folders below"));
        }
        if (group.format() == Format.WORKBOOK) {
            sheets(text, finding);
        }
        List<Evidence> reading = new ArrayList<>();
        read(text, reading);
        if (!map.isEmpty()) {
            int widest = Math.min(
                    24, map.keySet().stream().mapToInt(String::length).max().orElse(0));
            text.append("map:\n");
            map.forEach((column, how) -> {
                String padded = String.format("  %-" + (widest + 1) + "s %s", column + ":", how);
                text.append(padded)
                        .append(request.comments() ? "   # " + whys.get(column) : "")
                        .append('\n');
            });
        }
        return new JobDraft(
                name,
                into,
                where,
                group.files().size(),
                group.files().stream().map(Found::name).limit(SHOWN).toList(),
                List.of(),
                finding,
                reading,
                columns,
                doubts,
                false,
                0,
                0,
                List.of(),
                text.toString());
    }

    private static Path common(Path one, Path other) {
        Path common = one;
        while (!other.startsWith(common)) {
            common = common.getParent();
        }
        return common;
    }

    private void sheets(StringBuilder text, List<Evidence> finding) {
        List<String> sheets = group.files().stream()
                .map(file -> file.file().sheet().orElse(""))
                .distinct()
                .toList();
        List<String> others = new ArrayList<>(group.others());
        others.removeAll(sheets);
        NameShape shape = NameShape.of(sheets, others);
        List<String> patterns = others.isEmpty() && sheets.size() == 1 ? sheets : shape.takes();
        text.append("    sheets: ").append(ReadEdit.inLine(patterns)).append('\n');
        finding.add(new Evidence(
                "sheets",
                String.join(", ", patterns),
                sheets.size() == 1
                        ? "the only sheet with such a table"
                        : sheets.size() == 2
                                ? "takes both sheets with such a table"
                                : "takes all " + sheets.size() + " names of sheets with such a table"));
    }

    private void read(StringBuilder text, List<Evidence> reading) {
        Reading first = group.first();
        text.append("read:\n");
        List<Evidence> told = new ArrayList<>(first.evidence());
        add(text, "as", group.format().word());
        told.stream().filter(one -> one.what().equals("as")).forEach(reading::add);
        if (group.format() == Format.DELIMITED) {
            separators(text, reading);
            same(
                    text,
                    reading,
                    told,
                    "quote",
                    group.values(ReadSection.QUOTE).get(0).map(String::valueOf).orElse("none"),
                    "\"");
            group.values(ReadSection.ESCAPE)
                    .get(0)
                    .ifPresent(escape -> same(text, reading, told, "escape", String.valueOf(escape), ""));
        }
        encodings(text, reading);
        group.values(ReadSection.COMMENT).get(0).ifPresent(start -> same(text, reading, told, "comment", start, ""));
        header(text, reading, told);
        if (group.values(ReadSection.FILL_SHORT).contains(true)) {
            add(text, "short_rows", "fill");
            group.files().stream()
                    .flatMap(file -> file.reading().orElseThrow().evidence().stream())
                    .filter(one -> one.what().equals("short_rows"))
                    .findFirst()
                    .ifPresent(reading::add);
        }
        List<Integer> below = group.values(ReadSection.LINES_BELOW);
        if (below.size() == 1 && below.get(0) > 0) {
            same(text, reading, told, "lines_below", below.get(0), 0);
        } else if (below.size() > 1) {
            doubts.add("the files end in different ways (" + below
                    + " lines below the table): such lines are rejected as rows");
        }
        if (group.values(ReadSection.REPEAT_MERGED).contains(true)) {
            same(text, reading, told, "merged", "repeat", "");
        }
        List<String> rows = group.values(ReadSection.ROWS).get(0);
        if (!rows.isEmpty()) {
            told.stream().filter(one -> one.what().equals("rows")).forEach(one -> add(text, "rows", one.value()));
        }
        told.stream().filter(one -> one.what().equals("rows")).forEach(reading::add);
        spans(text);
        Set<String> extra = new LinkedHashSet<>(skipped);
        group.files().stream()
                .flatMap(file -> file.reading().orElseThrow().skipped().stream())
                .filter(one -> extra.add(one.what()))
                .forEach(one -> reading.add(new Evidence("extra_columns", one.what(), one.why())));
        if (!extra.isEmpty()) {
            add(text, "extra_columns", List.copyOf(extra));
        }
        if (missing) {
            add(text, "missing_columns", "empty");
            reading.add(new Evidence("missing_columns", "empty", "some files lack columns that others have"));
        }
    }

    private void spans(StringBuilder text) {
        if (group.format() == Format.FIXED) {
            text.append("  columns: {")
                    .append(group.first().read().get(ReadSection.COLUMNS).stream()
                            .map(span -> ReadEdit.inLine(span.name()) + ": "
                                    + (span.from() == span.to() ? "" + span.from() : positions(span)))
                            .collect(Collectors.joining(", ")))
                    .append("}\n");
        }
    }

    private static String positions(Span span) {
        return span.from() + "-" + (span.to() == Integer.MAX_VALUE ? "" : span.to());
    }

    private void encodings(StringBuilder text, List<Evidence> reading) {
        List<Charset> charsets = group.charsets();
        if (group.format() != Format.XML && !charsets.equals(List.of(StandardCharsets.UTF_8))) {
            List<String> names = charsets.stream()
                    .map(one -> one.name().toLowerCase(Locale.ROOT))
                    .toList();
            add(text, "encoding", names.size() == 1 ? names.get(0) : names);
        }
        for (Charset one : charsets) {
            reading.addAll(told(
                    "encoding", charsets.size() > 1, read -> read.encoding().equals(one)));
        }
    }

    private void separators(StringBuilder text, List<Evidence> reading) {
        List<String> separators = group.values(ReadSection.SEPARATOR).stream()
                .map(one -> one.get(0))
                .distinct()
                .toList();
        add(text, "separator", separators.size() == 1 ? separators.get(0) : separators);
        for (String one : separators) {
            boolean named = separators.indexOf(one) > 0;
            reading.addAll(told("separator", named, read -> read.separator().equals(one)));
        }
    }

    /** What the first file that is read so says of a key; with its name where others differ. */
    private List<Evidence> told(String key, boolean named, Predicate<Read> so) {
        return group.files().stream()
                .filter(file -> so.test(file.reading().orElseThrow().read()))
                .map(file -> file.reading().orElseThrow().evidence().stream()
                        .filter(one -> one.what().equals(key))
                        .map(one -> named ? new Evidence(key, one.value(), "in " + file.name() + " " + one.why()) : one)
                        .toList())
                .filter(some -> !some.isEmpty())
                .findFirst()
                .orElse(List.of());
    }

    private void header(StringBuilder text, List<Evidence> reading, List<Evidence> told) {
        told.stream().filter(one -> one.what().equals("header")).forEach(reading::add);
        List<Integer> above = group.values(ReadSection.LINES_ABOVE);
        boolean ordered = group.format().isOrdered();
        boolean serves = !ordered
                || group.files().stream()
                        .map(file -> file.reading().orElseThrow())
                        .filter(Reading::headed)
                        .allMatch(FileGroup::serves);
        long headless = group.files().stream()
                .filter(file -> !file.reading().orElseThrow().headed())
                .count();
        if (group.format() == Format.DELIMITED && group.headed() && headless > 0 && serves) {
            add(text, "header", "once");
            reading.add(new Evidence(
                    "header",
                    "once",
                    headless + " of " + group.files().size()
                            + " files have no header of their own, and as many columns"));
        } else if (group.headed() && !serves) {
            int lines = above.get(0) + 1;
            add(text, "lines_above", lines);
            add(text, "names", group.headers());
            reading.add(new Evidence(
                    "names", "", "some columns of the header have no name, or two have the same: all are named here"));
            return;
        } else if (!group.headed() && group.format().mayHaveHeader()) {
            add(text, "names", group.headers());
            reading.add(new Evidence("names", "", "no file names its columns"));
        }
        if (above.size() == 1 && above.get(0) > 0) {
            same(text, reading, told, "lines_above", above.get(0), 0);
        } else if (above.size() > 1 && group.headed()) {
            String word = group.headers().stream()
                    .max(java.util.Comparator.comparing(String::length))
                    .orElseThrow();
            add(text, "header_contains", word);
            reading.add(new Evidence(
                    "header_contains", word, "the header stands below " + above + " lines, not everywhere the same"));
        }
    }

    private static void same(
            StringBuilder text, List<Evidence> reading, List<Evidence> told, String key, Object value, Object usual) {
        if (!value.equals(usual)) {
            add(text, key, value);
            told.stream().filter(one -> one.what().equals(key)).forEach(reading::add);
        }
    }

    private static void add(StringBuilder text, String key, Object value) {
        text.append("  ").append(key).append(": ");
        text.append(
                key.equals("separator") && value instanceof String one
                        ? ReadEdit.inLine(List.of(one)).replaceAll("^\\[|]$", "")
                        : ReadEdit.inLine(value));
        text.append('\n');
    }
}
