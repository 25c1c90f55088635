package dev.hapster.core.due;

import dev.hapster.core.pattern.Fact;
import java.time.Instant;
import java.util.Locale;
import java.util.Map;

/**
 * A file that arrived for a job.
 *
 * @param name by which people tell it from the job's other files
 * @param facts what its name says
 * @param at when it was there: as the file system tells, and at the latest when a run read it
 * @param run the run that read it
 * @param became what became of it
 * @param rows that it brought
 * @param rejected rows of it that are rejected
 * @param reason why it is rejected whole; empty where it is not
 */
public record Landed(
        String name,
        Map<String, Fact> facts,
        Instant at,
        long run,
        Became became,
        long rows,
        long rejected,
        String reason) {

    /** What became of a file. */
    public enum Became {
        /** Its rows were taken. */
        TAKEN,
        /** It is rejected whole. */
        REJECTED,
        /** It has the same content as another file, which counts. */
        COPY,
        /** Its rows were taken, and somebody took them out again. */
        TAKEN_OUT;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** Whether its rows are in the dataset. */
    public boolean isTaken() {
        return became == Became.TAKEN;
    }

    /** Whether it was rejected, whole. */
    public boolean isRejected() {
        return became == Became.REJECTED;
    }
}
