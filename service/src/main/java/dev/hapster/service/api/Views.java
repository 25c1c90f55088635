package dev.hapster.service.api;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.hapster.core.catalogue.Afterwards;
import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.catalogue.ReasonGroup;
import dev.hapster.core.definition.Handling.Routing;
import dev.hapster.core.definition.Values;
import dev.hapster.core.definition.read.Cures;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.run.Balance;
import dev.hapster.core.run.RunResult;
import dev.hapster.core.run.inspect.CheckResult;
import dev.hapster.core.run.inspect.CheckResult.FileCheck;
import dev.hapster.core.schedule.Start;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.service.catalogue.StoredRuns.Carried;
import dev.hapster.service.catalogue.record.RunFileRecord;
import dev.hapster.service.catalogue.record.RunRecord;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/** The records of the HTTP interface, and how they are made from the core's. */
public final class Views {

    private static final ObjectMapper PLAIN = new ObjectMapper();

    private Views() {}

    /**
     * Files by outcome; {@code found} is the sum of the others where the balance holds.
     *
     * @param noun what is counted: {@code file}, {@code sheet} of a workbook, {@code entry} of an archive, or
     *     {@code source} where it is several of these
     */
    public record FileCounts(
            String noun,
            long found,
            long loaded,
            long replaced,
            long unchanged,
            long rejected,
            long waiting,
            long notReached,
            boolean holds) {}

    /** Rows read = loaded + set aside + repeated + rejected. */
    public record RowCounts(long read, long loaded, long aside, long repeated, long rejected, boolean holds) {}

    /** The dataset after the run: rows as counted from the parts' files, and as the catalogue sums them. */
    public record DatasetCounts(long rows, long partsRows, long parts, boolean holds) {}

    /**
     * A run, or a trial (which has no number).
     *
     * @param kind {@code run}, {@code retry}, {@code undo}, {@code remove}, {@code dismiss} or {@code trial}
     * @param ofRun the run that a retry or an undo is about
     * @param undoneBy the entry that took it back
     * @param values what was put in for names in the job's file, and where each came from
     * @param rejectsFile path of the rejects on the service's machine, once the run has ended
     * @param asideFile path of the rows set aside, where there are any
     * @param start why it began by itself; absent where somebody asked for it
     * @param label what people call it; absent where nobody does
     * @param attempt which one it is after faults that may pass, counted from 1; absent for the first
     * @param againAt when it is, or was, tried again after a fault that may pass; absent where it is not
     * @param commit of the workspace's repository when it began; absent where it lies in none
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record RunView(
            Long run,
            String kind,
            Long ofRun,
            Long undoneBy,
            String job,
            String into,
            String state,
            boolean again,
            List<Values.Used> values,
            Instant queuedAt,
            Instant startedAt,
            Instant endedAt,
            Double seconds,
            String failure,
            List<String> notes,
            FileCounts files,
            RowCounts rows,
            DatasetCounts dataset,
            boolean holds,
            String jobVersion,
            String datasetVersion,
            String rejectsFile,
            String asideFile,
            StartView start,
            String label,
            Integer attempt,
            Instant againAt,
            CommitView commit) {}

    /**
     * A commit of the Git repository in which the workspace lies.
     *
     * @param uncommitted definitions that differ from those in the commit, by their paths in the workspace
     */
    public record CommitView(String id, List<String> uncommitted) {}

    /** The commit that was checked out when a run began; null where there is none. */
    public static CommitView commit(RunRecord run) {
        return run.commit == null
                ? null
                : new CommitView(
                        run.commit, run.uncommitted.isEmpty() ? List.of() : List.of(run.uncommitted.split(" ")));
    }

    /**
     * Why a run began by itself.
     *
     * @param by {@code time}, {@code arrival}, {@code after} or {@code fault}
     * @param due the time by the clock; absent where it began for another reason
     * @param missed times that were missed, for which it makes up
     * @param run the run of another job after which it began, or that failed before; absent where it began for another
     *     reason
     * @param again how often it could not begin after the first time, for the same reason
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record StartView(String by, Instant due, long missed, Long run, long again) {
        static StartView of(RunRecord run) {
            return run.startedBy == Start.By.CALL
                    ? null
                    : new StartView(
                            run.startedBy.name().toLowerCase(Locale.ROOT),
                            run.dueAt,
                            run.missed,
                            run.afterRun > 0 ? run.afterRun : null,
                            run.againFailed);
        }
    }

    /**
     * What became of one file.
     *
     * @param source identity of the file within the job; absent in reports of older versions
     * @param after what was done with the file afterwards, or would be; absent where it stays
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record FileView(
            int ordinal,
            int place,
            String source,
            String path,
            String name,
            String outcome,
            long size,
            long read,
            long loaded,
            long aside,
            long repeated,
            long rejected,
            String code,
            String sentence,
            Long sinceRun,
            List<String> notes,
            AfterView after,
            long millis) {}

    /**
     * What was done with a file afterwards, or would be.
     *
     * @param after {@code move}, {@code copy}, {@code delete} or {@code leave}; absent where nothing was done
     * @param to where it was moved or copied
     * @param words all of it, also why nothing was done
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record AfterView(String action, String to, String words) {

        static AfterView of(Routing.Kind kind, String to, String words) {
            return words == null
                    ? null
                    : new AfterView(kind == null ? null : kind.name().toLowerCase(Locale.ROOT), to, words);
        }

        static AfterView of(Afterwards afterwards) {
            return of(
                    afterwards.kind().orElse(null),
                    afterwards.to().map(Path::toString).orElse(null),
                    afterwards.words());
        }
    }

    /** One rejected row, as an example. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record SampleView(long run, String file, String path, Long line, String value, String sentence) {}

    /**
     * Rejects of one kind.
     *
     * @param level {@code row} or {@code file}
     * @param column the dataset's column, or an empty text
     * @param count rows, or files
     * @param files files concerned
     * @param gone files concerned that are not there any more: they cannot be tried again, only dismissed
     */
    public record ReasonView(
            String job,
            String into,
            long run,
            String code,
            String level,
            String column,
            long count,
            long files,
            String cause,
            String cure,
            List<String> gone,
            List<SampleView> samples) {}

    /** A run with its files and reasons. */
    public record ReportView(RunView run, List<FileView> files, List<ReasonView> reasons) {}

    /** What keeps a job from starting, and what is worth a look. */
    public record CheckView(
            String job,
            boolean canRun,
            boolean clean,
            List<Problem> problems,
            List<String> warnings,
            List<CheckedFile> files) {}

    /**
     * A file that would be taken, and what is wrong with it as far as its beginning tells.
     *
     * @param code of the reason for which the file would be rejected whole; absent where it would not
     * @param rows rows that were looked at
     * @param rejected how many of those would be rejected
     * @param whole whether those are all its rows
     * @param after what would become of it afterwards; absent where it stays
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record CheckedFile(
            String path,
            String name,
            long size,
            String code,
            String sentence,
            String cure,
            long rows,
            long rejected,
            boolean whole,
            List<SuspectView> suspects,
            List<String> notes,
            AfterView after) {

        static CheckedFile of(FileCheck file, Format format) {
            return new CheckedFile(
                    file.path(),
                    file.name(),
                    file.size(),
                    file.reason().map(reason -> reason.code().code()).orElse(null),
                    file.reason().map(Reason::sentence).orElse(null),
                    file.reason().map(reason -> Cures.of(reason.code(), format)).orElse(null),
                    file.rows(),
                    file.rejected(),
                    file.whole(),
                    file.suspects().stream()
                            .map(suspect -> SuspectView.of(suspect, format))
                            .toList(),
                    file.notes(),
                    file.afterwards().map(AfterView::of).orElse(null));
        }
    }

    /**
     * What is wrong with rows at the beginning of a file.
     *
     * @param column of the dataset; empty where the whole row is meant
     * @param rows how many of the rows that were looked at
     * @param sentence why the first of them would be rejected
     * @param line where that one stands
     */
    public record SuspectView(String column, String code, long rows, String sentence, String cure, long line) {
        static SuspectView of(CheckResult.Suspect suspect, Format format) {
            ReasonCode code = suspect.first().code();
            return new SuspectView(
                    suspect.column(),
                    code.code(),
                    suspect.rows(),
                    suspect.first().sentence(),
                    Cures.of(code, format),
                    suspect.line());
        }
    }

    static RunView run(RunRecord run, RejectStore rejects) {
        return run(run, rejects, Optional.empty());
    }

    /** @param trouble what keeps the run from ending */
    static RunView run(RunRecord run, RejectStore rejects, Optional<String> trouble) {
        List<String> notes = new ArrayList<>(lines(run.notes));
        trouble.ifPresent(notes::add);
        FileCounts files = new FileCounts(
                run.noun,
                run.filesFound,
                run.filesLoaded,
                run.filesReplaced,
                run.filesUnchanged,
                run.filesRejected,
                run.filesWaiting,
                run.filesNotReached,
                run.filesFound
                        == run.filesLoaded
                                + run.filesReplaced
                                + run.filesUnchanged
                                + run.filesRejected
                                + run.filesWaiting
                                + run.filesNotReached);
        RowCounts rows = new RowCounts(
                run.rowsRead,
                run.rowsLoaded,
                run.rowsAside,
                run.rowsRepeated,
                run.rowsRejected,
                run.rowsRead == run.rowsLoaded + run.rowsAside + run.rowsRepeated + run.rowsRejected);
        DatasetCounts dataset =
                new DatasetCounts(run.datasetRows, run.partsRows, run.parts, run.datasetRows == run.partsRows);
        Double seconds = run.startedAt == null || run.endedAt == null
                ? null
                : Duration.between(run.startedAt, run.endedAt).toMillis() / 1000.0;
        boolean loads = run.kind.equals(RunRecord.RUN) || run.kind.equals(RunRecord.RETRY);
        return new RunView(
                run.id,
                run.kind,
                run.ofRun,
                run.undoneBy,
                run.job,
                run.dataset,
                run.state.word(),
                run.again,
                used(run.values),
                run.queuedAt,
                run.startedAt,
                run.endedAt,
                seconds,
                run.failure,
                notes,
                files,
                rows,
                dataset,
                files.holds && rows.holds && dataset.holds,
                run.jobVersion,
                run.datasetVersion,
                loads && run.state.ended() ? rejects.path(run.id).toString() : null,
                run.rowsAside + run.rowsRepeated > 0 ? rejects.asidePath(run.id).toString() : null,
                StartView.of(run),
                run.label,
                run.attempt > 1 ? run.attempt : null,
                run.againAt,
                commit(run));
    }

    static RunView trial(
            String job, String into, List<Values.Used> values, RunResult result, Instant started, Instant ended) {
        Balance balance = result.balance();
        FileCounts files = new FileCounts(
                result.noun(),
                balance.found(),
                balance.files(Outcome.LOADED),
                balance.files(Outcome.REPLACED),
                balance.files(Outcome.UNCHANGED),
                balance.files(Outcome.REJECTED),
                balance.files(Outcome.WAITING),
                balance.notReached(),
                balance.filesHold());
        return new RunView(
                null,
                "trial",
                null,
                null,
                job,
                into,
                result.state().word(),
                false,
                values,
                started,
                started,
                ended,
                Duration.between(started, ended).toMillis() / 1000.0,
                result.failure().orElse(null),
                result.notes(),
                files,
                new RowCounts(
                        balance.read(),
                        balance.loaded(),
                        balance.aside(),
                        balance.repeated(),
                        balance.rejected(),
                        balance.rowsHold()),
                new DatasetCounts(balance.datasetRows(), balance.partsRows(), balance.parts(), balance.datasetHolds()),
                balance.holds(),
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null);
    }

    static FileView file(RunFileRecord file) {
        return new FileView(
                file.ordinal,
                file.place,
                file.source,
                file.path,
                file.name,
                file.outcome.word(),
                file.size,
                file.rowsRead,
                file.rowsLoaded,
                file.rowsAside,
                file.rowsRepeated,
                file.rowsRejected,
                file.code,
                file.sentence,
                file.sinceRun == 0 ? null : file.sinceRun,
                lines(file.notes),
                AfterView.of(file.routedKind, file.routedTo, file.routed),
                file.millis);
    }

    static FileView file(Carried file) {
        return new FileView(
                file.ordinal(),
                file.place(),
                file.source(),
                file.path(),
                file.name(),
                file.outcome().word(),
                file.size(),
                0,
                0,
                0,
                0,
                0,
                file.code(),
                file.sentence(),
                file.since(),
                List.of(),
                null,
                file.millis());
    }

    static FileView file(FileResult file) {
        return new FileView(
                file.ordinal(),
                file.place(),
                file.source(),
                file.path(),
                file.name(),
                file.outcome().word(),
                file.fingerprint().size(),
                file.read(),
                file.loaded(),
                file.aside(),
                file.repeated(),
                file.rejected(),
                file.reason().map(reason -> reason.code().code()).orElse(null),
                file.reason().map(reason -> reason.sentence()).orElse(null),
                file.sinceRun() == 0 ? null : file.sinceRun(),
                file.notes(),
                file.afterwards().map(AfterView::of).orElse(null),
                file.millis());
    }

    /** Values that a run made use of, as the catalogue keeps them. */
    public static List<Values.Used> used(String json) {
        try {
            return List.of(PLAIN.readValue(json, Values.Used[].class));
        } catch (JsonProcessingException wrong) {
            throw new IllegalStateException("The values of a run cannot be read back", wrong);
        }
    }

    private static List<String> lines(String text) {
        return text.isEmpty() ? List.of() : List.of(text.split("\n"));
    }

    /** Puts rejects of one kind together, those that concern most first. */
    static final class ReasonCollector {
        private static final int SAMPLES = 5;

        private record Key(String job, String code, String column) {}

        private static final class Group {
            String into;
            long run;
            long count;
            long files;
            final Set<String> gone = new LinkedHashSet<>();
            final List<SampleView> samples = new ArrayList<>();
        }

        private final Map<Key, Group> groups = new LinkedHashMap<>();
        private final Function<String, Format> formats;

        /** @param formats how a job reads its files */
        ReasonCollector(Function<String, Format> formats) {
            this.formats = formats;
        }

        void rows(
                String job,
                String into,
                long run,
                String file,
                String path,
                String code,
                String column,
                long rows,
                List<ReasonGroup.Sample> samples) {
            Group group = group(job, into, run, code, column);
            group.count += rows;
            group.files++;
            samples.stream()
                    .limit(Math.max(0, SAMPLES - group.samples.size()))
                    .forEach(sample -> group.samples.add(
                            new SampleView(run, file, path, sample.line(), sample.value(), sample.sentence())));
        }

        void file(String job, String into, long run, String file, String path, String code, String sentence) {
            Group group = group(job, into, run, code, "");
            group.count++;
            group.files++;
            if (group.samples.size() < SAMPLES) {
                group.samples.add(new SampleView(run, file, path, null, null, sentence));
            }
        }

        /** Says of a file in which something is rejected that it is not there any more. */
        void gone(String job, String code, String column, String file) {
            groups.get(new Key(job, code, column)).gone.add(file);
        }

        private Group group(String job, String into, long run, String code, String column) {
            Group group = groups.computeIfAbsent(new Key(job, code, column), key -> new Group());
            group.into = into;
            group.run = Math.max(group.run, run);
            return group;
        }

        List<ReasonView> views() {
            return groups.entrySet().stream()
                    .map(entry -> {
                        ReasonCode code = ReasonCode.of(entry.getKey().code).orElse(null);
                        Group group = entry.getValue();
                        return new ReasonView(
                                entry.getKey().job,
                                group.into,
                                group.run,
                                entry.getKey().code,
                                code == null ? "row" : code.level().name().toLowerCase(java.util.Locale.ROOT),
                                entry.getKey().column,
                                group.count,
                                group.files,
                                code == null ? "" : code.cause(),
                                code == null ? "" : Cures.of(code, formats.apply(entry.getKey().job)),
                                List.copyOf(group.gone),
                                List.copyOf(group.samples));
                    })
                    .sorted(java.util.Comparator.comparing(
                                    (ReasonView view) -> view.level().equals("file"))
                            .thenComparing(view -> -view.count()))
                    .toList();
        }
    }
}
