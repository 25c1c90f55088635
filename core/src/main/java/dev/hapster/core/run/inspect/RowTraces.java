package dev.hapster.core.run.inspect;

import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.prepare.KnownFiles;
import dev.hapster.core.run.prepare.Preparation;
import dev.hapster.core.run.stage.Stages;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.UnknownNameException;
import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** What each step makes of single rows. Thread-safe. */
public final class RowTraces {

    private final Preparation preparation;
    private final KnownFiles known;
    private final Opener opener;
    private final Stages stages;
    private final RejectStore rejects;

    public RowTraces(Preparation preparation, KnownFiles known, Opener opener, Stages stages, RejectStore rejects) {
        this.preparation = preparation;
        this.known = known;
        this.opener = opener;
        this.stages = stages;
        this.rejects = rejects;
    }

    /**
     * What each step makes of a row of a file, whatever becomes of it.
     *
     * @param row which row of the file it is, counted from 1
     * @return empty where the file has no such row, or it has not been found yet
     */
    public Optional<Trace> of(PreparedJob prepared, Candidate file, long row)
            throws IOException, FileRejectedException, InterruptedException {
        Tracing tracing = new Tracing(prepared, opener);
        return stages.at(
                prepared, file, row, (says, header, batch, at) -> tracing.of(file, says, header, batch, at, row));
    }

    /**
     * What each step makes of a row that a run rejected, by the rules as they are now.
     *
     * @param path of the file, as the run's rejects name it
     * @param source its identity within the job
     * @param row which row of the file it is, counted from 1
     * @param header the file's columns as they were then
     * @return empty where the run rejected no such row
     * @throws FileRejectedException where what is left of the file is not enough to tell
     */
    public Optional<Trace> of(String jobName, long run, String path, String source, long row, List<String> header)
            throws IOException, DefinitionException, UnknownNameException, FileRejectedException {
        List<RejectStore.Reject> kept =
                rejects.read(run, reject -> reject.path().equals(path) && reject.row() == row, 0, 1);
        if (kept.isEmpty()) {
            return Optional.empty();
        }
        PreparedJob prepared = preparation.prepare(jobName, Map.of());
        return Optional.of(new Tracing(prepared, opener).of(known.present(prepared, source), kept.get(0), header));
    }
}
