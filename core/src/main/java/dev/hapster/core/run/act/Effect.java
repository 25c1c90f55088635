package dev.hapster.core.run.act;

import java.util.List;

/**
 * What an act would do to a dataset.
 *
 * @param out rows that are taken out; not those that come back with the same values, in another content of their file
 * @param back rows that come back, but for the same
 * @param files files of which something is taken out or comes back
 * @param notes what is worth knowing before, beside these numbers; often nothing
 * @param obstacles why it cannot be done; empty where it can
 */
public record Effect(long out, long back, long files, List<String> notes, List<String> obstacles) {
    public Effect {
        notes = List.copyOf(notes);
        obstacles = List.copyOf(obstacles);
    }
}
