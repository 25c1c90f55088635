package dev.hapster.core.workspace;

import dev.hapster.core.definition.yaml.Nearest;
import java.util.Collection;

/** There is no job or dataset of this name. */
public final class UnknownNameException extends Exception {

    private final String hint;

    UnknownNameException(String kind, String name, Collection<String> known) {
        super("There is no " + kind + " '" + name + "'");
        hint = known.isEmpty()
                ? "The workspace has no " + kind + "s yet: write " + kind + "s/NAME.yaml"
                : Nearest.hint(name, known);
    }

    /** The nearest right word, or all that are known. */
    public String hint() {
        return hint;
    }
}
