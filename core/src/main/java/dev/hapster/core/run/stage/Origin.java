package dev.hapster.core.run.stage;

import dev.hapster.core.definition.JobDef.Mapping;
import java.util.Set;

/** Where a column comes from that no column of the file feeds, as people say it. */
public final class Origin {

    private Origin() {}

    /**
     * @param mapping null where the job does not speak of the column
     * @param beside facts that stand beside the table
     */
    public static String of(Mapping mapping, Set<String> beside) {
        if (mapping instanceof Mapping.Compute compute) {
            return "calculated: " + compute.value().text();
        }
        if (mapping instanceof Mapping.Lookup lookup) {
            return lookup.table().file() + ", by " + lookup.with().text();
        }
        if (mapping instanceof Mapping.Fact fact) {
            return beside.contains(fact.name())
                    ? fact.name() + " beside the table"
                    : "{" + fact.name() + "} of the file's name";
        }
        return mapping instanceof Mapping.Constant ? "always the same" : "nothing";
    }
}
