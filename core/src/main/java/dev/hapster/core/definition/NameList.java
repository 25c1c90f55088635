package dev.hapster.core.definition;

import java.nio.charset.Charset;
import java.util.Optional;

/**
 * A file that names the files to take.
 *
 * @param file as written: absolute, or relative to the workspace
 * @param column the column that holds the names; empty where each line is a name
 * @param separator of a delimited file; empty where it is told from its header
 * @param sheet of a workbook: its name, or its position counted from 1; empty for the first
 * @param missingStops whether a name with no file behind it keeps the job from running
 */
public record NameList(
        String file,
        Optional<String> column,
        Optional<Character> separator,
        Charset encoding,
        Optional<String> sheet,
        boolean missingStops) {

    /** The rule in the words of the job file. */
    public String words() {
        return "list " + file + column.map(name -> ", column " + name).orElse("");
    }
}
