package dev.hapster.service.calendar;

import dev.hapster.core.due.Amount;
import dev.hapster.core.due.ArrivalCalendar.Astray;
import dev.hapster.core.due.Cell;
import dev.hapster.core.due.Due;
import dev.hapster.core.due.Landed;
import dev.hapster.core.due.Landed.Became;
import dev.hapster.terminal.Screen;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** What a calendar says, in words. Times are those of the zone in which files are due. */
public final class CellWords {

    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm", Locale.ROOT);

    private final Due due;

    public CellWords(Due due) {
        this.due = due;
    }

    private String at(Instant moment) {
        return TIME.format(moment.atZone(due.zone()));
    }

    /** What there is to say of one source in one period; empty where that is nothing. */
    public String of(Cell cell) {
        List<String> said = new ArrayList<>();
        String by = cell.by().map(this::at).orElse("");
        switch (cell.state()) {
            case NONE -> {}
            case AWAITED -> said.add(some(cell) + "due by " + by);
            case MISSING ->
                said.add((cell.taken() > 0
                                ? "only " + cell.taken() + " of " + due.files().least() + " files"
                                : "nothing")
                        + " there by " + by);
            case LATE ->
                said.add(count(cell) + ", complete " + at(cell.complete().orElseThrow()) + ", "
                        + late(Duration.between(
                                cell.by().orElseThrow(), cell.complete().orElseThrow()))
                        + " late: due by " + by);
            case REJECTED -> {
                cell.files().stream()
                        .filter(Landed::isRejected)
                        .limit(3)
                        .forEach(file -> said.add(file.name() + (file.reason().isEmpty() ? "" : ": " + file.reason())));
                if (cell.taken() > 0) {
                    said.add(count(cell));
                }
            }
            case ARRIVED, UNUSUAL ->
                said.add(count(cell) + ", arrived " + at(cell.files().get(0).at()));
        }
        unusual(cell, said);
        if (cell.rejectedRows() > 0) {
            said.add(Screen.count(cell.rejectedRows(), "row") + " rejected");
        }
        cell.files().stream()
                .filter(file -> !file.isTaken() && !file.isRejected())
                .limit(3)
                .forEach(file -> said.add(file.name()
                        + (file.became() == Became.COPY
                                ? " has the same content as another file"
                                : " was taken out again")));
        return String.join("; ", said);
    }

    private void unusual(Cell cell, List<String> said) {
        boolean due = cell.by().isPresent() && cell.taken() > 0;
        if (due && cell.taken() > this.due.files().most()) {
            said.add("more files than usual (" + this.due.files() + ")");
        }
        Amount rows = this.due.rows();
        if (due && cell.state() != Cell.State.AWAITED && !rows.holds(cell.rows())) {
            said.add((cell.rows() > rows.most() ? "more" : "fewer") + " rows than usual (" + rows + ")");
        }
    }

    /** What is there of several files that are due together. */
    private String some(Cell cell) {
        return cell.taken() > 0 ? cell.taken() + " of " + due.files().least() + " files, " : "";
    }

    private static String count(Cell cell) {
        return Screen.count(cell.taken(), "file") + ", " + Screen.count(cell.rows(), "row");
    }

    private static String late(Duration duration) {
        long days = duration.toDays();
        long hours = duration.toHours();
        return days >= 2
                ? days + " days"
                : hours >= 1 ? Screen.count(hours, "hour") : Screen.count(Math.max(1, duration.toMinutes()), "minute");
    }

    /** Why a file belongs nowhere. */
    public static String of(Astray astray) {
        return switch (astray.why()) {
            case LACKS_PIECE ->
                "no name pattern of the job reads {" + astray.piece().orElseThrow() + "} in its name";
            case LIES_AHEAD -> "its name bears the date of a period that lies ahead";
            case OTHER_SOURCE -> "nothing is due of its source, nor of those of many other files";
        };
    }
}
