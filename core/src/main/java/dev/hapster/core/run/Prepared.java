package dev.hapster.core.run;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.Definitions;
import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.find.Finding;
import java.util.List;

/**
 * A job that may run: its definitions have no mistakes and its folders can be searched.
 *
 * @param finding what lay in its folders
 * @param rules   version of all rules that decide how a file's bytes become rows
 */
public record Prepared(JobDef job, DatasetDef dataset, Finding finding, String rules) {

    Prepared(JobDef job, DatasetDef dataset, Finding finding) {
        this(job, dataset, finding, Definitions.version(job.read() + " " + job.map() + " " + dataset.columns()
                + (job.usesFacts() ? job.find().stream().map(Place::rules).flatMap(List::stream).filter(FindRule.Take.class::isInstance).map(FindRule::words).toList() : "")));
    }
}
