package dev.hapster.core.definition.yaml;

import java.util.List;
import java.util.stream.Collectors;

/** A definition that cannot be used, with every mistake in it. */
public final class DefinitionException extends Exception {

    private final transient List<Problem> problems;

    /** @param problems at least one, in the order of the files */
    public DefinitionException(List<Problem> problems) {
        super(problems.stream().map(Problem::toString).collect(Collectors.joining("\n")));
        this.problems = List.copyOf(problems);
    }

    /** Everything that was found wrong, so that one look mends it all. */
    public List<Problem> problems() {
        return problems;
    }
}
