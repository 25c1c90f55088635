package dev.hapster.core.find;

import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.remote.RemoteFault;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What lies in the places of a job.
 *
 * @param candidates every file seen, by place and path
 * @param counts for each place that could be searched, how many files remained after each of its rules
 * @param troubles folders that could not be searched, or not wholly
 */
public record Finding(List<Candidate> candidates, List<RuleCounts> counts, List<Trouble> troubles) {

    private static final int MOST_NEARLY = 5;

    public Finding {
        candidates = List.copyOf(candidates);
        counts = List.copyOf(counts);
        troubles = List.copyOf(troubles);
    }

    /** The files that the rules left, by place and path. */
    public List<Candidate> taken() {
        return candidates.stream().filter(Candidate::taken).toList();
    }

    /** The files that a rule took out, each with the rule. */
    public List<Candidate> skipped() {
        return candidates.stream().filter(candidate -> !candidate.taken()).toList();
    }

    /**
     * The files that no place takes though a pattern of one nearly does: what differs, a sentence each; of many files
     * the first ones, and how many more.
     */
    public List<String> nearlyTaken() {
        List<Candidate> nearly = candidates.stream().filter(Candidate::nearly).toList();
        if (nearly.isEmpty()) {
            return List.of();
        }
        Set<String> taken =
                candidates.stream().filter(Candidate::taken).map(Candidate::key).collect(Collectors.toSet());
        List<String> all = nearly.stream()
                .filter(candidate -> !taken.contains(candidate.key()))
                .map(candidate -> candidate.relative() + " is not taken: " + candidate.rule())
                .toList();
        return all.size() <= MOST_NEARLY
                ? all
                : Stream.concat(
                                all.stream().limit(MOST_NEARLY - 1L),
                                Stream.of("Nor are " + (all.size() - MOST_NEARLY + 1)
                                        + " more files, of which the names differ as little"))
                        .toList();
    }

    /**
     * A folder that could not be searched.
     *
     * @param place which place of the job, counted from 1
     * @param grave whether the run must not start: the place's own folder is missing, not allowed, or too large to
     *     search
     * @param what what is wrong
     * @param hint what to do
     * @param fault of another machine, or of the way to it, where that is the reason
     */
    public record Trouble(int place, boolean grave, String what, String hint, Optional<RemoteFault> fault) {

        public Trouble(int place, boolean grave, String what, String hint) {
            this(place, grave, what, hint, Optional.empty());
        }

        static Trouble of(Place place, RemoteFault fault) {
            String what = "the folder " + place.folder() + " cannot be searched: " + fault.getMessage();
            return new Trouble(0, true, what, "", Optional.of(fault));
        }

        Trouble at(int number) {
            return new Trouble(number, grave, what, hint, fault);
        }
    }
}
