package dev.hapster.core.shape;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.reason.FileRejectedException;
import java.util.List;

/**
 * Binds the headers of a job's files. Mostly one file has the header of the one before, which is bound once then.
 * Thread-safe.
 */
public final class Bindings {

    private final DatasetDef dataset;
    private final JobDef job;
    /** Null before the first. */
    private volatile Binding last;

    public Bindings(DatasetDef dataset, JobDef job) {
        this.dataset = dataset;
        this.job = job;
    }

    /**
     * @param names the file's columns
     * @throws FileRejectedException where two of the file's columns answer to one name
     */
    public Binding of(List<String> names) throws FileRejectedException {
        Binding known = last;
        if (known != null && known.names().equals(names)) {
            return known;
        }
        Binding fresh = Binding.of(dataset, job, names);
        last = fresh;
        return fresh;
    }
}
