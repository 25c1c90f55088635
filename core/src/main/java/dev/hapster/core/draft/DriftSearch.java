package dev.hapster.core.draft;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.edit.ReadEdit;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.draft.Drift.Difference;
import dev.hapster.core.draft.column.ColumnProfile;
import dev.hapster.core.draft.column.Conclusion;
import dev.hapster.core.draft.column.TypeFinder;
import dev.hapster.core.draft.name.ColumnNames;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.inspect.Sample;
import dev.hapster.core.run.open.FileOpening;
import dev.hapster.core.run.open.SourceContent;
import dev.hapster.core.run.open.SourceStream.SourceException;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Holds the files that a job takes now against its definitions, and proposes edits where they have moved apart. */
final class DriftSearch {

    private static final long ROWS = 20_000;

    private final Runner runner;
    private final PreparedJob prepared;
    private final List<Difference> changes = new ArrayList<>();
    private final Map<String, ColumnProfile> fed = new LinkedHashMap<>();
    private final Map<String, ColumnProfile> strange = new LinkedHashMap<>();
    private final Map<String, Integer> lacking = new LinkedHashMap<>();
    private final Map<String, List<String>> separated = new LinkedHashMap<>();
    private final Map<String, String> wrong = new LinkedHashMap<>();
    private long rows;

    DriftSearch(Runner runner, PreparedJob prepared) {
        this.runner = runner;
        this.prepared = prepared;
    }

    Drift search() throws IOException {
        List<Candidate> files =
                prepared.finding().taken().stream().map(Candidate::complete).toList();
        for (Candidate file : files) {
            look(file);
        }
        separated.forEach((separator, names) -> {
            List<String> all = new ArrayList<>(prepared.job().read().get(ReadSection.SEPARATOR));
            all.add(separator);
            changes.add(new Difference(
                    "",
                    names.get(0) + (names.size() == 1 ? " is" : " and " + (names.size() - 1) + " more are")
                            + " separated by " + Reasons.separator(separator),
                    "`separator: " + ReadEdit.inLine(all) + "` in `read` reads both kinds of files"));
        });
        wrong.forEach((reason, where) -> changes.add(new Difference("", where, "")));
        lacking.forEach((column, count) -> changes.add(new Difference(
                column,
                count + " of " + files.size() + " files " + (count == 1 ? "lacks" : "lack") + " it",
                "`missing_columns: empty` in `read` leaves it empty there")));
        strange.forEach((header, profile) -> unmapped(header, profile));
        Map<String, Sample.Suspect> suspects = new LinkedHashMap<>();
        Map<String, String> places = new LinkedHashMap<>();
        for (Sample sample : runner.samples(prepared, files)) {
            sample.suspects().forEach((column, suspect) -> {
                if (suspects.putIfAbsent(column, suspect) == null) {
                    places.put(column, prepared.name(sample.file()) + ":" + suspect.line());
                }
            });
        }
        for (ColumnDef column : prepared.dataset().columns()) {
            if (fed.containsKey(column.name())) {
                typed(column, fed.get(column.name()), suspects.get(column.name()), places.get(column.name()));
            }
        }
        return new Drift(prepared.job().name(), prepared.dataset().name(), files.size(), rows, List.copyOf(changes));
    }

    private void look(Candidate file) throws IOException {
        String name = prepared.name(file);
        try (SourceContent content = runner.opener().content(file);
                RecordReader reader = FileOpening.open(prepared, file, content, ROWS)) {
            Header whole = reader.header();
            List<String> header = whole.names();
            Optional<String> better = FileOpening.betterSeparator(prepared, whole);
            if (better.isPresent()) {
                separated
                        .computeIfAbsent(better.get(), any -> new ArrayList<>())
                        .add(name);
                return;
            }
            Binding binding = Binding.of(prepared.dataset(), prepared.job(), header);
            binding.missing().forEach(column -> lacking.merge(column, 1, Integer::sum));
            ColumnProfile[] targets = new ColumnProfile[header.size()];
            for (int i = 0; i < binding.fields().length; i++) {
                if (binding.fields()[i] >= 0) {
                    targets[binding.fields()[i]] = fed.computeIfAbsent(
                            prepared.dataset().columns().get(i).name(),
                            any -> new ColumnProfile(line -> name + ":" + line));
                }
            }
            for (int i = 0; i < targets.length; i++) {
                if (binding.extra().contains(header.get(i))) {
                    targets[i] =
                            strange.computeIfAbsent(header.get(i), any -> new ColumnProfile(line -> name + ":" + line));
                }
            }
            RawBatch batch = RecordReader.batchFor(whole);
            for (long read = 0; read < ROWS && reader.next(batch); read += batch.rows) {
                rows += batch.rows;
                for (int row = 0; row < batch.rows; row++) {
                    if (batch.fields[row] == batch.width) {
                        add(batch, row, targets);
                    }
                }
            }
        } catch (FileRejectedException wrongFile) {
            wrong.putIfAbsent(
                    wrongFile.reason().code().code(),
                    name + " would be rejected whole: " + wrongFile.reason().sentence());
        } catch (SourceException gone) {
            wrong.putIfAbsent(
                    gone.reason().code().code(),
                    name + " cannot be read: " + gone.reason().sentence());
        }
    }

    private static void add(RawBatch batch, int row, ColumnProfile[] targets) {
        for (int i = 0; i < targets.length; i++) {
            if (targets[i] != null) {
                int at = row * batch.width + i;
                targets[i].add(
                        batch.bytes,
                        batch.from[at],
                        batch.to[at],
                        batch.kinds == null ? RawBatch.TEXT : batch.kinds[at],
                        batch.line[row]);
            }
        }
    }

    private void unmapped(String header, ColumnProfile profile) {
        Conclusion found = new TypeFinder(profile, List.of(profile), (char) 0).find();
        String name = ColumnNames.of(List.of(header)).get(0);
        changes.add(new Difference(
                header,
                "is a column of the files that is not mapped; " + found.why(),
                "add `"
                        + ReadEdit.inLine(
                                ColumnDrafts.declaration(name, found.type().toString(), false, found))
                        + "` to datasets/" + prepared.dataset().name() + ".yaml, or `extra_columns: "
                        + ReadEdit.inLine(List.of(header)) + "` to `read`"));
    }

    private void typed(ColumnDef column, ColumnProfile profile, Sample.Suspect suspect, String place) {
        Conclusion found = new TypeFinder(profile, List.of(profile), (char) 0).find();
        Kind wanted = column.type().kind();
        boolean text = found.type().kind() == Kind.TEXT;
        if (wanted != Kind.TEXT
                && text
                && profile.filled() > 0
                && !found.second().isEmpty()) {
            changes.add(new Difference(
                    column.name(),
                    "is declared " + column.type() + "; " + found.why(),
                    "`type: text` in datasets/" + prepared.dataset().name() + ".yaml holds all values"));
        } else if (suspect != null) {
            String better = wanted == Kind.DECIMAL && found.type().isNumber() && exceeds(found.type(), column.type())
                    ? "`type: \"" + found.type() + "\"` in datasets/"
                            + prepared.dataset().name() + ".yaml holds all values"
                    : "";
            changes.add(
                    new Difference(column.name(), place + " " + suspect.first().sentence(), better));
        }
        if (!column.oneOf().isEmpty() && profile.knowsAll() && suspect != null) {
            List<String> others = profile.values().keySet().stream()
                    .filter(value -> column.oneOf().stream().noneMatch(value::equalsIgnoreCase))
                    .toList();
            if (!others.isEmpty()) {
                changes.add(new Difference(
                        column.name(),
                        "holds values that are not allowed: "
                                + String.join(
                                        ", ",
                                        others.stream().map(Reasons::quote).toList()),
                        "add them to `one_of` if they are right"));
            }
        }
    }

    private static boolean exceeds(ColumnType found, ColumnType declared) {
        return found.scale() > declared.scale()
                || found.precision() - found.scale() > declared.precision() - declared.scale();
    }
}
