package dev.hapster.core.draft;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.draft.ColumnDrafts.Column;
import dev.hapster.core.draft.Draft.ColumnDraft;
import dev.hapster.core.draft.Draft.DatasetDraft;
import dev.hapster.core.draft.Draft.JobDraft;
import dev.hapster.core.draft.Draft.NotTaken;
import dev.hapster.core.draft.DraftRequest.Choice;
import dev.hapster.core.draft.GroupProfile.FileProfile;
import dev.hapster.core.draft.GroupProfile.Part;
import dev.hapster.core.draft.name.ColumnNames;
import dev.hapster.core.draft.name.NameShape;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ExecutorService;

/**
 * Makes drafts. Looks at all files that it is asked about, puts those together that one job can read, and concludes
 * from their values what a person would have written. Whatever it proposes is tried on the same files before it is
 * shown. Thread-safe.
 */
public final class Drafting {

    /** Rows that are looked at where not all are, over all files. */
    private static final long SAMPLE = 200_000;
    /** Files of like names beside those that were asked for, of which it is seen whether they are of one kind. */
    private static final int MOST_BESIDE = 50;
    /** Rows of one file that are looked at, at least. */
    private static final long FEWEST = 200;

    private final Workspace workspace;
    private final Runner runner;
    private final Opener opener;
    private final FileLook look;

    /** @param workers the threads on which files are read */
    public Drafting(Workspace workspace, Runner runner, ExecutorService workers) {
        this.workspace = workspace;
        this.runner = runner;
        opener = runner.opener();
        look = new FileLook(runner.finder(), opener, workers);
    }

    /**
     * Makes a draft.
     *
     * @throws IOException with a sentence for people, where there is nothing to look at or it cannot be read
     * @throws UnknownNameException where there is no such dataset
     * @throws DefinitionException where the dataset has mistakes
     */
    public Draft draft(DraftRequest request) throws IOException, UnknownNameException, DefinitionException {
        Optional<DatasetDef> into = request.into().isPresent()
                ? Optional.of(workspace.dataset(request.into().get()))
                : Optional.empty();
        FileLook.All all = look.at(request.paths(), request.reading());
        List<NotTaken> left = new ArrayList<>();
        List<Found> readable = new ArrayList<>();
        for (Found one : all.found()) {
            if (one.reading().isPresent()) {
                readable.add(one);
            } else {
                left.add(new NotTaken(one.name(), one.why()));
            }
        }
        Making making = new Making(request, into, readable, all, left);
        List<FileGroup> groups = FileGroup.of(readable);
        boolean tables = groups.stream().anyMatch(group -> group.format() != Format.LINES);
        for (FileGroup group : groups) {
            if (tables && group.format() == Format.LINES) {
                group.files().forEach(file -> left.add(new NotTaken(file.name(), "is text without a table")));
            } else {
                making.add(group, groups.size() > 1);
            }
        }
        return making.done();
    }

    /**
     * Holds the files that a job takes now against its definitions.
     *
     * @throws DefinitionException where the job has mistakes
     */
    public Drift drift(String job) throws IOException, UnknownNameException, DefinitionException {
        return new DriftSearch(runner, runner.prepare(job, Map.of()), look).search();
    }

    /** One draft while it is made. */
    private final class Making {
        private final DraftRequest request;
        private final Optional<DatasetDef> into;
        private final List<Found> readable;
        private final List<Candidate> beside;
        private final List<Found> sheets;
        private final List<NotTaken> left;
        private final List<JobDraft> jobs = new ArrayList<>();
        private final Map<Set<String>, DatasetDraft> datasets = new LinkedHashMap<>();
        private final Set<String> jobNames;
        private final Set<String> datasetNames;
        private long rows;
        private boolean whole = true;
        private int read;

        Making(
                DraftRequest request,
                Optional<DatasetDef> into,
                List<Found> readable,
                FileLook.All all,
                List<NotTaken> left)
                throws IOException {
            this.request = request;
            this.into = into;
            this.readable = readable;
            beside = all.beside();
            sheets = all.found();
            this.left = left;
            jobNames = new HashSet<>(workspace.jobs());
            datasetNames = new HashSet<>(workspace.datasets());
        }

        void add(FileGroup group, boolean several) throws IOException, DefinitionException {
            List<Found> files = new ArrayList<>();
            if (group.headers().size() > DatasetSection.MOST_COLUMNS) {
                group.files()
                        .forEach(file -> left.add(new NotTaken(
                                file.name(),
                                "has " + Reasons.grouped(group.headers().size()) + " columns; a dataset has at most "
                                        + Reasons.grouped(DatasetSection.MOST_COLUMNS))));
                return;
            }
            GroupProfile profile = profile(group, files);
            if (several && profile.isEmpty()) {
                files.forEach(file -> left.add(new NotTaken(file.name(), "holds no rows, or no table")));
                return;
            }
            List<Part> parts = profile.parts();
            for (Part part : parts) {
                add(
                        new FileGroup(part.found(), group.headers(), group.headed(), otherSheets(files)),
                        part,
                        parts.size() > 1);
            }
        }

        private void add(FileGroup group, Part part, boolean byMark) throws IOException, DefinitionException {
            ColumnDrafts columns = new ColumnDrafts(group, part);
            NameShape names = names(group);
            String name = request.name().filter(given -> jobs.isEmpty()).orElseGet(() -> name(group, names));
            name = unique(name, jobNames, request.name().isPresent() && jobs.isEmpty());
            JobText text = new JobText(request, group, names, name);
            if (byMark) {
                text.doubt("files of this kind write decimals in different ways; these have a job of their own");
            }
            List<Column> all = columns.columns();
            List<ColumnDraft> drafts =
                    into.isPresent() ? into(text, all, into.get()) : fresh(text, all, columns, part.files());
            JobDraft job = text.job(workspace.folder(), drafts);
            jobs.add(tried(job, group));
        }

        private List<String> otherSheets(List<Found> files) {
            Set<Path> books = new HashSet<>();
            Set<String> mine = new HashSet<>();
            files.stream()
                    .map(Found::file)
                    .filter(one -> one.sheet().isPresent())
                    .forEach(one -> {
                        books.add(one.path());
                        mine.add(one.key());
                    });
            return sheets.stream()
                    .map(Found::file)
                    .filter(one -> books.contains(one.path()) && !mine.contains(one.key()))
                    .flatMap(one -> one.sheet().stream())
                    .toList();
        }

        private GroupProfile profile(FileGroup group, List<Found> files) throws IOException {
            long bytes = readable.stream().mapToLong(one -> one.file().size()).sum();
            boolean all = request.thorough() || bytes <= DraftTrial.MOST_BYTES; // the trial reads them all anyway
            long most = all ? Long.MAX_VALUE : Math.max(FEWEST, SAMPLE / Math.max(1, readable.size()));
            int keep = Math.max(2, TableProfile.MOST_TOGETHER / group.files().size());
            GroupProfile together = new GroupProfile();
            look.each(
                    group.files(),
                    found -> {
                        try {
                            return TableProfile.of(found, group.headers(), opener, most, keep);
                        } catch (FileRejectedException wrong) {
                            return wrong.reason();
                        }
                    },
                    (found, result) -> {
                        if (result instanceof TableProfile profile) {
                            files.add(found);
                            rows += profile.rows;
                            whole &= profile.whole;
                            read++;
                            together.add(profile);
                        } else {
                            left.add(new NotTaken(found.name(), ((Reason) result).sentence()));
                        }
                    });
            return together;
        }

        private NameShape names(FileGroup group) throws IOException {
            boolean entries = group.files().get(0).file().entry().isPresent();
            Set<Path> mine = new HashSet<>();
            group.files().forEach(file -> mine.add(file.file().path()));
            List<String> others = new ArrayList<>();
            readable.stream()
                    .filter(other -> !mine.contains(other.file().path()))
                    .forEach(other -> others.add(other.fileName()));
            NameShape wide = NameShape.of(names(group.files()), others);
            List<Candidate> like = beside.stream()
                    .filter(other -> wide.takes().stream().anyMatch(take -> NamePattern.of(take)
                            .matches(other.path().getFileName().toString())))
                    .toList();
            for (Candidate other : like.subList(0, Math.min(MOST_BESIDE, like.size()))) {
                if (!look.isLike(other, group, request.reading())) {
                    others.add(other.path().getFileName().toString());
                }
            }
            NameShape files = NameShape.of(names(group.files()), others);
            if (!entries) {
                return files;
            }
            List<String> inside = group.files().stream()
                    .map(file -> file.file().entry().orElse(""))
                    .map(entry -> entry.substring(entry.lastIndexOf('/') + 1))
                    .distinct()
                    .toList();
            boolean folders = group.files().stream()
                    .anyMatch(file -> file.file().entry().orElse("").indexOf('/') >= 0);
            List<String> foreign = readable.stream()
                    .filter(other -> !group.files().contains(other))
                    .flatMap(other -> other.file().entry().stream())
                    .map(entry -> entry.substring(entry.lastIndexOf('/') + 1))
                    .toList();
            NameShape entry = NameShape.of(inside, foreign);
            String archive = files.takes().size() == 1 ? files.takes().get(0) : "*.zip";
            return new NameShape(
                    entry.takes().stream()
                            .map(one -> archive + "!/" + (folders ? "**/" : "") + one)
                            .toList(),
                    List.of(),
                    entry.why());
        }

        private static List<String> names(List<Found> files) {
            return files.stream().map(Found::fileName).distinct().toList();
        }

        private String name(FileGroup group, NameShape names) {
            String folder = group.files().get(0).folder().getFileName() == null
                    ? ""
                    : group.files().get(0).folder().getFileName().toString();
            String words = names.takes().get(0).replaceAll("\\{[^}]*}|\\.[A-Za-z0-9]+$", "");
            String stem = plain(words);
            boolean named = request.paths().stream().allMatch(Files::isRegularFile);
            String base = (jobs.isEmpty() && !named) || stem.isEmpty() ? plain(folder) : stem;
            return base.isEmpty() ? "files" : base;
        }

        private static String plain(String words) {
            String plain = String.join("_", ColumnNames.of(List.of(words.isBlank() ? "-" : words)));
            return plain.startsWith("column_") ? "" : plain.replace('_', '-').replaceFirst("^c-(?=\\d)", "");
        }

        private static String unique(String name, Set<String> taken, boolean given) {
            String base = name.matches(DatasetSection.FILE_NAME_RULE) ? name : "files";
            String unique = base;
            for (int n = 2; !given && taken.contains(unique); n++) {
                unique = base + "-" + n;
            }
            taken.add(unique);
            return unique;
        }

        private List<ColumnDraft> fresh(
                JobText text, List<Column> columns, ColumnDrafts drafts, List<FileProfile> profiles) {
            Set<String> header = new LinkedHashSet<>(drafts.shown().keySet());
            DatasetDraft known = datasets.get(header);
            List<ColumnDraft> shown = new ArrayList<>();
            List<String> declared = new ArrayList<>();
            Map<String, String> names = new HashMap<>();
            Set<String> chosen = new HashSet<>();
            for (Column column : columns) {
                Choice choice = choice(column);
                if (choice.skip().orElse(false)) {
                    text.skip(column.headers());
                    shown.add(ColumnDrafts.draft(column, "", "", false, "", "left out, as you chose"));
                    continue;
                }
                String name = unique(choice.name().orElse(column.name()), chosen);
                ColumnType type = choice.type().orElse(column.found().type());
                boolean required = choice.required().orElse(column.required());
                column.headers().forEach(one -> names.put(Binding.fold(one), name));
                Map<String, Object> mapping =
                        ColumnDrafts.mapping(name, type, column.headers(), column.found(), List.of());
                text.map(name, mapping, column.missing() > 0, column.found().why());
                declared.add(JobText.column(
                        ColumnDrafts.declaration(name, type.toString(), required, column.found()),
                        request.comments() ? column.found().why() : ""));
                shown.add(ColumnDrafts.draft(
                        column,
                        name,
                        type.toString(),
                        required,
                        ColumnDrafts.inLine(mapping),
                        column.found().why()
                                + (column.missing() > 0
                                        ? "; " + column.missing() + " of " + profiles.size() + " files lack it"
                                        : "")));
            }
            if (known != null) {
                text.into(known.name());
                return shown;
            }
            KeySearch key = KeySearch.of(
                    columns.stream()
                            .filter(column -> column.headers().size() == 1)
                            .map(column -> Binding.fold(column.headers().get(0)))
                            .filter(names::containsKey)
                            .toList(),
                    drafts.profiles(),
                    profiles,
                    drafts.shown());
            List<String> keyColumns = key.columns().stream().map(names::get).toList();
            String name = unique(text.name().replace('-', '_'), datasetNames);
            text.into(name);
            datasets.put(
                    header, new DatasetDraft(name, keyColumns, key.why(), JobText.dataset(name, declared, keyColumns)));
            return shown;
        }

        private static String unique(String name, Set<String> taken) {
            String unique = name;
            for (int n = 2; !taken.add(unique); n++) {
                unique = name + "_" + n;
            }
            return unique;
        }

        private Choice choice(Column column) {
            for (String header : column.headers()) {
                if (request.choices().containsKey(header)) {
                    return request.choices().get(header);
                }
            }
            return new Choice(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
        }

        private List<ColumnDraft> into(JobText text, List<Column> columns, DatasetDef dataset) {
            text.into(dataset.name());
            List<ColumnDraft> shown = new ArrayList<>();
            Map<String, IntoMatch.Pair> pairs = IntoMatch.of(
                    dataset,
                    columns.stream()
                            .filter(column -> !choice(column).skip().orElse(false))
                            .filter(column -> choice(column).name().isEmpty())
                            .toList());
            for (Column column : columns) {
                choice(column)
                        .name()
                        .filter(name -> dataset.column(name).isEmpty())
                        .ifPresent(name ->
                                text.doubt(dataset.name() + " has no column '" + name + "', which you chose for "
                                        + Reasons.quote(column.headers().get(0))));
                choice(column)
                        .name()
                        .filter(name -> dataset.column(name).isPresent())
                        .ifPresent(name -> pairs.put(name, new IntoMatch.Pair(column, 100, "as you chose", List.of())));
            }
            Set<Column> used = new HashSet<>();
            for (ColumnDef target : dataset.columns()) {
                IntoMatch.Pair pair = pairs.get(target.name());
                if (pair == null) {
                    missing(text, target);
                    continue;
                }
                used.add(pair.column());
                Map<String, Object> mapping = ColumnDrafts.mapping(
                        target.name(),
                        target.type(),
                        pair.column().headers(),
                        pair.column().found(),
                        pair.clean());
                text.map(target.name(), mapping, pair.column().missing() > 0, pair.why());
                String why = pair.why() + " (" + pair.sure() + " of 100); "
                        + pair.column().found().why();
                ColumnDraft draft = ColumnDrafts.draft(
                        pair.column(),
                        target.name(),
                        target.type().toString(),
                        target.required(),
                        ColumnDrafts.inLine(mapping),
                        why);
                shown.add(draft);
                if (pair.sure() < 100) {
                    text.doubt("\"" + pair.column().headers().get(0) + "\" is taken for " + target.name() + ": "
                            + pair.why());
                }
            }
            for (Column column : columns) {
                if (!used.contains(column)) {
                    text.skip(column.headers());
                    shown.add(ColumnDrafts.draft(
                            column,
                            "",
                            "",
                            false,
                            "",
                            "no column of " + dataset.name() + " suits; "
                                    + column.found().why()));
                }
            }
            return shown;
        }

        private void missing(JobText text, ColumnDef target) {
            if (target.required() && target.fallback().isEmpty()) {
                String value =
                        target.oneOf().isEmpty() ? text.name() : target.oneOf().get(0);
                boolean possible = target.type().kind() == ColumnType.Kind.TEXT
                        && target.matches().isEmpty()
                        && target.length().orElse(Integer.MAX_VALUE) >= value.length();
                if (possible) {
                    text.constant(target.name(), value);
                }
                text.doubt(target.name() + " is required, and no column of the files suits; "
                        + (possible
                                ? "every row gets " + Reasons.quote(value) + " until you say otherwise"
                                : "map one to it"));
            }
        }

        /** The job with what becomes of the rows of its files. */
        private JobDraft tried(JobDraft job, FileGroup group) throws IOException, DefinitionException {
            DatasetDef dataset = into.isPresent()
                    ? into.get()
                    : Definitions.dataset(
                            "datasets/" + job.into() + ".yaml",
                            datasets.values().stream()
                                    .filter(one -> one.name().equals(job.into()))
                                    .findFirst()
                                    .orElseThrow()
                                    .text());
            JobDef parsed = Definitions.job(
                    "jobs/" + job.name() + ".yaml", job.text(), name -> Optional.of(dataset), Set.of(dataset.name()));
            DraftTrial trial = DraftTrial.of(runner, parsed, dataset, group);
            List<String> doubts = new ArrayList<>(job.doubts());
            doubts.addAll(trial.strangers());
            return new JobDraft(
                    job.name(),
                    job.into(),
                    job.folder(),
                    job.files(),
                    job.names(),
                    look.head(group.files().get(0)),
                    job.finding(),
                    job.reading(),
                    job.columns(),
                    doubts,
                    trial.whole(),
                    trial.rows(),
                    trial.rejected(),
                    trial.rejects(),
                    job.text());
        }

        Draft done() {
            left.sort(Comparator.comparing(NotTaken::file));
            String looked = readable.isEmpty()
                    ? "No file that Hapster can read lies there."
                    : (request.thorough() || whole ? "All " : "The beginning, the middle and the end of each file, ")
                            + Reasons.grouped(rows) + (rows == 1 ? " row" : " rows") + " of " + Reasons.grouped(read)
                            + (read == 1 ? " file" : " files")
                            + (request.thorough() || whole ? " were read." : " were read, and not every row.");
            return new Draft(jobs, List.copyOf(datasets.values()), left, request.thorough() || whole, looked);
        }
    }
}
