package dev.hapster.core.draft.reading;

import java.nio.charset.Charset;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * How people say that text files with separators are read; what is empty is found out.
 *
 * @param separator what stands between fields
 * @param encoding how bytes become characters
 * @param header whether the first row of the table names the columns
 * @param linesAbove lines above the table
 */
public record ReadChoice(
        Optional<String> separator, Optional<Charset> encoding, Optional<Boolean> header, OptionalInt linesAbove) {

    /** Everything is found out. */
    public static final ReadChoice NONE =
            new ReadChoice(Optional.empty(), Optional.empty(), Optional.empty(), OptionalInt.empty());

    static final String WHY = "as you chose";
}
