package dev.hapster.service.runs;

import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.NameList;
import dev.hapster.core.find.Finder;
import dev.hapster.core.find.Finding;
import dev.hapster.core.find.Listing;
import dev.hapster.core.run.Runner;
import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.ToIntFunction;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What rules would take, while somebody is still writing them. Folders are listed once and the rules tried on the
 * listing, which is renewed in the background; so an answer is at most a few seconds old and does not wait for the
 * disk. Thread-safe.
 */
@ApplicationScoped
public class Previews {

    private static final Logger LOG = LoggerFactory.getLogger(Previews.class);
    private static final Duration FRESH = Duration.ofSeconds(2);
    private static final Duration USABLE = Duration.ofMinutes(5);
    /** Files in all listings that are kept, and the same in all answers; the latest is kept however large it is. */
    private static final int MOST_FILES = 200_000;

    private record Key(String folder, int depth, Optional<NameList> list, int most) {
        static Key of(Place place) {
            return new Key(place.folder(), place.depth(), place.list(), place.most());
        }
    }

    private record Question(Object rules, List<Instant> listed) {}

    private final Finder finder;
    private final Clock clock;
    private final Map<Key, Listing> listings = new LinkedHashMap<>(16, 0.75f, true);
    private final Map<Question, Finding> answers = new LinkedHashMap<>(8, 0.75f, true);
    private final List<Key> renewing = new ArrayList<>();
    private final ExecutorService background = Executors.newSingleThreadExecutor(work -> {
        Thread thread = new Thread(work, "listing");
        thread.setDaemon(true);
        return thread;
    });

    Previews(Runner runner, Clock clock) {
        finder = runner.finder();
        this.clock = clock;
    }

    /** The first question about a file's creation takes longest: it is asked before anybody waits for the answer. */
    void onStart(@Observes StartupEvent start) {
        background.execute(finder::prepare);
    }

    void onStop(@Observes ShutdownEvent stop) {
        background.shutdownNow();
    }

    /**
     * What the places would take.
     *
     * @param listed when the oldest of the listings was made
     */
    public record Preview(Finding finding, Instant listed) {}

    /**
     * @param places by their number in the job, counted from 1
     * @param rules what the places were read from; equal where they are the same
     * @param fresh whether no listing that was made before will do
     */
    public Preview of(Map<Integer, Place> places, Object rules, boolean fresh) {
        Map<Place, Listing> used = new LinkedHashMap<>();
        places.values()
                .forEach(place ->
                        used.computeIfAbsent(place, one -> fresh ? keep(Key.of(one), finder.list(one)) : listing(one)));
        List<Instant> listed = used.values().stream().map(Listing::at).toList();
        Question question = new Question(rules, listed);
        Finding finding;
        synchronized (answers) {
            finding = answers.get(question);
        }
        if (finding == null) {
            finding = finder.sift(places, used::get);
            synchronized (answers) {
                answers.put(question, finding);
                forgetOldest(answers, answer -> answer.candidates().size());
            }
        }
        return new Preview(finding, listed.stream().min(Instant::compareTo).orElseGet(clock::instant));
    }

    private Listing listing(Place place) {
        Key key = Key.of(place);
        Instant now = clock.instant();
        synchronized (listings) {
            Listing known = listings.get(key);
            if (known != null && known.at().isAfter(now.minus(USABLE))) {
                if (known.at().isBefore(now.minus(FRESH)) && !renewing.contains(key)) {
                    renewing.add(key);
                    background.execute(() -> renew(key, place));
                }
                return known;
            }
        }
        return keep(key, finder.list(place));
    }

    private void renew(Key key, Place place) {
        try {
            keep(key, finder.list(place));
        } catch (RuntimeException wrong) {
            LOG.warn("{} could not be listed anew", place.folder(), wrong);
        } finally {
            synchronized (listings) {
                renewing.remove(key);
            }
        }
    }

    private Listing keep(Key key, Listing listing) {
        synchronized (listings) {
            listings.put(key, listing);
            forgetOldest(listings, Listing::size);
        }
        return listing;
    }

    private static <T> void forgetOldest(Map<?, T> kept, ToIntFunction<T> size) {
        long files = kept.values().stream().mapToLong(size::applyAsInt).sum();
        Iterator<T> oldest = kept.values().iterator();
        while (files > MOST_FILES && kept.size() > 1) {
            files -= size.applyAsInt(oldest.next());
            oldest.remove();
        }
    }
}
