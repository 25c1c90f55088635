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
public record RuleCounts(int place, String folder, long seen, List<Step> steps) {

    public RuleCounts {
        steps = List.copyOf(steps);
    }

    /**
     * What one rule did.
     *
     * @param key the rule's key in the job file, such as {@code take}; empty where it is none of the file's rules
     * @param rule the rule, in the words of the job file
     * @param removed files that it removed
     * @param remain files that remain after it
     * @param last whether it removed the last of them
     */
    public record Step(String key, String rule, long removed, long remain, boolean last) {

        static Step of(String key, String rule, long before, long remain) {
            return new Step(key, rule, before - remain, remain, before > 0 && remain == 0);
        }
    }
}
