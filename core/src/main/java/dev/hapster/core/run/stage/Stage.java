package dev.hapster.core.run.stage;

import java.util.Locale;

/** How far a row has come. */
public enum Stage {
    /** The fields as they stand in the file. */
    READ,
    /** The columns of the dataset as texts, cleaned and not yet converted. */
    CLEANED,
    /** The columns of the dataset as they would be stored. */
    STORED;

    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
