package dev.hapster.core.find;

import java.util.List;

/**
 * What lies in the places of a job.
 *
 * @param candidates every file seen, by place and path
 * @param sieves for each place that could be searched, what its rules left over
 * @param troubles folders that could not be searched, or not wholly
 */
public record Finding(List<Candidate> candidates, List<Sieve> sieves, List<Trouble> troubles) {

    public Finding {
        candidates = List.copyOf(candidates);
        sieves = List.copyOf(sieves);
        troubles = List.copyOf(troubles);
    }

    public List<Candidate> taken() {
        return candidates.stream().filter(Candidate::taken).toList();
    }

    public List<Candidate> left() {
        return candidates.stream().filter(candidate -> !candidate.taken()).toList();
    }

    /**
     * A folder that could not be searched.
     *
     * @param place which place of the job, counted from 1
     * @param grave whether the run must not start: the place's own folder is missing, refused, or too large to search
     * @param what what is wrong
     * @param hint what to do
     */
    public record Trouble(int place, boolean grave, String what, String hint) {}
}
