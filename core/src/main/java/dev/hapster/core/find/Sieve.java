package dev.hapster.core.find;

import java.util.List;

/**
 * What the rules of one place left over, one after another.
 *
 * @param place which place of the job, counted from 1
 * @param folder as the job names it
 * @param seen files that lie there
 * @param steps rules in the order in which they act
 */
public record Sieve(int place, String folder, long seen, List<Step> steps) {

    public Sieve {
        steps = List.copyOf(steps);
    }

    /**
     * @param rule the rule, in the words of the job file
     * @param removed files that it removed
     * @param left files that are left after it
     */
    public record Step(String rule, long removed, long left) {}
}
