package dev.hapster.service.schedule;

import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.schedule.When;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.work.Stamp;
import java.io.IOException;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** What the jobs of a workspace say of when they run. Only files that changed are read again. Not thread-safe. */
final class Declarations {

    private final Workspace workspace;
    private final Map<String, Read> read = new HashMap<>();
    private Stamp values = Stamp.NONE;

    Declarations(Workspace workspace) {
        this.workspace = workspace;
    }

    /**
     * What a file said.
     *
     * @param when the last that could be read
     * @param trouble why it cannot be read now; null where it can
     */
    private record Read(Stamp stamp, Optional<When> when, String trouble) {}

    /** What jobs declare now, by name. A file that can be read no more is followed as it was before. */
    Map<String, When> now() throws IOException {
        Stamp shared = Stamp.of(workspace.folder().resolve("values.yaml"));
        if (!shared.equals(values)) {
            read.replaceAll((job, before) -> new Read(Stamp.NONE, before.when(), before.trouble()));
            values = shared;
        }
        Map<String, When> all = new TreeMap<>();
        var jobs = workspace.jobs();
        read.keySet().retainAll(jobs);
        for (String job : jobs) {
            Stamp stamp = Stamp.of(workspace.folder().resolve("jobs/" + job + ".yaml"));
            Read before = read.get(job);
            if (before == null || !before.stamp().equals(stamp)) {
                before = read(job, stamp, before == null ? Optional.empty() : before.when());
                read.put(job, before);
            }
            before.when().ifPresent(when -> all.put(job, when));
        }
        return all;
    }

    private Read read(String job, Stamp stamp, Optional<When> before) {
        try {
            return new Read(stamp, workspace.when(job), null);
        } catch (IOException | DefinitionException | UnknownNameException wrong) {
            return new Read(stamp, before, wrong.getMessage());
        }
    }

    /** Why what a job declares cannot be read; empty where it can. */
    Optional<String> trouble(String job) {
        return Optional.ofNullable(read.get(job)).map(Read::trouble);
    }
}
