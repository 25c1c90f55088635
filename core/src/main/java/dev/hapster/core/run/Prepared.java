package dev.hapster.core.run;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.Definitions;
import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.find.Finding;
import dev.hapster.core.read.Header;
import java.util.List;
import java.util.Optional;

/**
 * A job that may run: its definitions have no mistakes and its folders can be searched.
 *
 * @param finding what lay in its folders
 * @param shared  the header that one file has for all, where the job says so and a file has it
 * @param rules   version of all rules that decide how a file's bytes become rows: of those for reading, a dash, and of the others
 */
public record Prepared(JobDef job, DatasetDef dataset, Finding finding, Optional<Header> shared, String rules) {

    Prepared(JobDef job, DatasetDef dataset, Finding finding, Optional<Header> shared) {
        this(job, dataset, finding, shared, reading(job, shared) + "-" + Definitions.version(job.map() + " " + job.handling().rowRules() + dataset.columns()
                + (job.usesFacts() ? job.find().stream().map(Place::rules).flatMap(List::stream).filter(FindRule.Take.class::isInstance).map(FindRule::words).toList() : "")));
    }

    private static String reading(JobDef job, Optional<Header> shared) {
        return Definitions.version(job.read() + shared.map(Header::original).orElse(""));
    }

    /** Whether rows are told apart and numbered as they were under other rules. */
    boolean readsAs(String others) {
        int dash = rules.indexOf('-');
        return others.startsWith(rules.substring(0, dash + 1));
    }
}
