package dev.hapster.service.schedule;

import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.find.Finding;
import dev.hapster.core.remote.Remotes;
import dev.hapster.core.run.decide.Outstanding;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Function;

/**
 * When each of a job's places is looked at, where some are looked at less often than others. Not thread-safe: one look
 * at a time.
 */
final class PlaceLooks {

    private final Map<Integer, Instant> next = new HashMap<>();
    private final Map<Integer, String> seen = new HashMap<>();
    private String job = "";

    /** Whether a job says of a place how often it is looked at. */
    static boolean areApart(Map<Integer, Place> places) {
        return places.values().stream().anyMatch(place -> place.look().isPresent());
    }

    /**
     * The places whose time has come, and those of which the file system has told.
     *
     * @param text what the job says of its places; where it has changed, all of them are due
     * @param told whether the file system has told of something
     * @param folders where the places lie
     */
    Map<Integer, Place> due(
            String text, Map<Integer, Place> places, Instant now, boolean told, Function<Place, Path> folders) {
        if (!text.equals(job)) {
            next.clear();
            seen.clear();
            job = text;
        }
        Map<Integer, Place> due = new LinkedHashMap<>();
        places.forEach((number, place) -> {
            if (!now.isBefore(next.getOrDefault(number, Instant.MIN))
                    || (told && !Remotes.isRemote(folders.apply(place)))) {
                due.put(number, place);
            }
        });
        return due;
    }

    /** Whether a place holds what it held when it was last looked at by itself. */
    boolean holds(int place, Finding now) {
        String all = Definitions.version(Outstanding.listing(now) + "\n" + now.troubles());
        return all.equals(seen.put(place, all));
    }

    void looked(Map<Integer, Place> places, Instant now, Duration usual) {
        places.forEach((number, place) -> next.put(number, now.plus(place.look().orElse(usual))));
    }

    /** A file of a place may be complete then. */
    void lookAt(int place, Instant then) {
        next.merge(place, then, (one, other) -> one.isBefore(other) ? one : other);
    }

    /** When the next place is due. */
    Instant next() {
        return next.values().stream().min(Instant::compareTo).orElse(Instant.MIN);
    }
}
