package dev.hapster.core.run.act;

import java.util.List;

/** Something cannot be done to a dataset, and nothing was. */
public final class ActNotPossibleException extends Exception {
    private final transient List<String> obstacles;

    public ActNotPossibleException(String what, List<String> obstacles) {
        super(what + ": " + String.join("; ", obstacles));
        this.obstacles = List.copyOf(obstacles);
    }

    /** What stands in the way, a sentence each. */
    public List<String> obstacles() {
        return obstacles;
    }
}
