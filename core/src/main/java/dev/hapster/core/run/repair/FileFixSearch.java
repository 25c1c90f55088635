package dev.hapster.core.run.repair;

import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.edit.ReadEdit;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.run.inspect.Sample;
import dev.hapster.core.run.open.FileOpening;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Looks for changes to a job by which files would fit that were rejected whole. Whatever seems likely is tried on the
 * files themselves, and on some that fit already: what would spoil one of these is not proposed.
 */
public final class FileFixSearch {

    /** Files that are tried, at most, of each kind. */
    private static final int MOST = 50;

    private final Workspace workspace;
    private final PreparedJob prepared;
    private final Opener opener;
    private final List<Sample> unfit = new ArrayList<>();
    private final List<Candidate> fitting = new ArrayList<>();
    private final List<Fix> found = new ArrayList<>();

    /** @param opener opens the files */
    public FileFixSearch(Workspace workspace, PreparedJob prepared, Opener opener) {
        this.workspace = workspace;
        this.prepared = prepared;
        this.opener = opener;
    }

    /**
     * @param rejected files that a run rejected for the reason and that are still there
     * @return how many of them are rejected by the rules as they are now, and what could be done about it
     */
    public Fixes propose(ReasonCode code, List<Candidate> rejected) throws IOException {
        long passing = 0;
        for (Candidate file : rejected.stream().limit(MOST).toList()) {
            Sample sample = Sample.of(prepared, file, opener);
            if (sample.reason().isPresent()) {
                unfit.add(sample);
            } else {
                passing++;
            }
        }
        Set<String> keys =
                new LinkedHashSet<>(rejected.stream().map(Candidate::key).toList());
        for (Candidate file : prepared.finding().taken()) {
            if (!keys.contains(file.key())
                    && fitting.size() < MOST
                    && Sample.of(prepared, file, opener).reason().isEmpty()) {
                fitting.add(file);
            }
        }
        if (code == ReasonCode.SEPARATOR_DIFFERS && !unfit.isEmpty()) {
            separators();
        }
        if (code == ReasonCode.COLUMN_EXTRA && !unfit.isEmpty()) {
            extraColumns();
        }
        found.sort(Comparator.comparing((Fix fix) -> -fix.count()));
        return new Fixes("file", unfit.size(), passing, found);
    }

    private void separators() throws IOException {
        Read rules = prepared.job().read();
        Set<String> better = new LinkedHashSet<>();
        for (Sample sample : unfit) {
            sample.header()
                    .flatMap(header -> FileOpening.betterSeparator(prepared, header))
                    .ifPresent(better::add);
        }
        for (String separator : better) {
            List<String> all = new ArrayList<>(rules.get(ReadSection.SEPARATOR));
            all.add(separator);
            attempt(
                    ReadSection.SEPARATOR.name(),
                    fitting.isEmpty() ? separator : all,
                    fitting.isEmpty()
                            ? "reads files that are separated by " + name(separator)
                            : "also reads files that are separated by " + name(separator));
        }
    }

    private static String name(String separator) {
        return separator.equals("\t") ? "tabs" : "'" + separator + "'";
    }

    private void extraColumns() throws IOException {
        Set<String> names = new LinkedHashSet<>(
                prepared.job().read().get(ReadSection.EXTRA_COLUMNS).ignored());
        unfit.forEach(sample -> sample.binding().ifPresent(binding -> names.addAll(binding.extra())));
        attempt(
                ReadSection.EXTRA_COLUMNS.name(),
                List.copyOf(names),
                "skips the columns that are not mapped; their values are not loaded");
    }

    private void attempt(String key, Object value, String says) throws IOException {
        JobDef job = prepared.job();
        if (job.read().as() != Format.DELIMITED && key.equals(ReadSection.SEPARATOR.name())) {
            return;
        }
        try {
            String text = ReadEdit.set(job.text(), key, value);
            PreparedJob other = new PreparedJob(
                    workspace.job(job.name(), text, Map.of()),
                    prepared.dataset(),
                    prepared.finding(),
                    prepared.shared(),
                    prepared.sources());
            long fit = 0;
            for (Sample sample : unfit) {
                fit += Sample.of(other, sample.file(), opener).reason().isEmpty() ? 1 : 0;
            }
            for (Candidate file : fitting) {
                if (Sample.of(other, file, opener).reason().isPresent()) {
                    return;
                }
            }
            if (fit > 0 && !text.equals(job.text())) {
                String[] lines = FixSearch.difference(job.text(), text);
                found.add(new Fix(
                        "jobs/" + job.name() + ".yaml",
                        job.version(),
                        says,
                        lines[0],
                        lines[1],
                        text,
                        "file",
                        fit,
                        unfit.size()));
            }
        } catch (IllegalArgumentException | DefinitionException unsuitable) {
            return; // how the file is written leaves no room for it
        }
    }
}
