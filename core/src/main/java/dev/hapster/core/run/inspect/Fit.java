package dev.hapster.core.run.inspect;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.edit.ReadEdit;
import dev.hapster.core.definition.read.Cures;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.inspect.FitReport.Cell;
import dev.hapster.core.run.inspect.FitReport.Extra;
import dev.hapster.core.run.inspect.FitReport.Group;
import dev.hapster.core.run.inspect.FitReport.Named;
import dev.hapster.core.run.inspect.FitReport.State;
import dev.hapster.core.run.inspect.FitReport.Verdict;
import dev.hapster.core.run.open.FileOpening;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.workspace.PreparedJob;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/** Puts a job's files of equal structure together, by what the beginning of each tells. */
public final class Fit {

    /** Files without a fault that are named, at most; of the others all are. */
    private static final int NAMED = 500;

    private final PreparedJob prepared;

    public Fit(PreparedJob prepared) {
        this.prepared = prepared;
    }

    /** Puts files of equal structure together. */
    public FitReport report(List<Sample> all, int waiting) {
        Map<Object, List<Sample>> groups = new LinkedHashMap<>();
        all.forEach(one ->
                groups.computeIfAbsent(key(one), key -> new ArrayList<>()).add(one));
        List<List<Sample>> ordered = groups.values().stream()
                .sorted(Comparator.comparing((List<Sample> group) -> -group.size()))
                .toList();
        Map<String, Integer> usual = usual(ordered);
        return new FitReport(
                List.of(),
                prepared.dataset().columns().stream().map(ColumnDef::name).toList(),
                all.size(),
                waiting,
                ordered.stream().map(group -> group(group, usual)).toList());
    }

    private Object key(Sample one) {
        List<String> names = one.header().map(Header::names).orElse(List.of());
        Object structure = prepared.job().read().as().isOrdered() ? names : new TreeSet<>(names);
        return List.of(
                one.header().isPresent(),
                structure,
                one.reason().map(reason -> reason.code().code()).orElse(""),
                unsuited(one));
    }

    /** Columns of which most sampled values do not suit. */
    private Set<String> unsuited(Sample one) {
        Set<String> columns = new LinkedHashSet<>();
        one.suspects().forEach((column, suspect) -> {
            if (!column.isEmpty() && suspect.rows() * 2 > one.rows()) {
                columns.add(column);
            }
        });
        return columns;
    }

    /** Where each column stands in most files. */
    private Map<String, Integer> usual(List<List<Sample>> groups) {
        Map<String, Map<Integer, Integer>> counts = new HashMap<>();
        for (List<Sample> group : groups) {
            group.get(0).binding().ifPresent(binding -> {
                for (int i = 0; i < binding.fields().length; i++) {
                    if (binding.fields()[i] >= 0) {
                        counts.computeIfAbsent(
                                        prepared.dataset().columns().get(i).name(), column -> new LinkedHashMap<>())
                                .merge(binding.fields()[i] + 1, group.size(), Integer::sum);
                    }
                }
            });
        }
        Map<String, Integer> usual = new HashMap<>();
        counts.forEach((column, positions) -> usual.put(
                column,
                positions.entrySet().stream()
                        .max(Map.Entry.comparingByValue())
                        .orElseThrow()
                        .getKey()));
        return usual;
    }

    private Group group(List<Sample> files, Map<String, Integer> usual) {
        Sample first = files.get(0);
        List<Named> names = names(files);
        long rows = files.stream().mapToLong(Sample::rows).sum();
        long rejected = files.stream().mapToLong(Sample::rejected).sum();
        List<String> header = first.header().map(Header::names).orElse(List.of());
        boolean ordered = prepared.job().read().as().isOrdered();
        List<Cell> cells = new ArrayList<>();
        List<Extra> extra = new ArrayList<>();
        Set<String> changes = new LinkedHashSet<>();
        if (first.binding().isPresent()
                && first.reason().filter(reason -> !isOfColumns(reason)).isEmpty()) {
            Binding binding = first.binding().get();
            for (int i = 0; i < binding.fields().length; i++) {
                cells.add(cell(
                        prepared.dataset().columns().get(i),
                        binding.fields()[i],
                        files,
                        header,
                        usual,
                        ordered,
                        changes));
            }
            for (int i = 0; i < header.size(); i++) {
                if (binding.unused().contains(header.get(i))) {
                    extra.add(new Extra(
                            header.get(i), ordered ? i + 1 : 0, !binding.extra().contains(header.get(i))));
                }
            }
            if (!binding.extra().isEmpty()) {
                changes.add("`extra_columns: " + ReadEdit.inLine(binding.extra()) + "` in `read` skips "
                        + (binding.extra().size() == 1 ? "it" : "them") + "; or map to a column of the dataset");
            }
        }
        types(files, changes);
        if (first.reason()
                .filter(reason -> reason.code() == ReasonCode.SEPARATOR_DIFFERS)
                .isPresent()) {
            first.header()
                    .flatMap(found -> FileOpening.betterSeparator(prepared, found))
                    .ifPresent(better -> changes.add(separators(better)));
        }
        first.reason()
                .filter(reason -> changes.isEmpty())
                .ifPresent(reason -> changes.add(
                        Cures.of(reason.code(), prepared.job().read().as())));
        boolean unfit = first.reason().isPresent() || (rows > 0 && rejected == rows);
        boolean differs = cells.stream().anyMatch(cell -> cell.state() != State.PRESENT && cell.state() != State.FIXED)
                || extra.stream().anyMatch(one -> !one.passed());
        return new Group(
                unfit ? Verdict.UNFIT : differs ? Verdict.DIFFERS : Verdict.FITS,
                files.size(),
                names,
                first.reason(),
                header,
                cells,
                extra,
                rows,
                rejected,
                List.copyOf(changes));
    }

    private static String fixed(Mapping mapping) {
        return mapping instanceof Mapping.Constant constant
                ? "always " + Reasons.quote(constant.value())
                : mapping instanceof Mapping.Compute compute
                        ? "calculated: " + compute.value().text()
                        : mapping instanceof Mapping.Lookup lookup
                                ? "looked up in " + lookup.table().file()
                                : "the same in the whole file";
    }

    /** What {@code from} would have to say so that files with another header fit as well. */
    private Object near(String column, String header) {
        List<String> names = new ArrayList<>(
                prepared.job().map().get(column) instanceof Mapping.Source source ? source.from() : List.of());
        names.add(header);
        return names.size() == 1 ? header : names;
    }

    private String separators(String better) {
        List<String> all = new ArrayList<>(prepared.job().read().get(ReadSection.SEPARATOR));
        all.add(better);
        return "`separator: " + ReadEdit.inLine(all) + "` in `read` reads both kinds of files";
    }

    /** The files to be named: all with a fault, then as many of the others as can be taken in. */
    private List<Named> names(List<Sample> files) {
        List<Named> names = new ArrayList<>();
        for (boolean faulty : List.of(true, false)) {
            files.stream()
                    .filter(one -> (one.reason().isPresent() || one.rejected() > 0) == faulty)
                    .limit(faulty ? Long.MAX_VALUE : NAMED)
                    .forEach(one -> names.add(new Named(
                            one.file().place(),
                            one.file().relative(),
                            prepared.name(one.file()),
                            one.rows(),
                            one.rejected())));
        }
        return names;
    }

    /** What the dataset might better say of columns, by what all files of a group have in them. */
    private void types(List<Sample> files, Set<String> changes) {
        String file = "datasets/" + prepared.dataset().name() + ".yaml";
        for (ColumnDef column : prepared.dataset().columns()) {
            String name = column.name();
            Set<Optional<Looks.Look>> looks = new LinkedHashSet<>();
            files.stream()
                    .filter(one -> one.rows() > 0)
                    .forEach(one -> looks.add(Optional.ofNullable(one.looks().get(name))));
            boolean free = column.matches().isEmpty() && column.oneOf().isEmpty();
            if (free && looks.size() == 1) {
                looks.iterator()
                        .next()
                        .ifPresent(look -> changes.add("`" + look.mapping() + "` for " + name + " in " + file
                                + ", if they are no codes: all its values looked at are " + look.words()));
            }
            files.stream()
                    .flatMap(one -> Optional.ofNullable(one.zeros().get(name)).stream())
                    .findFirst()
                    .ifPresent(zero -> changes.add("`type: text` for " + name + " in " + file
                            + ", if it is a code: as a number it loses its first zero: " + zero));
        }
    }

    private Cell cell(
            ColumnDef column,
            int field,
            List<Sample> files,
            List<String> header,
            Map<String, Integer> usual,
            boolean ordered,
            Set<String> changes) {
        String name = column.name();
        if (field == Binding.CONSTANT) {
            return new Cell(
                    name, State.FIXED, "", 0, 0, fixed(prepared.job().map().get(name)));
        }
        int normal = ordered ? usual.getOrDefault(name, 0) : 0;
        if (field < 0) {
            boolean empty = !files.get(0).binding().orElseThrow().missing().contains(wanted(name));
            if (!empty) {
                Nearest.word(wanted(name), files.get(0).binding().get().unused())
                        .ifPresent(near -> changes.add("`" + name + ": {from: " + ReadEdit.inLine(near(name, near))
                                + "}` in `map`, if that is the column"));
            }
            return new Cell(
                    name,
                    empty ? State.EMPTY : State.MISSING,
                    "",
                    0,
                    normal,
                    empty ? "left empty" : "wanted as " + Reasons.quote(wanted(name)));
        }
        int position = ordered ? field + 1 : 0;
        boolean other = files.stream().anyMatch(one -> unsuited(one).contains(name));
        String looks = looks(name, files, other, changes);
        return new Cell(
                name,
                other ? State.OTHER_TYPE : position != normal ? State.MOVED : State.PRESENT,
                header.get(field),
                position,
                normal,
                looks);
    }

    /**
     * Whether a file is rejected for its columns, and not for something on which they depend: then they say nothing.
     */
    private static boolean isOfColumns(Reason reason) {
        return reason.code() == ReasonCode.COLUMN_MISSING || reason.code() == ReasonCode.COLUMN_EXTRA;
    }

    private String wanted(String column) {
        return String.join(
                " or ",
                Binding.wanted(
                        prepared.dataset().column(column).orElseThrow(),
                        prepared.job().map().get(column)));
    }

    private String looks(String column, List<Sample> files, boolean other, Set<String> changes) {
        Sample one = files.stream()
                .filter(file -> file.suspects().containsKey(column))
                .findFirst()
                .orElse(null);
        if (one == null) {
            return "";
        }
        Sample.Suspect suspect = one.suspects().get(column);
        String first = suspect.first().sentence() + " (" + prepared.name(one.file()) + ":" + suspect.line() + ")";
        if (!other) {
            return first;
        }
        Optional<Looks.Look> look = Looks.of(one.values().getOrDefault(column, List.of()));
        look.filter(found -> !found.mapping().isEmpty())
                .ifPresent(found -> changes.add(
                        "`" + column + ": {" + found.mapping() + "}` in `map`: its values look like " + found.words()));
        return look.map(found -> "looks like " + found.words() + "; ").orElse("") + first;
    }
}
