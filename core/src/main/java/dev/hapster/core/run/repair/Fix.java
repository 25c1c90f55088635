package dev.hapster.core.run.repair;

/**
 * A change to a definition file by which rejected rows or files would fit.
 *
 * @param file {@code jobs/NAME.yaml} or {@code datasets/NAME.yaml}
 * @param version of the text that it was made from
 * @param says what it does, in words
 * @param before the line as it is; empty where there is none yet
 * @param after as it would be
 * @param text the whole file with it
 * @param level {@code row} or {@code file}: what is counted
 * @param count rejected rows whose value would fit, or files that would
 * @param of all of them that are rejected by the rules as they are now, and were looked at
 */
public record Fix(
        String file,
        String version,
        String says,
        String before,
        String after,
        String text,
        String level,
        long count,
        long of) {}
