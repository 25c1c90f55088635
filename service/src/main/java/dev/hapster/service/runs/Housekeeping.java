package dev.hapster.service.runs;

import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.load.RunState;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.PartStore.Swept;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.catalogue.Retention;
import dev.hapster.service.catalogue.StoredCatalogue;
import dev.hapster.service.catalogue.StoredRuns;
import dev.hapster.service.catalogue.StoredSchedules;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.log.RunLogs;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.time.Clock;
import java.util.List;
import java.util.Set;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Keeps the store in order. What an interrupted service left behind is dealt with before the first run: the run is
 * shown as failed, its rejects are put together, files that nobody knows of are removed. After each run that goes which
 * nobody can put back any more, and small files become one. Thread-safe.
 */
@ApplicationScoped
class Housekeeping {

    /** So many small files of a dataset are worth being put together. */
    private static final int MERGED_FROM = Integer.getInteger("hapster.merged-from", 32);

    private static final Logger LOG = LoggerFactory.getLogger(Housekeeping.class);

    private final Workspace workspace;
    private final Runner runner;
    private final StoredRuns records;
    private final StoredCatalogue catalogue;
    private final StoredSchedules schedules;
    private final StoreCheck store;
    private final Renames renames;
    private final Retention retention;
    private final PartStore parts;
    private final RejectStore rejects;
    private final RunLogs logs;
    private final Clock clock;

    Housekeeping(
            Workspace workspace,
            Runner runner,
            StoredRuns records,
            StoredCatalogue catalogue,
            StoredSchedules schedules,
            StoreCheck store,
            Renames renames,
            Retention retention,
            PartStore parts,
            RejectStore rejects,
            RunLogs logs,
            Clock clock) {
        this.workspace = workspace;
        this.runner = runner;
        this.records = records;
        this.catalogue = catalogue;
        this.schedules = schedules;
        this.store = store;
        this.renames = renames;
        this.retention = retention;
        this.parts = parts;
        this.rejects = rejects;
        this.logs = logs;
        this.clock = clock;
    }

    /** Puts in order what an interrupted service left behind, before the first run. */
    void start() throws IOException {
        tidy("A job or dataset that was being renamed has its old name in places", renames::complete);
        for (RunRecord run : records.unfinished()) {
            tidy("Run " + run.id + " of " + run.job + ", which was cut off, cannot be closed", () -> {
                schedules.takeBack(run);
                close(run.id, run.job, "The service was stopped while this run was going on");
            });
        }
        tidy("What earlier runs left to be done with files cannot be finished", () -> runner.finishRoutes(null)
                .forEach(undone -> store.left(undone + " (the service tries it at each start, too)")));
        for (String dataset : catalogue.datasets()) {
            tidy("Parts of " + dataset + " that nobody can put back cannot be let go of", () -> dropRetired(dataset));
        }
        tidy("What interrupted runs left in the store cannot be removed", () -> {
            Swept swept = parts.sweep(catalogue.partNames(), run -> records.run(run)
                    .filter(known -> known.state != RunState.FINISHED)
                    .isPresent());
            if (!swept.removed().isEmpty()) {
                LOG.info(
                        "Removed {} unfinished files of an interrupted run",
                        swept.removed().size());
            }
        });
        tidy("The store cannot be looked through", store::look);
        String names = System.getProperty("sun.jnu.encoding", "UTF-8");
        if (!names.equalsIgnoreCase("UTF-8")) {
            store.left("The service runs with the character set " + names + " (LANG, LC_ALL) and cannot read names of "
                    + "files with other characters. Start it with LC_ALL=C.UTF-8, as the script ./hapster does");
        }
    }

    private interface Tidying {
        void perform() throws IOException;
    }

    /**
     * Does what a start does besides: what stands in its way is a problem to be shown, and keeps nobody from starting.
     */
    private void tidy(String otherwise, Tidying tidying) {
        try {
            tidying.perform();
        } catch (IOException | RuntimeException wrong) {
            LOG.error(otherwise, wrong);
            store.left(otherwise + ": " + Reasons.deepest(wrong));
        }
    }

    /** Ends a run that can do so no more by itself. */
    void close(long run, String job, String why) throws IOException {
        Set<Long> committed = records.committed(run);
        rejects.merge(run, committed::contains);
        String ending = why + ". The " + committed.size() + " files it had finished are kept whole; run " + job
                + " again for the rest";
        logs.open(run).brokenOff(ending);
        logs.close(run);
        records.brokenOff(run, RunState.FAILED, ending);
        dropLeftovers(run);
        LOG.warn("Run {} of {} was cut off; {} files of it are kept", run, job, committed.size());
    }

    /** Removes parts of a failed run that the catalogue does not know. */
    void dropLeftovers(long run) {
        try {
            parts.dropUnknown(catalogue.partNames(), run);
        } catch (IOException | RuntimeException wrong) {
            LOG.warn("What run {} left in the store is removed at the next start", run, wrong);
        }
    }

    /** Lets go of parts of a dataset that nobody can put back any more. */
    private void dropRetired(String dataset) throws IOException {
        List<String> needless = retention.forgetParts(
                dataset, clock.instant().minus(retain(dataset).replaced()));
        if (!needless.isEmpty()) {
            CrashPoint.SWEPT.reached();
        }
        parts.drop(needless);
    }

    private DatasetDef.Retain retain(String dataset) throws IOException {
        try {
            return workspace.dataset(dataset).retain();
        } catch (DefinitionException | UnknownNameException unreadable) {
            return DatasetDef.Retain.USUAL; // rather too long than too short
        }
    }

    /** Lets go of what no longer counts. What stands in the way of that is not a fault of the run. */
    void sweep(String job, String dataset) {
        try {
            dropRetired(dataset);
            forgetRuns(job, dataset);
        } catch (IOException | RuntimeException wrong) {
            LOG.warn("What no longer counts could not be removed; the next run tries again", wrong);
        }
    }

    /** Puts small files of a dataset together. What stands in the way of that is not a fault of the run. */
    void mergeFiles(String dataset) {
        try {
            parts.dropUnread();
            int merged = runner.mergeFiles(dataset, MERGED_FROM);
            if (merged > 0) {
                LOG.info("{} small files of {} became one", merged, dataset);
            }
        } catch (IOException | RuntimeException wrong) {
            LOG.warn("Small files of {} could not be put together; the next run tries again", dataset, wrong);
        }
    }

    private void forgetRuns(String job, String dataset) throws IOException {
        for (long run :
                retention.forgetRuns(job, clock.instant().minus(retain(dataset).history()))) {
            rejects.drop(run);
            logs.drop(run);
        }
    }
}
