package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.LookupTable;
import dev.hapster.core.definition.yaml.Problem;
import java.util.List;
import java.util.Optional;

/** Where jobs find the tables in which they look values up. Thread-safe. */
public interface Lookups {

    /** There are no tables at all. */
    Lookups NONE = (file, by, take) ->
            new Found(Optional.empty(), List.of(new Problem(file, 0, 0, "there is no such file", "")));

    /**
     * A table, or what is wrong with it.
     *
     * @param table empty where there are problems
     */
    record Found(Optional<LookupTable> table, List<Problem> problems) {}

    /**
     * @param file as the job names it
     * @param by the name of the column that holds the keys
     * @param take the name of the column that holds the values
     */
    Found table(String file, String by, String take);
}
