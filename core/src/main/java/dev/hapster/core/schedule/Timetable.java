package dev.hapster.core.schedule;

import dev.hapster.core.schedule.Progress.Pause;
import dev.hapster.core.schedule.Start.By;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Starts jobs when their time has come, each time once: how far a schedule has been followed is kept together with the
 * run that follows it. Nothing happens but in {@link #tick}, which is to be called about every second. Thread-safe.
 */
public final class Timetable {

    private static final Logger LOG = LoggerFactory.getLogger(Timetable.class);

    /** Times that were missed are counted up to here. */
    private static final int MOST_COUNTED = 1000;

    /** A clock that was ahead by more than this was wrong, and is not waited for. */
    private static final Duration CLOCK_WAS_WRONG = Duration.ofHours(3);

    /** Keeps how far schedules have been followed. */
    public interface Log {
        /** By job. */
        Map<String, Progress> all();

        /** Keeps it durably. */
        void keep(String job, Progress progress);

        /** Keeps nothing of a job any more. */
        void forget(String job);
    }

    /** Starts runs. */
    public interface Starter {
        /**
         * Starts a run, and keeps with it, all or nothing, how far the schedule has been followed. A run that cannot
         * start because of what its job declares counts as started, and has failed.
         *
         * @return whether it did; otherwise the job is being run, and this is asked again
         */
        boolean start(String job, Start start, Progress then);

        /** The last run of one of these jobs that is finished; 0 where there is none. */
        long lastFinished(Set<String> jobs);
    }

    private final Log log;
    private final Starter starter;
    private final Clock clock;
    private Map<String, When> declared = Map.of();
    private Map<String, String> circles = Map.of();
    private final Map<String, Progress> progress = new HashMap<>();
    /** Since when each job could have been started: what was due before was missed. */
    private final Map<String, Instant> watchedSince = new HashMap<>();

    private final Instant since;

    /** Why jobs that are due could not be started. */
    private final Map<String, String> unable = new HashMap<>();

    /** The next time of each job behind what is done with: calculated once, and not every second. */
    private final Map<String, Due> dues = new HashMap<>();

    /** Whether a run may have finished since it was last asked for those that others follow. */
    private volatile boolean finished = true;

    private record Due(When when, Instant handled, Optional<Instant> next) {}

    public Timetable(Log log, Starter starter, Clock clock) {
        this.log = log;
        this.starter = starter;
        this.clock = clock;
        since = clock.instant();
        progress.putAll(log.all());
    }

    /** What jobs declare at this moment, by name; only those that declare something. */
    public synchronized void declare(Map<String, When> jobs) {
        if (jobs.equals(declared)) {
            return;
        }
        declared = new TreeMap<>(jobs);
        circles = circles(declared);
        finished = true;
    }

    /** A run has ended. */
    public void ended() {
        finished = true;
    }

    /** Jobs that start after one another in a circle, each with the way around. */
    private static Map<String, String> circles(Map<String, When> jobs) {
        Map<String, String> found = new HashMap<>();
        for (String job : jobs.keySet()) {
            Optional<List<String>> way = way(job, job, jobs, new LinkedHashSet<>());
            way.ifPresent(names -> found.put(job, String.join(" after ", names)));
        }
        return found;
    }

    private static Optional<List<String>> way(String from, String to, Map<String, When> jobs, Set<String> before) {
        before.add(from);
        for (String next : jobs.containsKey(from) ? jobs.get(from).after() : List.<String>of()) {
            if (next.equals(to)) {
                List<String> names = new ArrayList<>(before);
                names.add(to);
                return Optional.of(names);
            }
            if (!before.contains(next)) {
                Optional<List<String>> longer = way(next, to, jobs, new LinkedHashSet<>(before));
                if (longer.isPresent()) {
                    return longer;
                }
            }
        }
        return Optional.empty();
    }

    /** Starts whatever is due. */
    public synchronized void tick() {
        Instant now = clock.instant();
        boolean ask = finished;
        finished = false;
        for (Map.Entry<String, When> one : declared.entrySet()) {
            try {
                tick(one.getKey(), one.getValue(), now, ask);
                unable.remove(one.getKey());
            } catch (RuntimeException wrong) {
                // the disk may be full: nothing was started, and the next tick tries again
                finished = true;
                String why = String.valueOf(wrong.getMessage());
                if (!why.equals(unable.put(one.getKey(), why))) {
                    LOG.warn("{} is due, and cannot be started; it is tried again every second", one.getKey(), wrong);
                }
            }
        }
    }

    private void tick(String job, When when, Instant now, boolean ask) {
        Progress known = known(job, when, now);
        if (known.pause().isPresent()) {
            if (known.pause().get().holds(now)) {
                return;
            }
            resume(job, known.pause().get().until().orElse(now));
            known = progress.get(job);
        }
        if (known.handled().isAfter(now.plus(CLOCK_WAS_WRONG))) {
            LOG.warn("The clock was ahead: times of {} up to {} count as not done", job, known.handled());
            known = keep(job, known.handled(now, 0));
        }
        boolean followed = followTime(job, when, known, now);
        if ((ask || finished) && !circles.containsKey(job)) {
            if (followed) {
                finished = true; // the next time
            } else {
                followRuns(job, when, known, now);
            }
        }
    }

    private Progress known(String job, When when, Instant now) {
        Progress known = progress.get(job);
        Due due = dues.get(job);
        if (known != null && due != null && due.when().equals(when)) {
            return known; // as it was the last time
        }
        String text = when.toString();
        if (known == null || !known.when().equals(text)) {
            // what a new declaration says of the past does not count
            known = keep(
                    job,
                    new Progress(
                            text,
                            now,
                            when.after().isEmpty() ? 0 : starter.lastFinished(Set.copyOf(when.after())),
                            known == null ? Optional.empty() : known.pause()));
        }
        return known;
    }

    private Progress keep(String job, Progress changed) {
        log.keep(job, changed);
        progress.put(job, changed);
        return changed;
    }

    private boolean followTime(String job, When when, Progress known, Instant now) {
        Optional<Instant> next = next(job, when, known.handled());
        if (next.isEmpty() || next.get().isAfter(now)) {
            return false;
        }
        Instant last = next.get();
        long count = 0;
        while (next.isPresent() && !next.get().isAfter(now) && count < MOST_COUNTED) {
            last = next.get();
            count++;
            next = when.next(last);
        }
        Instant watched = watchedSince.getOrDefault(job, since);
        Optional<Instant> live =
                when.next(max(known.handled(), watched.minusNanos(1))).filter(moment -> !moment.isAfter(now));
        if (live.isEmpty() && !when.catchUp()) {
            LOG.info("{} is not started for {} times that were missed, as it declares", job, count);
            keep(job, known.handled(now, 0));
            return true;
        }
        Progress then = known.handled(now, 0);
        long missed = live.isPresent() ? count - 1 : count;
        if (starter.start(job, new Start(By.TIME, last, missed, 0), then)) {
            progress.put(job, then);
        }
        return true;
    }

    private Optional<Instant> next(String job, When when, Instant handled) {
        Due due = dues.get(job);
        if (due == null || !due.when().equals(when) || !due.handled().equals(handled)) {
            due = new Due(when, handled, when.next(handled));
            dues.put(job, due);
        }
        return due.next();
    }

    private void followRuns(String job, When when, Progress known, Instant now) {
        if (when.after().isEmpty()) {
            return;
        }
        long run = starter.lastFinished(Set.copyOf(when.after()));
        if (run <= known.afterRun()) {
            return;
        }
        Progress then = known.handled(known.handled(), run);
        if (when.keptUntil(now).isPresent()) {
            keep(job, then);
        } else if (starter.start(job, new Start(By.AFTER, null, 0, run), then)) {
            progress.put(job, then);
        } else {
            finished = true; // the job is being run: the next time
        }
    }

    private static Instant max(Instant one, Instant other) {
        return one.isAfter(other) ? one : other;
    }

    /** Whether a job may be started now because files have arrived. */
    public synchronized boolean takesArrivals(String job) {
        When when = declared.get(job);
        Instant now = clock.instant();
        return when != null
                && when.arrival().isPresent()
                && when.keptUntil(now).isEmpty()
                && pause(job).filter(pause -> pause.holds(now)).isEmpty();
    }

    /**
     * From now on nothing of a job starts by itself.
     *
     * @param until empty until somebody ends it
     */
    public synchronized void pause(String job, Optional<Instant> until, String because) {
        When when = declared.get(job);
        Instant now = clock.instant();
        Progress known = when == null
                ? progress.getOrDefault(job, new Progress("", now, 0, Optional.empty()))
                : known(job, when, now);
        keep(job, known.with(Optional.of(new Pause(now, until, because))));
    }

    /** Ends a pause. Times that were due in it were missed. */
    public synchronized void resume(String job) {
        if (pause(job).isPresent()) {
            resume(job, clock.instant());
        }
    }

    private void resume(String job, Instant moment) {
        keep(job, progress.get(job).with(Optional.empty()));
        watchedSince.put(job, moment);
        finished = true;
    }

    /** The pause that lasts now; empty where the job runs when its file says. */
    public synchronized Optional<Pause> pause(String job) {
        return Optional.ofNullable(progress.get(job)).flatMap(Progress::pause);
    }

    /** What jobs declare, by name. */
    public synchronized Map<String, When> declared() {
        return Map.copyOf(declared);
    }

    /** What keeps a job from starting as it declares, a sentence; empty where nothing does. */
    public synchronized Optional<String> trouble(String job, Set<String> jobs) {
        if (unable.containsKey(job)) {
            return Optional.of(
                    "It is due, and cannot be started: " + unable.get(job) + ". It is tried again every second");
        }
        if (circles.containsKey(job)) {
            return Optional.of("It starts after itself: " + circles.get(job) + ". It does not start after other jobs");
        }
        Set<String> unknown =
                new HashSet<>(declared.containsKey(job) ? declared.get(job).after() : List.of());
        unknown.removeAll(jobs);
        return unknown.stream()
                .sorted()
                .findFirst()
                .map(name -> "It starts after " + name + ", and there is no such job");
    }

    /** Forgets a job that is no more, with its pause: another one may get its name. */
    public synchronized void forget(String job) {
        log.forget(job);
        progress.remove(job);
        dues.remove(job);
        unable.remove(job);
        watchedSince.remove(job);
    }

    /** Another name for a job, with how far its schedule has been followed. */
    public synchronized void renamed(String from, String to) {
        Optional.ofNullable(progress.remove(from)).ifPresent(known -> progress.put(to, known));
    }
}
