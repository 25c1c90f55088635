package dev.hapster.core.draft.reading;

import dev.hapster.core.definition.read.Read;
import java.util.List;

/**
 * How one file is read.
 *
 * @param read the settings
 * @param names the columns in its own words; empty where it does not name them
 * @param width how many columns it has
 * @param evidence for each setting that is not the usual one, and for what could be doubted
 * @param doubts what nothing decides, a sentence each
 * @param ascii whether it holds nothing by which an encoding could be told
 * @param headed whether the file names its columns
 * @param skipped columns that cannot be taken as they are, and why
 */
public record Reading(
        Read read,
        List<String> names,
        int width,
        List<Evidence> evidence,
        List<String> doubts,
        boolean ascii,
        boolean headed,
        List<Evidence> skipped) {

    /** The same for a table, of which every column is one. */
    Reading(
            Read read,
            List<String> names,
            int width,
            List<Evidence> evidence,
            List<String> doubts,
            boolean ascii,
            boolean headed) {
        this(read, names, width, evidence, doubts, ascii, headed, List.of());
    }
}
