package dev.hapster.core.definition.yaml;

/**
 * A mistake in a definition or in what it refers to.
 *
 * @param file name of the file, relative to the workspace
 * @param line line, counted from 1; 0 where the mistake has no line
 * @param column column, counted from 1; 0 where the mistake has no column
 * @param what what is wrong
 * @param hint what to do, or an empty text
 */
public record Problem(String file, int line, int column, String what, String hint) {

    /** {@code jobs/east.yaml:12:5 unknown key 'tke'. Did you mean 'take'?} */
    @Override
    public String toString() {
        String at = line == 0 ? file : file + ":" + line + ":" + column;
        return at + "  " + what + (hint.isEmpty() ? "" : ". " + hint);
    }
}
