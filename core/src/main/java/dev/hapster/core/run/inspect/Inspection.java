package dev.hapster.core.run.inspect;

import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.inspect.CheckResult.FileCheck;
import dev.hapster.core.run.open.FileOpening;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.prepare.Preparation;
import dev.hapster.core.run.routing.Router;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Future;

/** Looks at a job's files and changes nothing: what would fail, how files are built, what they hold. Thread-safe. */
public final class Inspection {

    private final Workspace workspace;
    private final Preparation preparation;
    private final Opener opener;
    private final Router router;
    private final Catalogue catalogue;
    private final ExecutorService workers;
    private final Clock clock;

    /** @param workers the threads on which files are looked at */
    public Inspection(
            Workspace workspace,
            Preparation preparation,
            Opener opener,
            Router router,
            Catalogue catalogue,
            ExecutorService workers,
            Clock clock) {
        this.workspace = workspace;
        this.preparation = preparation;
        this.opener = opener;
        this.router = router;
        this.catalogue = catalogue;
        this.workers = workers;
        this.clock = clock;
    }

    /** Says what would fail, all of it at once; reads no more of each file than its header and its first rows. */
    public CheckResult check(String jobName, Map<String, String> call) throws IOException, UnknownNameException {
        PreparedJob prepared;
        try {
            prepared = preparation.prepare(jobName, call);
        } catch (DefinitionException wrong) {
            return new CheckResult(wrong.problems(), List.of(), List.of(), Format.DELIMITED);
        }
        List<Candidate> taken = prepared.finding().taken();
        Map<String, Sample> samples = new HashMap<>();
        samples(
                        prepared,
                        taken.stream().filter(file -> file.waiting().isEmpty()).toList())
                .forEach(sample -> samples.put(sample.file().key(), sample));
        List<FileCheck> files = taken.stream()
                .map(file -> checked(prepared, file, samples.get(file.key())))
                .toList();
        List<String> warnings = warnings(prepared);
        warnings.addAll(orphans(prepared));
        return new CheckResult(List.of(), warnings, files, prepared.job().read().as());
    }

    /**
     * Jobs that have rows in the dataset and no file any more, where this one has loaded nothing yet: it may be one of
     * them under a new name, and would load its files once more.
     */
    private List<String> orphans(PreparedJob prepared) throws IOException {
        String name = prepared.job().name();
        Map<String, Long> rows = new TreeMap<>();
        catalogue.parts(prepared.dataset().name()).forEach(part -> rows.merge(part.job(), part.rows(), Long::sum));
        if (rows.containsKey(name)) {
            return List.of();
        }
        rows.keySet().removeAll(workspace.jobs());
        return rows.entrySet().stream()
                .map(gone -> "the job " + gone.getKey() + " has no file any more, and its "
                        + Reasons.grouped(gone.getValue()) + (gone.getValue() == 1 ? " row is" : " rows are") + " in "
                        + prepared.dataset().name() + ". If " + name
                        + " is that job under a new name, a run loads them a second time. hapster jobs rename "
                        + gone.getKey() + " " + name + " lets its history go on")
                .toList();
    }

    /** @param sample null where the file is not complete and was not looked at */
    private FileCheck checked(PreparedJob prepared, Candidate file, Sample sample) {
        List<String> notes = new ArrayList<>();
        file.waiting().ifPresent(waiting -> notes.add("would wait: it " + waiting.sentence()));
        if (sample == null) {
            return new FileCheck(
                    file.key(),
                    prepared.name(file),
                    file.size(),
                    Optional.empty(),
                    0,
                    0,
                    false,
                    List.of(),
                    notes,
                    router.prospect(prepared, file, Outcome.WAITING, clock.instant()));
        }
        sample.binding()
                .filter(binding -> sample.reason().isEmpty())
                .ifPresent(binding -> notes.addAll(FileOpening.notes(binding)));
        notes.addAll(sample.choices());
        return new FileCheck(
                file.key(),
                prepared.name(file),
                file.size(),
                sample.reason(),
                sample.rows(),
                sample.rejected(),
                sample.whole(),
                sample.suspects().entrySet().stream()
                        .map(one -> new CheckResult.Suspect(
                                one.getKey(),
                                one.getValue().rows(),
                                one.getValue().first(),
                                one.getValue().line()))
                        .toList(),
                notes,
                router.prospect(
                        prepared,
                        file,
                        sample.reason().isPresent() ? Outcome.REJECTED : Outcome.LOADED,
                        clock.instant()));
    }

    private static List<String> warnings(PreparedJob prepared) {
        List<String> warnings = new ArrayList<>();
        prepared.finding().troubles().forEach(trouble -> warnings.add(trouble.what() + ". " + trouble.hint()));
        if (prepared.finding().taken().isEmpty()) {
            int skipped = prepared.finding().skipped().size();
            warnings.add("no file is taken; "
                    + (skipped == 0
                            ? "the folders hold no files"
                            : skipped + " lie there and are skipped (hapster find "
                                    + prepared.job().name() + " --skipped)"));
        }
        return warnings;
    }

    /** Looks at the beginning of files, several at once. */
    public List<Sample> samples(PreparedJob prepared, List<Candidate> files) throws IOException {
        List<Sample> all = new ArrayList<>();
        try {
            for (Future<Sample> one : workers.invokeAll(files.stream()
                    .<Callable<Sample>>map(file -> () -> Sample.of(prepared, file, opener))
                    .toList())) {
                all.add(one.get());
            }
            return all;
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new IOException("The service is shutting down", stopped);
        } catch (ExecutionException wrong) {
            throw new IOException("A file could not be looked at: " + wrong.getCause(), wrong.getCause());
        }
    }

    /** Puts the job's files together by their structure; reads no more of each than its header and its first rows. */
    public FitReport fit(String jobName, Map<String, String> call) throws IOException, UnknownNameException {
        PreparedJob prepared;
        try {
            prepared = preparation.prepare(jobName, call);
        } catch (DefinitionException wrong) {
            return new FitReport(wrong.problems(), List.of(), 0, 0, List.of());
        }
        List<Candidate> taken = prepared.finding().taken();
        List<Candidate> ready = taken.stream()
                .filter(file -> file.waiting().isEmpty() || file.waiting().get().young())
                .toList();
        return new Fit(prepared).report(samples(prepared, ready), taken.size() - ready.size());
    }

    /**
     * What the columns of some of a job's files hold. Every row is read, and nothing is written.
     *
     * @throws IOException where the machine fails
     */
    public FileProfile profile(PreparedJob prepared, List<Candidate> files) throws IOException {
        return FileProfile.of(prepared, files, opener);
    }
}
