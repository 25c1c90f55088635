package dev.hapster.core.workspace;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Finding;
import dev.hapster.core.read.record.Header;
import java.util.Optional;

/**
 * A job that may run: its definitions have no mistakes and its folders can be searched.
 *
 * @param finding what lay in its folders
 * @param shared the header that one file has for all, where the job says so and a file has it, or had it
 * @param rules version of all rules that decide how a file's bytes become rows: of those for reading, a dash, and of
 *     the others ({@link RulesVersion})
 * @param sources by what its files are known again
 */
public record PreparedJob(
        JobDef job, DatasetDef dataset, Finding finding, Optional<Header> shared, String rules, Sources sources) {

    public PreparedJob(JobDef job, DatasetDef dataset, Finding finding, Optional<Header> shared, Sources sources) {
        this(
                job,
                dataset,
                finding,
                shared,
                RulesVersion.rows(
                        job, dataset.columns(), shared.map(Header::original).orElse("")),
                sources);
    }

    /** How people call one of its files. */
    public String name(Candidate file) {
        return sources.name(file);
    }

    /** Whether rows are told apart and numbered as they were under other rules. */
    public boolean readsAs(String others) {
        int dash = rules.indexOf('-');
        return others.startsWith(rules.substring(0, dash + 1));
    }
}
