package dev.hapster.core.run.prepare;

import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.Handling.Routing;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.find.Finder;
import dev.hapster.core.find.Finding;
import dev.hapster.core.find.Finding.Trouble;
import dev.hapster.core.find.Roots;
import dev.hapster.core.query.value.Widening;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.run.load.SharedHeader;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.routing.Router;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.Sources;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Makes jobs ready: reads the definitions, says what keeps a job from running, searches the folders. Thread-safe. */
public final class Preparation {

    private static final Logger LOG = LoggerFactory.getLogger(Preparation.class);

    private final Workspace workspace;
    private final Roots roots;
    private final Finder finder;
    private final Opener opener;
    private final Router router;
    private final Catalogue catalogue;

    /** @param roots folders that may be searched, and those that belong to Hapster */
    public Preparation(
            Workspace workspace, Roots roots, Finder finder, Opener opener, Router router, Catalogue catalogue) {
        this.workspace = workspace;
        this.roots = roots;
        this.finder = finder;
        this.opener = opener;
        this.router = router;
        this.catalogue = catalogue;
    }

    /** What the job's places hold now. */
    public Finding find(JobDef job) {
        return finder.find(job.find());
    }

    /**
     * Reads the definitions and searches the folders.
     *
     * @param call values given for this run alone, by name
     * @throws DefinitionException with everything that keeps the job from running
     * @throws RemoteFault where a folder on another machine cannot be searched
     */
    public PreparedJob prepare(String jobName, Map<String, String> call)
            throws IOException, DefinitionException, UnknownNameException {
        return prepare(jobName, call, false);
    }

    /**
     * @param everything whether all files are loaded anew, so that what is stored in other types does not stand in the
     *     way
     */
    public PreparedJob prepare(String jobName, Map<String, String> call, boolean everything)
            throws IOException, DefinitionException, UnknownNameException {
        JobDef job = workspace.job(jobName, call);
        DatasetDef dataset = workspace.dataset(job.into());
        String file = "jobs/" + jobName + ".yaml";
        List<Problem> problems = new ArrayList<>();
        GivenValues.check(file, job, dataset, problems);
        if (!everything) {
            storedTypes(dataset, problems);
        }
        targets(file, job, problems);
        Finding finding = find(job);
        for (Trouble trouble : finding.troubles()) {
            if (trouble.grave() && trouble.fault().isEmpty()) {
                problems.add(new Problem(file, 0, 0, trouble.what(), trouble.hint()));
            }
        }
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        for (Trouble trouble : finding.troubles()) {
            if (trouble.fault().isPresent()) {
                RemoteFault fault = trouble.fault().get();
                throw new RemoteFault(trouble.what(), fault.isPassing(), fault);
            }
        }
        return prepared(job, dataset, finding);
    }

    /** Makes definitions ready that are not saved, or not yet, and searches the folders. */
    public PreparedJob prepare(JobDef job, DatasetDef dataset) throws IOException, DefinitionException {
        List<Problem> problems = new ArrayList<>();
        GivenValues.check("jobs/" + job.name() + ".yaml", job, dataset, problems);
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return prepared(job, dataset, find(job));
    }

    private PreparedJob prepared(JobDef job, DatasetDef dataset, Finding finding) throws IOException {
        return new PreparedJob(
                job,
                dataset,
                finding,
                SharedHeader.find(job, dataset, finding.taken(), catalogue, opener),
                new Sources(workspace.folder(), roots, job.find()).telling(finding.taken()));
    }

    /** What is stored must be readable as what the columns are now. */
    private void storedTypes(DatasetDef dataset, List<Problem> problems) {
        String file = "datasets/" + dataset.name() + ".yaml";
        for (Catalogue.InUse used : catalogue.definitionsInUse(dataset.name())) {
            try {
                List<ColumnDef> stored = Definitions.dataset(file, used.text()).columns();
                for (ColumnDef now : dataset.columns()) {
                    stored.stream()
                            .filter(old ->
                                    old.name().equals(now.name()) || now.was().contains(old.name()))
                            .filter(old -> !Widening.possible(old.type(), now.type()))
                            .findFirst()
                            .ifPresent(old -> {
                                Problem problem = new Problem(
                                        file,
                                        0,
                                        0,
                                        "the column '" + now.name() + "' is declared as " + now.type()
                                                + ", but rows are stored with it as " + old.type()
                                                + ", which cannot be turned into that without reading the files again",
                                        "Load them anew: "
                                                + used.jobs().stream()
                                                        .sorted()
                                                        .map(job -> "hapster run " + job + " --again --all")
                                                        .collect(Collectors.joining(", "))
                                                + ". Or set the type back to " + old.type()
                                                + Widening.hint(old.type(), now.type()));
                                if (!problems.contains(problem)) {
                                    problems.add(problem);
                                }
                            });
                }
            } catch (DefinitionException unreadable) {
                LOG.warn(
                        "A stored definition of {} cannot be read any more: {}",
                        dataset.name(),
                        unreadable.getMessage());
            }
        }
    }

    /** Files may only be taken where the service may write, and where the job does not find them again. */
    private void targets(String file, JobDef job, List<Problem> problems) {
        for (Routing routing : List.of(
                job.handling().after().loaded(),
                job.handling().after().rejected(),
                job.handling().after().waiting())) {
            if (routing.target().isEmpty()) {
                continue;
            }
            Path folder = router.resolve(routing.target().get().example());
            if (roots.own(folder)) {
                problems.add(new Problem(
                        file,
                        0,
                        0,
                        "'after' takes files to " + routing.target().get()
                                + ", which belongs to Hapster's own store or definitions",
                        "Name another folder, such as done"));
                continue;
            }
            if (!roots.holdAsWritten(folder)) {
                problems.add(new Problem(
                        file,
                        0,
                        0,
                        "'after' takes files to " + routing.target().get()
                                + ", outside the folders that the service may use (" + roots + ")",
                        "Start the service with `--root FOLDER` for the folder, or name another"));
            }
            for (Place place : job.find()) {
                Path searched = router.resolve(place.folder());
                if (!folder.startsWith(searched) || folder.getNameCount() - searched.getNameCount() > place.depth()) {
                    continue;
                }
                String example = searched.relativize(folder.resolve("x.csv")).toString();
                boolean skipped = place.rules().stream()
                        .filter(FindRule.Skip.class::isInstance)
                        .anyMatch(rule ->
                                ((FindRule.Skip) rule).names().stream().anyMatch(name -> name.matches(example)));
                if (!skipped) {
                    problems.add(new Problem(
                            file,
                            0,
                            0,
                            "'after' takes files to " + routing.target().get()
                                    + ", where the job would find them again",
                            "Name a folder outside of " + place.folder() + ", or skip it: `skip: [\""
                                    + searched.relativize(folder).toString().split("/")[0] + "/**\"]`"));
                }
            }
        }
    }
}
