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
import dev.hapster.core.draft.column.UniqueValues;
import dev.hapster.core.draft.name.ColumnNames;
import dev.hapster.core.find.Candidate;
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
    private final FileLook look;
    private final List<Difference> changes = new ArrayList<>();
    private final Map<String, ColumnProfile> fed = new LinkedHashMap<>();
    private final Map<String, ColumnProfile> strange = new LinkedHashMap<>();
    private final Map<String, Integer> lacking = new LinkedHashMap<>();
    private final Map<String, List<String>> separated = new LinkedHashMap<>();
    private final Map<String, String> wrong = new LinkedHashMap<>();
    private long rows;

    DriftSearch(Runner runner, PreparedJob prepared, FileLook look) {
        this.runner = runner;
        this.prepared = prepared;
        this.look = look;
    }

    Drift search() throws IOException {
        List<Candidate> files =
                prepared.finding().taken().stream().map(Candidate::complete).toList();
        look.each(files, this::look, (file, seen) -> add(seen));
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
        for (Sample sample : runner.inspection().samples(prepared, files)) {
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

    /** What was seen in one file; of a file that cannot be read nothing but why. */
    private static final class Seen {
        private final Map<String, ColumnProfile> fed = new LinkedHashMap<>();
        private final Map<String, ColumnProfile> strange = new LinkedHashMap<>();
        private final List<String> lacking = new ArrayList<>();
        private final String name;
        private String separator = "";
        private String wrongCode = "";
        private String wrong = "";
        private long rows;

        Seen(String name) {
            this.name = name;
        }
    }

    private void add(Seen seen) {
        seen.fed.forEach((column, profile) -> merge(fed, column, profile));
        seen.strange.forEach((header, profile) -> merge(strange, header, profile));
        seen.lacking.forEach(column -> lacking.merge(column, 1, Integer::sum));
        if (!seen.separator.isEmpty()) {
            separated.computeIfAbsent(seen.separator, any -> new ArrayList<>()).add(seen.name);
        }
        if (!seen.wrong.isEmpty()) {
            wrong.putIfAbsent(seen.wrongCode, seen.wrong);
        }
        rows += seen.rows;
    }

    private static void merge(Map<String, ColumnProfile> all, String column, ColumnProfile profile) {
        all.computeIfAbsent(column, any -> new ColumnProfile(line -> "")).merge(profile);
    }

    private Seen look(Candidate file) throws IOException {
        Seen seen = new Seen(prepared.name(file));
        try (SourceContent content = runner.opener().content(file);
                RecordReader reader = FileOpening.open(prepared, file, content, ROWS)) {
            Optional<String> better = FileOpening.betterSeparator(prepared, reader.header());
            if (better.isPresent()) {
                seen.separator = better.get();
            } else {
                look(seen, reader);
            }
        } catch (FileRejectedException wrongFile) {
            seen.wrongCode = wrongFile.reason().code().code();
            seen.wrong = seen.name + " would be rejected whole: "
                    + wrongFile.reason().sentence();
        } catch (SourceException gone) {
            seen.wrongCode = gone.reason().code().code();
            seen.wrong = seen.name + " cannot be read: " + gone.reason().sentence();
        }
        return seen;
    }

    private void look(Seen seen, RecordReader reader) throws IOException, FileRejectedException {
        List<String> header = reader.header().names();
        Binding binding = Binding.of(prepared.dataset(), prepared.job(), header);
        seen.lacking.addAll(binding.missing());
        UniqueValues.Room none = new UniqueValues.Room(0);
        ColumnProfile.Place place = line -> seen.name + ":" + line;
        ColumnProfile[] targets = new ColumnProfile[header.size()];
        for (int i = 0; i < binding.fields().length; i++) {
            if (binding.fields()[i] >= 0) {
                String column = prepared.dataset().columns().get(i).name();
                targets[binding.fields()[i]] = seen.fed.computeIfAbsent(column, any -> new ColumnProfile(place, none));
            }
        }
        for (int i = 0; i < targets.length; i++) {
            if (binding.extra().contains(header.get(i))) {
                targets[i] = seen.strange.computeIfAbsent(header.get(i), any -> new ColumnProfile(place, none));
            }
        }
        RawBatch batch = RecordReader.batchFor(reader.header());
        while (seen.rows < ROWS && reader.next(batch)) {
            seen.rows += batch.rows;
            for (int row = 0; row < batch.rows; row++) {
                if (batch.fields[row] == batch.width) {
                    TableProfile.add(batch, row, targets, batch.line[row]);
                }
            }
        }
    }

    private void unmapped(String header, ColumnProfile profile) {
        Conclusion found = new TypeFinder(profile, List.of(profile.brief()), (char) 0).find();
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
        Conclusion found = new TypeFinder(profile, List.of(profile.brief()), (char) 0).find();
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
