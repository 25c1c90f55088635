package dev.hapster.service.schedule;

import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Roots;
import dev.hapster.core.remote.Remotes;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.decide.Outstanding;
import dev.hapster.core.schedule.Start;
import dev.hapster.core.schedule.Timetable;
import dev.hapster.core.schedule.When;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.runs.RunControl;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.ClosedWatchServiceException;
import java.nio.file.FileVisitOption;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardWatchEventKinds;
import java.nio.file.WatchKey;
import java.nio.file.WatchService;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Starts jobs as soon as complete files are there. The file system tells of changes, which are gathered for a moment;
 * besides, folders are looked at regularly, since not every file system tells. What a run has found nothing to be done
 * with, or has failed with, does not start one again as long as the folder is the same.
 */
final class ArrivalWatch implements AutoCloseable {

    private static final Logger LOG = LoggerFactory.getLogger(ArrivalWatch.class);

    /** So long nothing may have happened before it is looked. */
    private static final Duration STILL = Duration.ofMillis(300);

    /** It is looked at the latest so long after something happened. */
    private static final Duration GATHERED = Duration.ofSeconds(1);

    /** Folders that the file system is asked to tell of, for one job. */
    private static final int MOST_FOLDERS = 1000;

    /** After a run that failed, the same files are tried again after so long, and then after twice as long. */
    private static final Duration FIRST_PAUSE = Duration.ofMinutes(1);

    private static final Duration LONGEST_PAUSE = Duration.ofHours(1);

    private final Workspace workspace;
    private final Roots roots;
    private final Runner runner;
    private final RunControl runs;
    private final Clock clock;
    private final Map<String, Watched> watched = new ConcurrentHashMap<>();
    private final Map<WatchKey, Set<String>> keys = new HashMap<>();
    private final ExecutorService looks = Executors.newFixedThreadPool(2, task -> {
        Thread thread = new Thread(task, "arrivals");
        thread.setDaemon(true);
        return thread;
    });
    private WatchService events;

    ArrivalWatch(Workspace workspace, Roots roots, Runner runner, RunControl runs, Clock clock) {
        this.workspace = workspace;
        this.roots = roots;
        this.runner = runner;
        this.runs = runs;
        this.clock = clock;
    }

    /** A job that starts when files arrive. All but {@code looking} and what a look writes belongs to one thread. */
    private static final class Watched {
        Instant firstEvent;
        Instant lastEvent;
        volatile Instant next = Instant.MIN;
        volatile boolean looking;
        volatile String trouble;
        /** The listing in which nothing was to be done, or of which a run has been started. */
        volatile String done = "";

        volatile Duration pause = FIRST_PAUSE;
        volatile Instant retry = Instant.MAX;
        volatile boolean ran;
        volatile boolean registered;
        /** Whether the file system has told of something since the last look. */
        volatile boolean told = true;

        final PlaceLooks places = new PlaceLooks();
    }

    /** To be called several times a second. */
    void step(Timetable timetable) {
        Map<String, When> declared = timetable.declared();
        watched.keySet()
                .removeIf(job -> !declared.containsKey(job)
                        || declared.get(job).arrival().isEmpty());
        Instant now = clock.instant();
        hear(now);
        declared.forEach((job, when) -> when.arrival().ifPresent(look -> {
            Watched one = watched.computeIfAbsent(job, fresh -> new Watched());
            if (!one.registered && !one.looking) {
                register(job, one, now);
            }
            if (isDue(one, now) && !one.looking && timetable.takesArrivals(job)) {
                one.told |= one.firstEvent != null;
                one.firstEvent = null;
                one.next = now.plus(look);
                one.looking = true;
                looks.execute(() -> {
                    try {
                        look(job, one, look);
                    } finally {
                        one.looking = false;
                    }
                });
            }
        }));
    }

    private static boolean isDue(Watched one, Instant now) {
        return !now.isBefore(one.next)
                || (one.firstEvent != null
                        && (!now.isBefore(one.lastEvent.plus(STILL)) || !now.isBefore(one.firstEvent.plus(GATHERED))));
    }

    /** What the file system has told since. */
    private void hear(Instant now) {
        if (events == null) {
            return;
        }
        WatchKey key = events.poll();
        while (key != null) {
            boolean any = !key.pollEvents().isEmpty();
            boolean goesOn = key.reset();
            for (String job : keys.getOrDefault(key, Set.of())) {
                Watched one = watched.get(job);
                if (one != null) {
                    if (any) {
                        one.firstEvent = one.firstEvent == null ? now : one.firstEvent;
                        one.lastEvent = now;
                    }
                    one.registered &= goesOn;
                }
            }
            if (!goesOn) {
                keys.remove(key);
            }
            key = events.poll();
        }
    }

    /** Asks the file system to tell of changes. Where it cannot, the regular look finds them. */
    private void register(String job, Watched one, Instant now) {
        one.registered = true; // also where it fails: the next look tries again
        try {
            if (events == null) {
                events = workspace.folder().getFileSystem().newWatchService();
            }
            int folders = 0;
            for (Place place : workspace
                    .search(job, workspace.jobText(job), Map.of())
                    .places()
                    .values()) {
                Path top = roots.resolve(workspace.folder(), place.folder());
                if (Remotes.isRemote(top) || !Files.isDirectory(top) || !roots.hold(top)) {
                    continue;
                }
                for (Path folder : below(top, place.depth())) {
                    if (++folders > MOST_FOLDERS) {
                        LOG.info("{} has more than {} folders; the others are looked at regularly", job, MOST_FOLDERS);
                        break;
                    }
                    WatchKey key = folder.register(
                            events,
                            StandardWatchEventKinds.ENTRY_CREATE,
                            StandardWatchEventKinds.ENTRY_MODIFY,
                            StandardWatchEventKinds.ENTRY_DELETE);
                    if (keys.computeIfAbsent(key, fresh -> new HashSet<>()).add(job)) {
                        // what has come into the folder by now, nobody has told of
                        one.firstEvent = one.firstEvent == null ? now : one.firstEvent;
                        one.lastEvent = now;
                    }
                }
            }
        } catch (IOException | DefinitionException | UnknownNameException | UncheckedIOException wrong) {
            LOG.info("The file system does not tell of files for {}: {}", job, wrong.getMessage());
        }
    }

    private static List<Path> below(Path top, int depth) throws IOException {
        if (depth == 0) {
            return List.of(top);
        }
        try (Stream<Path> all =
                Files.find(top, depth, (path, attributes) -> attributes.isDirectory(), new FileVisitOption[0])) {
            return new ArrayList<>(all.limit(MOST_FOLDERS + 1L).toList());
        }
    }

    private void look(String job, Watched one, Duration usual) {
        if (runs.activeOf(job).isPresent()) {
            one.next = clock.instant().plus(STILL);
            one.ran = true;
            return;
        }
        try {
            boolean again = !clock.instant().isBefore(one.retry);
            String text = workspace.jobText(job);
            Map<Integer, Place> places = workspace.search(job, text, Map.of()).places();
            if (PlaceLooks.areApart(places)
                    && !again
                    && one.trouble == null
                    && isAllAsBefore(text, one, places, usual)) {
                seeHowItEnded(job, one);
                return;
            }
            one.told = false;
            PreparedJob prepared = runner.prepare(job, Map.of());
            one.places.looked(places, clock.instant(), usual);
            one.next = earlier(one.next, one.places.next());
            one.registered = false; // there may be new folders
            one.trouble = null;
            String listing = prepared.rules() + "\n" + Outstanding.listing(prepared.finding());
            if (listing.equals(one.done) && !again) {
                seeHowItEnded(job, one);
                return;
            }
            Outstanding outstanding = runner.outstanding(prepared);
            outstanding.next().ifPresent(next -> {
                Instant soon = clock.instant().plus(STILL);
                one.next = next.isBefore(soon) ? soon : earlier(next, one.next);
                for (Candidate file : prepared.finding().taken()) {
                    if (file.waiting().isPresent()) {
                        one.places.lookAt(file.place(), one.next);
                    }
                }
            });
            if (outstanding.files().isEmpty()) {
                one.done = listing;
                one.retry = Instant.MAX;
                one.pause = FIRST_PAUSE;
            } else if (runs.startBy(prepared, Start.ARRIVED)) {
                one.pause = listing.equals(one.done) ? one.pause : FIRST_PAUSE;
                one.done = listing;
                one.retry = Instant.MAX;
                one.ran = true;
            }
        } catch (DefinitionException | UnknownNameException | IOException | UncheckedIOException wrong) {
            String why = wrong.getMessage();
            if (!why.equals(one.trouble)) {
                runs.notBegun(job, wrong, Start.ARRIVED, Optional.empty());
            }
            one.trouble = why;
        } catch (ClosedWatchServiceException stopped) {
            LOG.debug("The service is stopping", stopped);
        } catch (RuntimeException wrong) {
            LOG.warn("{} could not be looked through for new files; it is looked again", job, wrong);
        }
    }

    /**
     * Looks at the places whose time has come, and no others.
     *
     * @return whether nothing has come, gone or changed there
     */
    private boolean isAllAsBefore(String text, Watched one, Map<Integer, Place> places, Duration usual) {
        boolean told = one.told;
        one.told = false;
        String folders = places.values().stream().map(Place::folder).toList().toString(); // values.yaml may name them
        Map<Integer, Place> due = one.places.due(
                text + folders,
                places,
                clock.instant(),
                told,
                place -> roots.resolve(workspace.folder(), place.folder()));
        boolean same = true;
        for (Map.Entry<Integer, Place> place : due.entrySet()) {
            same &= one.places.holds(place.getKey(), runner.finder().find(Map.of(place.getKey(), place.getValue())));
        }
        if (same) {
            one.places.looked(due, clock.instant(), usual);
            one.registered &= due.isEmpty();
        }
        one.next = earlier(one.next, one.places.next());
        return same;
    }

    private static Instant earlier(Instant one, Instant other) {
        return one.isBefore(other) ? one : other;
    }

    /** Where the run that was started for these files failed, they are tried again after a while. */
    private void seeHowItEnded(String job, Watched one) {
        if (one.ran && one.retry.equals(Instant.MAX) && !runs.isTriedAgain(job)) {
            one.ran = false;
            if (runs.lastFailed(job)) {
                one.retry = clock.instant().plus(one.pause);
                Duration twice = one.pause.multipliedBy(2);
                one.pause = twice.compareTo(LONGEST_PAUSE) < 0 ? twice : LONGEST_PAUSE;
            }
        }
    }

    /** What keeps a job from being started, a sentence; empty where nothing does. */
    Optional<String> trouble(String job) {
        return Optional.ofNullable(watched.get(job)).map(one -> one.trouble);
    }

    @Override
    public void close() {
        looks.shutdown();
        if (events != null) {
            try {
                events.close();
            } catch (IOException wrong) {
                LOG.debug("The file system still tells of files", wrong);
            }
        }
    }
}
