package dev.hapster.core.definition;

import dev.hapster.core.pattern.NamePattern;
import java.time.Duration;
import java.util.List;

/**
 * When a file counts as complete.
 *
 * @param settle how long its size and time must have been still
 * @param unfinished names by which programs mark files that are not complete
 */
public record Completeness(Duration settle, List<NamePattern> unfinished) {

    public static final Duration SETTLE = Duration.ofSeconds(2);
    public static final List<String> UNFINISHED = List.of("*.part", "*.tmp", "~$*", ".~lock*");
    /** What holds where a job says nothing. */
    public static final Completeness USUAL =
            new Completeness(SETTLE, UNFINISHED.stream().map(NamePattern::of).toList());

    public Completeness {
        unfinished = List.copyOf(unfinished);
    }
}
