package dev.hapster.core.query;

import java.util.List;

/**
 * Rows counted by columns.
 *
 * @param by the columns, such as {@code lab} or {@code sampled_at:month}
 * @param total rows counted
 * @param groups in ascending order of their values, empty ones last
 */
public record Counts(List<String> by, long total, List<Group> groups) {

    /** @param values one for each column counted by; null where empty */
    public record Group(List<Comparable<?>> values, long rows) {}
}
