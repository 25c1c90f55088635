package dev.hapster.service.calendar;

import dev.hapster.core.calendar.ArrivedFiles;
import dev.hapster.core.calendar.DueProposal;
import dev.hapster.core.catalogue.History;
import dev.hapster.core.definition.parse.Definitions.Expected;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.due.ArrivalCalendar;
import dev.hapster.core.due.Due;
import dev.hapster.core.due.Landed;
import dev.hapster.core.find.Roots;
import dev.hapster.core.workspace.Sources;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.catalogue.RunTimes;
import dev.hapster.service.catalogue.RunTimes.Stamp;
import dev.hapster.service.catalogue.StoredCatalogue;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.lang.ref.SoftReference;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.ToIntFunction;

/**
 * What is due for jobs, and what arrived. The log is only gone through again where a run or an act has ended.
 * Thread-safe.
 */
@ApplicationScoped
public class Calendars {

    private final Workspace workspace;
    private final Roots roots;
    private final StoredCatalogue catalogue;
    private final RunTimes times;
    private final Clock clock;
    /** What was found out last; let go of where memory is short. */
    private final Map<String, SoftReference<Known>> known = new ConcurrentHashMap<>();

    Calendars(Workspace workspace, Roots roots, StoredCatalogue catalogue, RunTimes times, Clock clock) {
        this.workspace = workspace;
        this.roots = roots;
        this.catalogue = catalogue;
        this.times = times;
        this.clock = clock;
    }

    /** What arrived for a job, and what that was found out from. */
    private record Known(String text, Due due, Stamp stamp, List<Landed> landed, Optional<Instant> since) {}

    /**
     * The calendar of a job; empty where its file does not say what is due.
     *
     * @param periods how many are shown at most, by what the file says
     * @throws DefinitionException where what the file says of it cannot be read
     */
    public Optional<ArrivalCalendar> of(String job, ToIntFunction<Due> periods)
            throws IOException, DefinitionException, UnknownNameException {
        String text = workspace.jobText(job);
        Expected expected = workspace.expected(job, text);
        if (expected.due().isEmpty()) {
            known.remove(job);
            return Optional.empty();
        }
        Due due = expected.due().get();
        int count = periods.applyAsInt(due);
        Known now = known(job, text, expected, due);
        return Optional.of(ArrivalCalendar.of(due, now.landed(), now.since(), clock.instant(), count));
    }

    private Known known(String job, String text, Expected expected, Due due)
            throws IOException, DefinitionException, UnknownNameException {
        Stamp stamp = times.stamp();
        SoftReference<Known> kept = known.get(job);
        Known before = kept == null ? null : kept.get();
        if (before != null
                && before.text().equals(text)
                && before.due().equals(due)
                && before.stamp().equals(stamp)) {
            return before;
        }
        Map<Long, Instant> began = times.began(job);
        Known fresh = new Known(
                text,
                due,
                stamp,
                new ArrivedFiles(expected.places(), new Sources(workspace.folder(), roots, expected.places()))
                        .of(history(job), began, due),
                began.values().stream().min(Instant::compareTo));
        known.put(job, new SoftReference<>(fresh));
        return fresh;
    }

    private History history(String job) throws IOException, DefinitionException, UnknownNameException {
        String into = workspace.into(job);
        return into.isEmpty() ? History.EMPTY : catalogue.history(into, Optional.of(job));
    }

    /** What a job's file may say of what is due, as it was up to now. */
    public DueProposal.Proposed proposed(String job) throws IOException, DefinitionException, UnknownNameException {
        String text = workspace.jobText(job);
        Expected expected = workspace.expected(job, text);
        Map<Long, Instant> began = times.began(job);
        ArrivedFiles files =
                new ArrivedFiles(expected.places(), new Sources(workspace.folder(), roots, expected.places()));
        return DueProposal.of(expected.places().values(), files, history(job), began, clock.instant());
    }
}
