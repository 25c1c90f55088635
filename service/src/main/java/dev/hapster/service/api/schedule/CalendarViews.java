package dev.hapster.service.api.schedule;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.definition.explain.DueWords;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.due.ArrivalCalendar;
import dev.hapster.core.due.Cell;
import dev.hapster.core.due.Cell.State;
import dev.hapster.core.due.Due;
import dev.hapster.core.due.Each;
import dev.hapster.core.due.Landed;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.calendar.Calendars;
import dev.hapster.service.calendar.CellWords;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.ws.rs.BadRequestException;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Makes calendars ready to be shown. */
@ApplicationScoped
class CalendarViews {

    private static final int MOST_PERIODS = 1000;
    private static final int MOST_CELLS = 50_000;
    private static final int MOST_NAMES = 20;
    private static final int MOST_ASTRAY = 100;

    private final Workspace workspace;
    private final Calendars calendars;

    CalendarViews(Workspace workspace, Calendars calendars) {
        this.workspace = workspace;
        this.calendars = calendars;
    }

    /**
     * A file that arrived.
     *
     * @param became taken, rejected, copy or taken_out
     * @param run the run that read it
     * @param says why it belongs to no period and no source; absent where it does
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ArrivedFile(
            String name, Instant at, String became, long run, long rows, long rejected, String says) {}

    /**
     * One source in one period.
     *
     * @param state none, awaited, arrived, unusual, late, rejected or missing
     * @param by when it is late; absent where nothing is due
     * @param files how many were taken
     * @param rows that they brought
     * @param rejected rows of them that are rejected
     * @param says all of it in words; empty where there is nothing to say
     * @param arrived the files, the earliest first; the first 20
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ArrivalCell(
            String state, Instant by, long files, long rows, long rejected, String says, List<ArrivedFile> arrived) {}

    /**
     * One source.
     *
     * @param name what tells it from the job's other sources; empty where there is one
     * @param due whether its files are due; otherwise some arrived all the same
     * @param cells one for each period
     */
    public record ArrivalSource(String name, Map<String, String> facts, boolean due, List<ArrivalCell> cells) {}

    /**
     * The calendar of a job.
     *
     * @param declared whether its file says what is due
     * @param words what it says, in sentences
     * @param each day, week, month, quarter or year; absent where nothing is due
     * @param zone time zone of periods and times; absent where nothing is due
     * @param periods their names, the earliest first
     * @param counts how many cells there are of each state
     * @param astray files that belong to no period or no source; the first 100
     * @param astrayFiles how many there are
     * @param findings whether somebody should look at it
     * @param trouble why there is no calendar, though the file may say what is due; absent where there is one
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record CalendarView(
            String job,
            String dataset,
            boolean declared,
            List<String> words,
            String each,
            String zone,
            List<String> periods,
            List<ArrivalSource> sources,
            Map<String, Long> counts,
            List<ArrivedFile> astray,
            long astrayFiles,
            boolean findings,
            String trouble) {}

    static void check(Integer periods) {
        if (periods != null && (periods < 1 || periods > MOST_PERIODS)) {
            throw new BadRequestException("periods must be from 1 to " + MOST_PERIODS);
        }
    }

    /** @param periods how many are shown at most; null for as many as is usual */
    CalendarView of(String job, Integer periods) throws IOException, DefinitionException, UnknownNameException {
        String dataset = workspace.into(job);
        try {
            return calendars
                    .of(job, due -> count(job, due, periods))
                    .map(calendar -> view(job, dataset, calendar))
                    .orElseGet(() -> none(job, dataset, DueWords.of(Optional.empty()), null));
        } catch (DefinitionException wrong) {
            return none(job, dataset, List.of(), wrong.getMessage());
        }
    }

    private static int count(String job, Due due, Integer periods) {
        int count = periods == null ? usual(due.each()) : periods;
        int combinations = due.combinations().size();
        if ((long) count * combinations > MOST_CELLS) {
            throw new BadRequestException("For " + job + ", files of " + combinations + " combinations are due in each "
                    + due.each().word() + "; at most " + MOST_CELLS / combinations
                    + " periods of them can be shown at once");
        }
        return count;
    }

    private static int usual(Each each) {
        return switch (each) {
            case DAY -> 31;
            case WEEK -> 26;
            case MONTH, QUARTER -> 12;
            case YEAR -> 10;
        };
    }

    private static CalendarView none(String job, String dataset, List<String> words, String trouble) {
        return new CalendarView(
                job,
                dataset,
                trouble != null,
                words,
                null,
                null,
                List.of(),
                List.of(),
                Map.of(),
                List.of(),
                0,
                trouble != null,
                trouble);
    }

    /** All jobs of which the file says what is due, or says it in a way that cannot be read. */
    List<CalendarView> all(String dataset, Integer periods) throws IOException, DefinitionException {
        List<CalendarView> all = new ArrayList<>();
        for (String job : workspace.jobs()) {
            try {
                if (dataset == null || dataset.equals(workspace.into(job))) {
                    CalendarView view = of(job, periods);
                    if (view.declared()) {
                        all.add(view);
                    }
                }
            } catch (UnknownNameException gone) {
                continue; // deleted meanwhile
            } catch (IOException unreadable) {
                all.add(none(job, "", List.of(), "its file cannot be read: " + unreadable.getMessage()));
            }
        }
        return all;
    }

    private static CalendarView view(String job, String dataset, ArrivalCalendar calendar) {
        Due due = calendar.due();
        CellWords words = new CellWords(due);
        Map<String, Long> counts = new TreeMap<>();
        List<ArrivalSource> sources = calendar.sources().stream()
                .map(source -> new ArrivalSource(
                        String.join(", ", source.facts().values()),
                        source.facts(),
                        source.due(),
                        source.cells().stream()
                                .map(cell -> {
                                    if (cell.state() != State.NONE) {
                                        counts.merge(cell.state().word(), 1L, Long::sum);
                                    }
                                    return cell(cell, words);
                                })
                                .toList()))
                .toList();
        return new CalendarView(
                job,
                dataset,
                true,
                DueWords.of(Optional.of(due)),
                due.each().word(),
                due.zone().getId(),
                calendar.periods().stream().map(due.each()::name).toList(),
                sources,
                counts,
                calendar.astray().stream()
                        .limit(MOST_ASTRAY)
                        .map(astray -> file(astray.file(), CellWords.of(astray)))
                        .toList(),
                calendar.astray().size(),
                calendar.hasFindings(),
                null);
    }

    private static ArrivalCell cell(Cell cell, CellWords words) {
        return new ArrivalCell(
                cell.state().word(),
                cell.by().orElse(null),
                cell.taken(),
                cell.rows(),
                cell.rejectedRows(),
                words.of(cell),
                cell.files().stream()
                        .limit(MOST_NAMES)
                        .map(file -> file(file, null))
                        .toList());
    }

    private static ArrivedFile file(Landed file, String says) {
        return new ArrivedFile(
                file.name(), file.at(), file.became().word(), file.run(), file.rows(), file.rejected(), says);
    }
}
