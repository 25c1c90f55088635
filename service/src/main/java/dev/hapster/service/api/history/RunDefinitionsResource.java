package dev.hapster.service.api.history;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.github.difflib.DiffUtils;
import com.github.difflib.UnifiedDiffUtils;
import dev.hapster.core.definition.Values;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.core.workspace.Workspace.Kind;
import dev.hapster.service.api.Views;
import dev.hapster.service.api.Views.CommitView;
import dev.hapster.service.api.call.NamedRun;
import dev.hapster.service.catalogue.StoredDefinitions;
import dev.hapster.service.catalogue.StoredRuns;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.history.Repository;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;
import org.jboss.resteasy.reactive.RestQuery;

/** By which definitions runs went, and what changed in them since. */
@Path("/api/v1/runs/{run}/definitions")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "runs")
@Blocking
public class RunDefinitionsResource {

    private static final int LINES_AROUND = 3;

    private final Workspace workspace;
    private final StoredRuns records;
    private final StoredDefinitions definitions;
    private final Repository repository;

    RunDefinitionsResource(
            Workspace workspace, StoredRuns records, StoredDefinitions definitions, Repository repository) {
        this.workspace = workspace;
        this.records = records;
        this.definitions = definitions;
        this.repository = repository;
    }

    /**
     * A definition at one time.
     *
     * @param text the file as it was written
     * @param trouble why the text is not known; absent where it is
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record DefinitionSide(String version, String text, String trouble) {
        static final DefinitionSide NONE = new DefinitionSide(null, null, null);

        static DefinitionSide of(String text) {
            return new DefinitionSide(Definitions.version(text), text, null);
        }

        static DefinitionSide unknown(String why) {
            return new DefinitionSide(null, null, why);
        }
    }

    /**
     * A definition at two times.
     *
     * @param file its path in the workspace, at the later one
     * @param kind job or dataset
     * @param same whether it says the same at both, letter by letter
     * @param changes the differing lines with those around them, in the unified form of diff; none where they are the
     *     same, or one of them is not known
     */
    public record DefinitionChange(
            String file, String kind, boolean same, DefinitionSide before, DefinitionSide now, List<String> changes) {}

    /**
     * A value that was put in for a name in the job's file, and that differs.
     *
     * @param before absent where the name was not used then
     * @param now absent where the name is not used any more
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ValueChange(String name, Values.Used before, Values.Used now) {}

    /**
     * When definitions were as they were.
     *
     * @param run absent for this moment
     * @param commit of the workspace's repository; absent where it lies in none
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record DefinitionMoment(Long run, CommitView commit) {}

    /** What changed between two moments. */
    public record DefinitionChanges(
            DefinitionMoment before, DefinitionMoment now, List<DefinitionChange> files, List<ValueChange> values) {}

    /** What a moment knows of a run's definitions. */
    private record Known(
            DefinitionMoment moment,
            Map<Kind, String> names,
            Map<Kind, DefinitionSide> sides,
            Optional<List<Values.Used>> values) {}

    /**
     * By which definitions a run went, and what changed in them since.
     *
     * @param with number of another run with which they are compared; where it is not said, with those of this moment
     */
    @GET
    public DefinitionChanges changes(long run, @RestQuery Long with) throws IOException {
        RunRecord record = record(run);
        if (with == null) {
            return changes(of(record), now(record));
        }
        RunRecord other = record(with);
        return with < run ? changes(of(other), of(record)) : changes(of(record), of(other));
    }

    private RunRecord record(long run) {
        RunRecord record = NamedRun.of(run, records);
        if (!record.kind.equals(RunRecord.RUN) && !record.kind.equals(RunRecord.RETRY)) {
            throw new BadRequestException("Entry " + run + " of the history is no run (" + record.kind + ")");
        }
        return record;
    }

    private Known of(RunRecord run) {
        Map<Kind, DefinitionSide> sides = new LinkedHashMap<>();
        sides.put(Kind.JOB, side(Kind.JOB, run.job, run.jobVersion));
        sides.put(Kind.DATASET, side(Kind.DATASET, run.dataset, run.datasetVersion));
        return new Known(
                new DefinitionMoment(run.id, Views.commit(run)),
                Map.of(Kind.JOB, run.job, Kind.DATASET, run.dataset),
                sides,
                Optional.of(Views.used(run.values)));
    }

    private DefinitionSide side(Kind kind, String name, String version) {
        if (version.isEmpty()) {
            return DefinitionSide.unknown("the run could not begin, and it is not known what the file said");
        }
        return definitions
                .text(kind, name, version)
                .map(text -> new DefinitionSide(version, text, null))
                .orElseGet(() -> DefinitionSide.unknown("the catalogue does not know what version " + version
                        + " said; it was put together again from the store"));
    }

    /** The definitions of a run as they are now; its job may load into another dataset by now. */
    private Known now(RunRecord run) throws IOException {
        Map<Kind, DefinitionSide> sides = new LinkedHashMap<>();
        Optional<List<Values.Used>> values = Optional.empty();
        String dataset = run.dataset;
        try {
            dataset = workspace.into(run.job);
            values = Optional.of(workspace.job(run.job).values());
        } catch (DefinitionException | UnknownNameException wrong) {
            values = Optional.empty(); // what is wrong stands in the text, which is shown
        }
        Map<Kind, String> names = Map.of(Kind.JOB, run.job, Kind.DATASET, dataset);
        Map<String, String> texts = new LinkedHashMap<>();
        for (Kind kind : List.of(Kind.JOB, Kind.DATASET)) {
            DefinitionSide side = current(kind, names.get(kind));
            sides.put(kind, side);
            if (side.text() != null) {
                texts.put(Workspace.path(kind, names.get(kind)), side.text());
            }
        }
        CommitView commit = repository
                .commit(texts)
                .map(one -> new CommitView(one.id(), one.uncommitted()))
                .orElse(null);
        return new Known(new DefinitionMoment(null, commit), names, sides, values);
    }

    private DefinitionSide current(Kind kind, String name) throws IOException {
        try {
            return workspace.text(kind, name).map(DefinitionSide::of).orElse(DefinitionSide.NONE);
        } catch (DefinitionException unreadable) {
            return DefinitionSide.unknown(unreadable.getMessage());
        }
    }

    private static DefinitionChanges changes(Known before, Known now) {
        List<DefinitionChange> files = new ArrayList<>();
        for (Kind kind : List.of(Kind.JOB, Kind.DATASET)) {
            DefinitionSide then = before.sides.get(kind);
            DefinitionSide after = now.sides.get(kind);
            String file = Workspace.path(kind, now.names.get(kind));
            boolean same = then.text() != null && then.text().equals(after.text());
            files.add(new DefinitionChange(
                    file,
                    kind.word(),
                    same,
                    then,
                    after,
                    same ? List.of() : lines(Workspace.path(kind, before.names.get(kind)), then, file, after)));
        }
        List<ValueChange> values = before.values.isPresent() && now.values.isPresent()
                ? values(before.values.get(), now.values.get())
                : List.of();
        return new DefinitionChanges(before.moment, now.moment, files, values);
    }

    private static List<String> lines(String then, DefinitionSide before, String file, DefinitionSide now) {
        if (before.text() == null || now.text() == null) {
            return List.of();
        }
        List<String> old = before.text().lines().toList();
        List<String> lines = UnifiedDiffUtils.generateUnifiedDiff(
                then, file, old, DiffUtils.diff(old, now.text().lines().toList()), LINES_AROUND);
        return lines.isEmpty() ? List.of("(only the ends of lines differ)") : lines;
    }

    private static List<ValueChange> values(List<Values.Used> before, List<Values.Used> now) {
        Map<String, Values.Used> then = byName(before);
        Map<String, Values.Used> after = byName(now);
        Map<String, Values.Used> all = new LinkedHashMap<>(then);
        after.forEach(all::putIfAbsent);
        return all.keySet().stream()
                .filter(name -> !Objects.equals(value(then.get(name)), value(after.get(name))))
                .map(name -> new ValueChange(name, then.get(name), after.get(name)))
                .toList();
    }

    private static Map<String, Values.Used> byName(List<Values.Used> values) {
        Map<String, Values.Used> byName = new LinkedHashMap<>();
        values.forEach(value -> byName.put(value.name(), value));
        return byName;
    }

    private static String value(Values.Used value) {
        return value == null ? null : value.value();
    }
}
