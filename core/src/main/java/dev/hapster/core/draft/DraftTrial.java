package dev.hapster.core.draft;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.ReasonGroup;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Finding;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.RunResult;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.inspect.Sample;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/**
 * What becomes of the files under definitions that were proposed.
 *
 * @param whole whether every row of all files was tried
 * @param rows that were read
 * @param rejected how many of them would be rejected
 * @param rejects which, and why; the first of each reason
 * @param strangers what else the rules for files take, or do not take, a sentence each
 */
record DraftTrial(boolean whole, long rows, long rejected, List<String> rejects, List<String> strangers) {

    private static final int MOST = 20;
    /** Up to so many bytes every row is tried. */
    static final long MOST_BYTES = 64L << 20;

    static DraftTrial of(Runner runner, JobDef job, DatasetDef dataset, FileGroup group)
            throws IOException, DefinitionException {
        PreparedJob all = runner.prepare(job, dataset);
        Set<String> wanted = new TreeSet<>();
        group.files().forEach(file -> wanted.add(file.file().key()));
        List<Candidate> taken = all.finding().taken();
        List<Candidate> ours = taken.stream()
                .filter(file -> wanted.contains(file.key()))
                .map(Candidate::complete)
                .toList();
        List<String> strangers = new ArrayList<>();
        int others = taken.size() - ours.size();
        if (others > 0) {
            String first = taken.stream()
                    .filter(file -> !wanted.contains(file.key()))
                    .findFirst()
                    .orElseThrow()
                    .relative();
            strangers.add("the rules also take " + others + (others == 1 ? " file" : " files")
                    + " that could not be read or were not looked at, such as " + first);
        }
        if (ours.size() < wanted.size()) {
            strangers.add("the rules take only " + ours.size() + " of these " + wanted.size() + " files");
        }
        PreparedJob prepared = new PreparedJob(
                job,
                dataset,
                new Finding(ours, all.finding().counts(), all.finding().troubles()),
                all.shared(),
                all.sources());
        long bytes = ours.stream().mapToLong(Candidate::size).sum();
        if (bytes <= MOST_BYTES) {
            return whole(runner, prepared, strangers);
        }
        long rows = 0;
        long rejected = 0;
        Map<String, String> rejects = new LinkedHashMap<>();
        Map<String, Long> counts = new LinkedHashMap<>();
        for (Sample sample : runner.inspection().samples(prepared, ours)) {
            String name = prepared.name(sample.file());
            rows += sample.rows();
            rejected += sample.rejected();
            sample.reason()
                    .ifPresent(reason -> rejects.putIfAbsent(
                            reason.code().code(), name + " would be rejected whole: " + reason.sentence()));
            sample.suspects().forEach((column, suspect) -> {
                String key = column + " " + suspect.first().code().code();
                rejects.putIfAbsent(
                        key,
                        name + ":" + suspect.line() + (column.isEmpty() ? "" : "  " + column) + "  "
                                + suspect.first().sentence());
                counts.merge(key, suspect.rows(), Long::sum);
            });
        }
        return new DraftTrial(false, rows, rejected, sentences(rejects, counts), strangers);
    }

    /** Everything that a run would do. */
    private static DraftTrial whole(Runner runner, PreparedJob prepared, List<String> strangers) throws IOException {
        long rows = 0;
        long rejected = 0;
        Map<String, String> rejects = new LinkedHashMap<>();
        Map<String, Long> counts = new LinkedHashMap<>();
        RunResult result = runner.trial(prepared, RunRequest.NOTHING, RunListener.NONE, () -> false);
        for (FileResult file : result.files()) {
            rows += file.read();
            rejected += file.rejected();
            file.reason()
                    .ifPresent(reason -> rejects.putIfAbsent(
                            reason.code().code(), file.source() + " would be rejected whole: " + reason.sentence()));
            for (ReasonGroup group : file.groups()) {
                String key = group.column() + " " + group.code();
                ReasonGroup.Sample first = group.samples().get(0);
                rejects.putIfAbsent(
                        key,
                        file.source() + ":" + first.line() + (group.column().isEmpty() ? "" : "  " + group.column())
                                + "  " + first.sentence());
                counts.merge(key, group.rows(), Long::sum);
            }
        }
        result.failure().ifPresent(why -> strangers.add("a run would fail: " + why));
        return new DraftTrial(true, rows, rejected, sentences(rejects, counts), strangers);
    }

    private static List<String> sentences(Map<String, String> rejects, Map<String, Long> counts) {
        return rejects.entrySet().stream()
                .map(one -> one.getValue()
                        + (counts.getOrDefault(one.getKey(), 1L) > 1
                                ? ", and " + Reasons.grouped(counts.get(one.getKey()) - 1) + " more"
                                : ""))
                .limit(MOST)
                .toList();
    }
}
