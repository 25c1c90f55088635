package dev.hapster.core.run.inspect;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.RejectedRow;
import dev.hapster.core.run.inspect.FitReport.Cell;
import dev.hapster.core.run.inspect.FitReport.Extra;
import dev.hapster.core.run.inspect.FitReport.Group;
import dev.hapster.core.run.inspect.FitReport.Named;
import dev.hapster.core.run.inspect.FitReport.State;
import dev.hapster.core.run.inspect.FitReport.Verdict;
import dev.hapster.core.run.open.FileOpening;
import dev.hapster.core.run.open.SourceContent;
import dev.hapster.core.run.open.SourceStream;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.nio.file.Path;
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

/** Looks at the header and the first rows of a job's files, and puts those of equal structure together. */
public final class Fit {

    /** Rows of each file that are looked at. */
    private static final int SAMPLE = 200;

    private static final int NAMED = 500;

    private final PreparedJob prepared;
    private final Path scratch;

    public Fit(PreparedJob prepared, Path scratch) {
        this.prepared = prepared;
        this.scratch = scratch;
    }

    /**
     * What one file is like.
     *
     * @param faults sampled values that do not suit, by column, with the first sentence
     */
    public record Structure(
            Candidate file,
            Optional<Reason> reason,
            Optional<Header> header,
            Optional<Binding> binding,
            Map<String, Faults> faults,
            Map<String, List<String>> values,
            long rows,
            long rejected) {}

    private static final class Faults {
        private long count;
        private String first = "";
    }

    /** Reads the beginning of one file. May be asked for several at once. */
    public Structure look(Candidate file) throws IOException {
        Optional<Header> header = Optional.empty();
        Optional<Binding> binding = Optional.empty();
        try (SourceContent content = new SourceContent(file, scratch);
                RecordReader reader = FileOpening.open(prepared, file, content, FileOpening.MOST_LOOKED)) {
            Header found = reader.header();
            header = Optional.of(found);
            binding = Optional.of(Binding.of(prepared.dataset(), prepared.job(), found.names()));
            Optional<Reason> reason = refusal(file, found, reader);
            return sample(file, reason, found, binding.get(), reader);
        } catch (FileRejectedException wrong) {
            return new Structure(file, Optional.of(wrong.reason()), header, binding, Map.of(), Map.of(), 0, 0);
        } catch (SourceStream.SourceException wrong) {
            return new Structure(file, Optional.of(wrong.reason()), header, binding, Map.of(), Map.of(), 0, 0);
        }
    }

    private Optional<Reason> refusal(Candidate file, Header header, RecordReader reader) throws IOException {
        try {
            FileOpening.bind(prepared, file, header, reader);
            return Optional.empty();
        } catch (FileRejectedException wrong) {
            return Optional.of(wrong.reason());
        }
    }

    private Structure sample(
            Candidate file, Optional<Reason> reason, Header header, Binding binding, RecordReader reader)
            throws IOException, FileRejectedException {
        Map<String, Faults> faults = new LinkedHashMap<>();
        Map<String, List<String>> values = new HashMap<>();
        if (!binding.missing().isEmpty()) {
            return new Structure(file, reason, Optional.of(header), Optional.of(binding), faults, values, 0, 0);
        }
        Shaper shaper = new Shaper(prepared.dataset(), prepared.job(), binding, file.facts());
        RawBatch raw = new RawBatch(
                Math.max(1, header.names().size()),
                Math.max(
                        1,
                        Math.min(SAMPLE, (1 << 18) / Math.max(1, header.names().size()))));
        long[] rejected = {0};
        if (reader.next(raw)) {
            shaper.shape(raw, 0, row -> {
                rejected[0]++;
                for (RejectedRow.Fault fault : row.faults()) {
                    Faults of = faults.computeIfAbsent(fault.column(), column -> new Faults());
                    of.count++;
                    of.first = of.first.isEmpty()
                            ? fault.reason().sentence() + " (" + prepared.name(file) + ":" + row.line() + ")"
                            : of.first;
                }
            });
            for (int i = 0; i < binding.fields().length; i++) {
                int field = binding.fields()[i];
                String column = prepared.dataset().columns().get(i).name();
                if (field >= 0 && faults.containsKey(column)) {
                    List<String> texts = new ArrayList<>();
                    for (int row = 0; row < raw.rows; row++) {
                        if (raw.fields[row] == raw.width) {
                            texts.add(raw.text(row, field));
                        }
                    }
                    values.put(column, texts);
                }
            }
        }
        return new Structure(
                file, reason, Optional.of(header), Optional.of(binding), faults, values, raw.rows, rejected[0]);
    }

    /** Puts files of equal structure together. */
    public FitReport report(List<Structure> all, int waiting) {
        Map<Object, List<Structure>> groups = new LinkedHashMap<>();
        all.forEach(one ->
                groups.computeIfAbsent(key(one), key -> new ArrayList<>()).add(one));
        List<List<Structure>> ordered = groups.values().stream()
                .sorted(Comparator.comparing((List<Structure> group) -> -group.size()))
                .toList();
        Map<String, Integer> usual = usual(ordered);
        return new FitReport(
                List.of(),
                prepared.dataset().columns().stream().map(ColumnDef::name).toList(),
                all.size(),
                waiting,
                ordered.stream().map(group -> group(group, usual)).toList());
    }

    private Object key(Structure one) {
        List<String> names = one.header.map(Header::names).orElse(List.of());
        Object structure = prepared.job().read().as().isOrdered() ? names : new TreeSet<>(names);
        return List.of(
                one.header.isPresent(),
                structure,
                one.reason.map(reason -> reason.code().code()).orElse(""),
                unsuited(one));
    }

    /** Columns of which most sampled values do not suit. */
    private Set<String> unsuited(Structure one) {
        Set<String> columns = new LinkedHashSet<>();
        one.faults.forEach((column, faults) -> {
            if (!column.isEmpty() && faults.count * 2 > one.rows) {
                columns.add(column);
            }
        });
        return columns;
    }

    /** Where each column stands in most files. */
    private Map<String, Integer> usual(List<List<Structure>> groups) {
        Map<String, Map<Integer, Integer>> counts = new HashMap<>();
        for (List<Structure> group : groups) {
            group.get(0).binding.ifPresent(binding -> {
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

    private Group group(List<Structure> files, Map<String, Integer> usual) {
        Structure first = files.get(0);
        List<Named> names = files.stream()
                .limit(NAMED)
                .map(one -> new Named(one.file.place(), one.file.relative(), prepared.name(one.file)))
                .toList();
        long rows = files.stream().mapToLong(Structure::rows).sum();
        long rejected = files.stream().mapToLong(Structure::rejected).sum();
        List<String> header = first.header.map(Header::names).orElse(List.of());
        boolean ordered = prepared.job().read().as().isOrdered();
        List<Cell> cells = new ArrayList<>();
        List<Extra> extra = new ArrayList<>();
        Set<String> changes = new LinkedHashSet<>();
        if (first.binding.isPresent()
                && first.reason.filter(reason -> !isOfColumns(reason)).isEmpty()) {
            Binding binding = first.binding.get();
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
                changes.add("`extra_columns: [" + String.join(", ", binding.extra()) + "]` in `read` skips "
                        + (binding.extra().size() == 1 ? "it" : "them") + "; or map to a column of the dataset");
            }
        }
        first.reason
                .filter(reason -> changes.isEmpty())
                .ifPresent(reason -> changes.add(reason.code().cure()));
        boolean unfit = first.reason.isPresent() || (rows > 0 && rejected == rows);
        boolean differs = cells.stream().anyMatch(cell -> cell.state() != State.PRESENT && cell.state() != State.FIXED)
                || extra.stream().anyMatch(one -> !one.passed());
        return new Group(
                unfit ? Verdict.UNFIT : differs ? Verdict.DIFFERS : Verdict.FITS,
                files.size(),
                names,
                first.reason,
                header,
                cells,
                extra,
                rows,
                rejected,
                List.copyOf(changes));
    }

    private Cell cell(
            ColumnDef column,
            int field,
            List<Structure> files,
            List<String> header,
            Map<String, Integer> usual,
            boolean ordered,
            Set<String> changes) {
        String name = column.name();
        if (field == Binding.CONSTANT) {
            return new Cell(
                    name,
                    State.FIXED,
                    "",
                    0,
                    0,
                    prepared.job().map().get(name) instanceof Mapping.Constant constant
                            ? "always " + Reasons.quote(constant.value())
                            : "from the file's name");
        }
        int normal = ordered ? usual.getOrDefault(name, 0) : 0;
        if (field < 0) {
            boolean empty = !files.get(0).binding.orElseThrow().missing().contains(wanted(name));
            if (!empty) {
                Nearest.word(wanted(name), files.get(0).binding.get().unused())
                        .ifPresent(near ->
                                changes.add("`" + name + ": {from: " + near + "}` in `map`, if that is the column"));
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
        JobDef job = prepared.job();
        return job.map().get(column) instanceof Mapping.Source source
                ? source.from().orElse(column)
                : column;
    }

    private static String looks(String column, List<Structure> files, boolean other, Set<String> changes) {
        Structure one = files.stream()
                .filter(file -> file.faults.containsKey(column))
                .findFirst()
                .orElse(null);
        if (one == null) {
            return "";
        }
        String first = one.faults.get(column).first;
        if (!other) {
            return first;
        }
        Optional<Looks.Look> look = Looks.of(one.values.getOrDefault(column, List.of()));
        look.filter(found -> !found.mapping().isEmpty())
                .ifPresent(found -> changes.add(
                        "`" + column + ": {" + found.mapping() + "}` in `map`: its values look like " + found.words()));
        return look.map(found -> "looks like " + found.words() + "; ").orElse("") + first;
    }
}
