package dev.hapster.service.schedule;

import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Roots;
import dev.hapster.core.run.Runner;
import dev.hapster.core.schedule.Progress;
import dev.hapster.core.schedule.Progress.Pause;
import dev.hapster.core.schedule.Start;
import dev.hapster.core.schedule.Timetable;
import dev.hapster.core.schedule.When;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.catalogue.StoredSchedules;
import dev.hapster.service.runs.DatasetChanged;
import dev.hapster.service.runs.JobRenamed;
import dev.hapster.service.runs.RunControl;
import dev.hapster.service.runs.TryingAgain;
import dev.hapster.service.work.Repeating;
import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.annotation.Priority;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.interceptor.Interceptor;
import java.io.IOException;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Starts what is due, from a thread of its own. Thread-safe. */
@ApplicationScoped
public class Scheduler implements Timetable.Starter {

    private static final Logger LOG = LoggerFactory.getLogger(Scheduler.class);

    /** So often it is seen to what has happened in folders; what is due by the clock at each full second. */
    private static final long STEP = Long.getLong("hapster.step", 250);

    private final Workspace workspace;
    private final RunControl runs;
    private final TryingAgain tryingAgain;
    private final StoredSchedules schedules;
    private final Clock clock;
    private final Declarations declarations;
    private final ArrivalWatch arrivals;
    private volatile Timetable timetable;
    private final Repeating following = new Repeating(
            "schedule",
            STEP,
            this::follow,
            LOG,
            "Schedules cannot be followed at the moment; it is tried again every second");
    private long second = -1;

    Scheduler(
            Workspace workspace,
            Roots roots,
            Runner runner,
            RunControl runs,
            TryingAgain tryingAgain,
            StoredSchedules schedules,
            Clock clock) {
        this.workspace = workspace;
        this.runs = runs;
        this.tryingAgain = tryingAgain;
        this.schedules = schedules;
        this.clock = clock;
        declarations = new Declarations(workspace);
        arrivals = new ArrivalWatch(workspace, roots, runner, runs, clock);
    }

    /** After all else that a start puts in order. */
    void onStart(@Observes @Priority(Interceptor.Priority.PLATFORM_AFTER) StartupEvent start) {
        timetable = new Timetable(schedules, this, clock);
        following.start();
    }

    /** Nobody is interrupted: that would close the catalogue's file. */
    void onStop(@Observes @Priority(Interceptor.Priority.PLATFORM_BEFORE) ShutdownEvent stop)
            throws InterruptedException {
        following.stop();
        arrivals.close();
    }

    private void follow() throws IOException {
        Instant now = clock.instant();
        if (now.getEpochSecond() != second) {
            second = now.getEpochSecond();
            step();
        }
        arrivals.step(timetable);
    }

    private synchronized void step() throws IOException {
        timetable.declare(declarations.now());
        timetable.tick();
        tryingAgain.perform(
                job -> !following.isStopping() && pause(job).isEmpty(),
                (job, start) -> runs.startBy(job, start, Optional.empty()));
    }

    @Override
    public boolean start(String job, Start start, Progress then) {
        return !following.isStopping() && runs.startBy(job, start, Optional.of(then));
    }

    @Override
    public long lastFinished(Set<String> jobs) {
        return schedules.lastFinished(jobs);
    }

    void onChange(@Observes DatasetChanged change) {
        Timetable told = timetable;
        if (told != null) {
            told.ended();
        }
    }

    void onRename(@Observes JobRenamed rename) {
        timetable.renamed(rename.from(), rename.to());
    }

    /** What jobs declare, by name, as their files say now. */
    public synchronized Map<String, When> declared() throws IOException {
        timetable.declare(declarations.now());
        return timetable.declared();
    }

    /**
     * A job is about to be copied: where it runs by itself, the copy is paused before it is there. It would take the
     * same files before anybody has looked at it.
     */
    public void copying(String from, String to) throws IOException {
        if (workspace.runsByItself(from) && !workspace.jobs().contains(to)) {
            timetable.pause(to, Optional.empty(), "It is a copy of " + from);
        }
    }

    /** A job is no more. */
    public void deleted(String job) {
        timetable.forget(job);
    }

    /** From now on nothing of a job starts by itself. */
    public void pause(String job, Optional<Instant> until, String because)
            throws IOException, DefinitionException, UnknownNameException {
        workspace.jobText(job); // says so where there is none
        timetable.pause(job, until, because);
    }

    /** Ends a pause. */
    public void resume(String job) throws IOException, DefinitionException, UnknownNameException {
        workspace.jobText(job); // says so where there is none
        timetable.resume(job);
    }

    /** The pause of a job; empty where it has none, or it is over. */
    public Optional<Pause> pause(String job) {
        Instant now = clock.instant();
        return timetable.pause(job).filter(pause -> pause.holds(now));
    }

    /** What keeps a job from starting as it declares, a sentence each. */
    public List<String> troubles(String job) throws IOException {
        return troubles(job, workspace.jobs());
    }

    /** @param jobs all that there are */
    public synchronized List<String> troubles(String job, Set<String> jobs) {
        List<String> all = new ArrayList<>();
        declarations
                .trouble(job)
                .ifPresent(what -> all.add("What its file says of when it runs cannot be read: " + what));
        timetable.trouble(job, jobs).ifPresent(all::add);
        arrivals.trouble(job).ifPresent(all::add);
        if (all.isEmpty() && timetable.declared().containsKey(job)) {
            runs.couldNotBegin(job).ifPresent(all::add);
        }
        return all;
    }

    /** What keeps any job from starting as it declares, a sentence each. */
    public List<String> problems() throws IOException {
        List<String> all = new ArrayList<>();
        Set<String> jobs = workspace.jobs();
        for (String job : jobs) {
            troubles(job, jobs)
                    .forEach(what -> all.add("The job " + job + " does not run by itself as it should: " + what));
        }
        return all;
    }
}
