package dev.hapster.core.find;

import java.util.List;

/**
 * What lies in the places of a job.
 *
 * @param candidates every file seen, by place and path
 * @param counts for each place that could be searched, how many files remained after each of its rules
 * @param troubles folders that could not be searched, or not wholly
 */
public record Finding(List<Candidate> candidates, List<RuleCounts> counts, List<Trouble> troubles) {

    public Finding {
        candidates = List.copyOf(candidates);
        counts = List.copyOf(counts);
        troubles = List.copyOf(troubles);
    }

    public List<Candidate> taken() {
        return candidates.stream().filter(Candidate::taken).toList();
    }

    public List<Candidate> skipped() {
        return candidates.stream().filter(candidate -> !candidate.taken()).toList();
    }

    /**
     * A folder that could not be searched.
     *
     * @param place which place of the job, counted from 1
     * @param grave whether the run must not start: the place's own folder is missing, not allowed, or too large to
     *     search
     * @param what what is wrong
     * @param hint what to do
     */
    public record Trouble(int place, boolean grave, String what, String hint) {}
}
