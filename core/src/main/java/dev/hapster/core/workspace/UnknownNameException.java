package dev.hapster.core.workspace;

import dev.hapster.core.definition.yaml.Nearest;
import java.util.Collection;

/** There is no job or dataset of this name. */
public final class UnknownNameException extends Exception {

    private final String hint;
    private final boolean ofCall;

    UnknownNameException(String kind, String name, Collection<String> known) {
        super("There is no " + kind + " '" + name + "'");
        hint = known.isEmpty()
                ? "The workspace has no " + several(kind) + " yet: write " + several(kind) + "/NAME.yaml"
                : Nearest.hint(name, known);
        ofCall = false;
    }

    private static String several(String kind) {
        return kind.equals("query") ? "queries" : kind + "s";
    }

    private UnknownNameException(String message, String hint, boolean ofCall) {
        super(message);
        this.hint = hint;
        this.ofCall = ofCall;
    }

    /** A dataset declares no such delivery. */
    public static UnknownNameException delivery(String dataset, String name, Collection<String> known) {
        return new UnknownNameException(
                "The dataset " + dataset + " has no delivery '" + name + "'",
                known.isEmpty()
                        ? "Its file declares none: write `deliver: [{name: …, to: …}]`"
                        : Nearest.hint(name, known),
                false);
    }

    static UnknownNameException account(String name, Collection<String> known) {
        return new UnknownNameException(
                "There is no account '" + name + "'",
                known.isEmpty()
                        ? "Declare it in accounts.yaml in the workspace: docs/definitions.md says how"
                        : Nearest.hint(name, known),
                false);
    }

    /** Whether it is the name of something that a caller gives, and not of something that is asked for. */
    public boolean isOfCall() {
        return ofCall;
    }

    /** A caller gives a value that a job does not use. */
    static UnknownNameException value(String job, String name, Collection<String> used) {
        return new UnknownNameException(
                "The job " + job + " uses no value '" + name + "'",
                used.isEmpty() ? "Its file has no ${name} at all" : Nearest.hint(name, used),
                true);
    }

    /** The nearest right word, or all that are known. */
    public String hint() {
        return hint;
    }
}
