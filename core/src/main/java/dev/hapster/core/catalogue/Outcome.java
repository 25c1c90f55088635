package dev.hapster.core.catalogue;

import java.util.Locale;

/** What became of a file in a run. */
public enum Outcome {
    /** Its rows are in the dataset for the first time. */
    LOADED,
    /** Its rows took the place of those it had brought before. */
    REPLACED,
    /** It was loaded before and has not changed. */
    UNCHANGED,
    /** None of it is in the dataset through this run. */
    REJECTED,
    /** It is still being written; a later run takes it. */
    WAITING;

    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
