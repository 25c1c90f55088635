package dev.hapster.terminal;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** Prints a run or a trial: the files, the balance, the reasons, and what to do next. */
public final class Report {

    private static final List<String> OUTCOMES =
            List.of("loaded", "replaced", "unchanged", "rejected", "waiting", "notReached");

    private static final int MOST_NAMED = 5;

    /** Files of which all are shown, where there are no more than that. */
    private static final int MANY = 40;

    /** How much is shown. */
    public enum Detail {
        /** Two lines: the numbers, and how it ended. */
        QUIET,
        /** Of very many files those that need attention. */
        USUAL,
        /** Every file. */
        ALL
    }

    private final Screen screen;
    private final Detail detail;

    public Report(Screen screen) {
        this(screen, Detail.USUAL);
    }

    public Report(Screen screen, Detail detail) {
        this.screen = screen;
        this.detail = detail;
    }

    /** @return the exit status that the result stands for */
    public int print(JsonNode run, JsonNode files, JsonNode reasons) {
        boolean trial = !run.has("run");
        if (detail == Detail.QUIET) {
            screen.line(run.path("job").asText()
                    + (trial ? "" : ", run " + run.path("run").asLong()) + ": "
                    + Screen.count(
                            run.path("files").path("found").asLong(),
                            run.path("files").path("noun").asText("file"))
                    + " found, " + Screen.count(run.path("rows").path("loaded").asLong(), "row") + " loaded, "
                    + Screen.grouped(run.path("rows").path("rejected").asLong()) + " rejected");
            return verdict(run, reasons, trial);
        }
        String title = run.path("job").asText() + " → " + run.path("into").asText();
        String kind = run.path("kind").asText("run");
        String label = trial
                ? "trial, nothing written"
                : kind.equals("retry")
                        ? "run " + run.path("run").asLong() + ", a retry of run "
                                + run.path("ofRun").asLong()
                        : kind.equals("run")
                                ? "run " + run.path("run").asLong()
                                : "entry " + run.path("run").asLong() + ", " + kind
                                        + (run.has("ofRun")
                                                ? " of run " + run.path("ofRun").asLong()
                                                : "");
        int gap = Math.max(2, Math.min(screen.width(), 100) - title.length() - label.length());
        screen.line(screen.strong(title) + " ".repeat(gap) + label);
        if (run.hasNonNull("label")) {
            screen.line("label  " + Screen.visible(run.path("label").asText()));
        }
        if (run.has("undoneBy")) {
            screen.line(
                    screen.bad("undone") + " by entry " + run.path("undoneBy").asLong());
        }
        if (run.has("start")) {
            screen.line(began(run.path("start")));
        }
        if (!trial && run.path("state").asText().equals("failed") && !run.has("startedAt")) {
            screen.paragraph(
                    "", screen.bad("failed") + ": " + run.path("failure").asText());
            again(run);
            return ExitStatus.FAILED;
        }
        if (!kind.equals("run") && !kind.equals("retry") && !trial) {
            run.path("notes").forEach(note -> screen.paragraph("  ", note.asText()));
            return ExitStatus.DONE;
        }
        if (!run.path("values").isEmpty()) {
            screen.paragraph("with ", values(run.path("values")));
        }
        List<JsonNode> shown = shown(files);
        screen.table(files(shown));
        if (shown.size() < files.size()) {
            screen.line("  and " + Screen.grouped(files.size() - shown.size()) + " more, of which nothing was rejected"
                    + " (--files shows them)");
        }
        routed(files, trial ? "would be " : "");
        balance(run, files, trial);
        reasons(run, reasons);
        run.path("notes").forEach(note -> screen.paragraph("note: ", note.asText()));
        return verdict(run, reasons, trial);
    }

    private static String began(JsonNode start) {
        long missed = start.path("missed").asLong();
        long again = start.path("again").asLong();
        return switch (start.path("by").asText()) {
                    case "time" ->
                        "started by the clock, due "
                                + Screen.time(start.path("due").asText())
                                + (missed > 0 ? "; it makes up for " + Screen.count(missed, "missed time") : "");
                    case "after" -> "started after run " + start.path("run").asLong();
                    case "fault" ->
                        "tried again, after run " + start.path("run").asLong() + " failed";
                    default -> "started because files arrived";
                }
                + (again > 0 ? "; tried " + Screen.count(again + 1, "time") + " with the same result" : "");
    }

    /** Whether a file counts as loaded or replaced though every row of it was rejected. */
    private static boolean isRowless(JsonNode file) {
        String outcome = file.path("outcome").asText();
        return (outcome.equals("loaded") || outcome.equals("replaced"))
                && file.path("rejected").asLong() > 0
                && file.path("loaded").asLong() == 0;
    }

    /** The files to be shown: of very many only those in which something is wrong, these first. */
    private List<JsonNode> shown(JsonNode files) {
        List<JsonNode> all = new ArrayList<>();
        files.forEach(all::add);
        if (detail == Detail.ALL || all.size() <= MANY) {
            return all;
        }
        List<JsonNode> wrong = new ArrayList<>();
        for (JsonNode file : all) {
            boolean whole = List.of("loaded", "replaced", "unchanged")
                    .contains(file.path("outcome").asText());
            if (!whole || file.path("rejected").asLong() > 0) {
                wrong.add(file);
            }
        }
        wrong.sort(Comparator.comparing((JsonNode file) -> OUTCOMES.indexOf("rejected")
                        - OUTCOMES.indexOf(file.path("outcome").asText()))
                .thenComparing(file -> -file.path("rejected").asLong()));
        return wrong.size() <= MANY ? wrong : wrong.subList(0, MANY);
    }

    private Table files(List<JsonNode> files) {
        Table table = new Table("  ")
                .text("")
                .number("")
                .number("")
                .number("")
                .number("")
                .prose("");
        for (JsonNode file : files) {
            String outcome = file.path("outcome").asText();
            boolean read = outcome.equals("loaded") || outcome.equals("replaced");
            String remark =
                    switch (outcome) {
                        case "loaded" -> isRowless(file) ? "no row of it was loaded" : "";
                        case "unchanged" ->
                            "unchanged since run " + file.path("sinceRun").asLong();
                        case "rejected" ->
                            "rejected"
                                    + (file.has("sinceRun")
                                            ? " as in run "
                                                    + file.path("sinceRun").asLong()
                                            : "") + ": " + file.path("sentence").asText();
                        case "waiting" -> "waiting: " + file.path("sentence").asText();
                        default -> outcome;
                    };
            List<String> notes = new ArrayList<>();
            file.path("notes").forEach(note -> notes.add(note.asText()));
            long left = file.path("aside").asLong() + file.path("repeated").asLong();
            table.row(
                    file.path("name").asText(),
                    read ? Screen.grouped(file.path("read").asLong()) + " read" : "–",
                    read ? Screen.grouped(file.path("loaded").asLong()) + " loaded" : "–",
                    read && left > 0
                            ? Screen.grouped(left)
                                    + (file.path("repeated").asLong() == 0
                                            ? " set aside"
                                            : file.path("aside").asLong() == 0 ? " repeated" : " left out")
                            : "",
                    read && file.path("rejected").asLong() > 0
                            ? Screen.grouped(file.path("rejected").asLong()) + " rejected"
                            : "",
                    remark + (remark.isEmpty() || notes.isEmpty() ? "" : "; ") + String.join("; ", notes));
        }
        return table;
    }

    private void balance(JsonNode run, JsonNode each, boolean trial) {
        JsonNode files = run.path("files");
        long rowless = 0;
        for (JsonNode file : each) {
            rowless += isRowless(file) ? 1 : 0;
        }
        JsonNode rows = run.path("rows");
        JsonNode dataset = run.path("dataset");
        List<String> parts = new ArrayList<>();
        for (String outcome : OUTCOMES) {
            if (files.path(outcome).asLong() > 0) {
                parts.add(Screen.grouped(files.path(outcome).asLong()) + " "
                        + (outcome.equals("notReached") ? "not reached" : outcome));
            }
        }
        if (rowless > 0) {
            int last =
                    files.path("loaded").asLong() > 0 && files.path("replaced").asLong() > 0 ? 1 : 0;
            parts.set(last, parts.get(last) + " (" + Screen.grouped(rowless) + " of them without a row)");
        }
        String found = Screen.grouped(files.path("found").asLong());
        String read = Screen.grouped(rows.path("read").asLong());
        int width = Math.max(found.length(), read.length());
        Sources sources = Sources.of(each);
        String counted = String.format(Locale.ROOT, "%-7s", Screen.plural(sources.noun()));
        sum(
                counted + pad(found, width) + " found",
                (parts.isEmpty() ? "no files found" : String.join(" + ", parts))
                        + (sources.areFiles() ? "" : ", in " + Screen.count(sources.files(), "file")),
                files.path("holds").asBoolean());
        String aside = part(rows, "aside", "set aside") + part(rows, "repeated", "repeated");
        sum(
                String.format(Locale.ROOT, "%-7s", "rows") + pad(read, width) + " read",
                Screen.grouped(rows.path("loaded").asLong()) + " loaded + " + aside
                        + Screen.grouped(rows.path("rejected").asLong()) + " rejected",
                rows.path("holds").asBoolean());
        String after = Screen.count(dataset.path("rows").asLong(), "row") + " in "
                + Screen.count(dataset.path("parts").asLong(), "part");
        String differs = dataset.path("holds").asBoolean()
                ? ""
                : ", but the catalogue counts "
                        + Screen.grouped(dataset.path("partsRows").asLong());
        sum(
                run.path("into").asText() + (trial ? " (as it is)" : ""),
                after + differs,
                dataset.path("holds").asBoolean());
    }

    private static String part(JsonNode rows, String key, String word) {
        return rows.path(key).asLong() == 0 ? "" : Screen.grouped(rows.path(key).asLong()) + " " + word + " + ";
    }

    private void sum(String left, String right, boolean holds) {
        String line = String.format(Locale.ROOT, "%-22s =  %s", left, right);
        String verdict = holds ? "holds" : "DOES NOT HOLD";
        String gap = " ".repeat(Math.max(2, Math.min(screen.width(), 100) - line.length() - verdict.length()));
        screen.line(line + gap + (holds ? screen.good(verdict) : screen.bad(verdict)));
    }

    private static String pad(String number, int width) {
        return " ".repeat(width - number.length()) + number;
    }

    private void reasons(JsonNode run, JsonNode reasons) {
        if (run.has("asideFile")) {
            screen.line("set aside  " + here(run.path("asideFile").asText()));
            screen.line(screen.faint("  hapster aside " + run.path("run").asLong()));
        }
        if (reasons.isEmpty()) {
            screen.line("rejected  nothing");
            return;
        }
        screen.line(screen.bad("rejected"));
        print(reasons, false);
        if (run.has("rejectsFile")) {
            screen.line("  " + here(run.path("rejectsFile").asText()));
        }
        if (run.has("run")) {
            screen.line(screen.faint("  hapster rejects " + run.path("run").asLong() + " --explain "
                    + reasons.get(0).path("code").asText()));
        }
    }

    /** Reasons grouped: how many, which, where the first one is, and in a second line what is wrong there. */
    public void print(JsonNode reasons, boolean withJob) {
        Table table =
                new Table("  ").number("").text("").text("").text("").text("").prose("");
        List<String> sentences = new ArrayList<>();
        List<List<String>> gone = new ArrayList<>();
        for (JsonNode reason : reasons) {
            boolean file = reason.path("level").asText().equals("file");
            JsonNode sample = reason.path("samples").path(0);
            long more = reason.path("count").asLong() - 1;
            String where = sample.path("file").asText()
                    + (sample.has("line") ? ":" + sample.path("line").asLong() : "");
            table.row(
                    reason.path("count").asLong(),
                    (file ? "file" : "row") + (more > 0 ? "s" : ""),
                    reason.path("code").asText(),
                    withJob ? reason.path("job").asText() : "",
                    reason.path("column").asText(),
                    where + (more > 0 ? " and " + Screen.grouped(more) + " more" : ""));
            sentences.add(sample.path("sentence").asText());
            List<String> names = new ArrayList<>();
            reason.path("gone").forEach(name -> names.add(name.asText()));
            gone.add(names);
        }
        List<String> lines = table.lines(screen.limit());
        for (int i = 0; i < lines.size(); i++) {
            screen.line(lines.get(i));
            screen.line("             " + screen.fitting(sentences.get(i), 13));
            if (!gone.get(i).isEmpty()) {
                String job = reasons.get(i).path("job").asText();
                String first = gone.get(i).get(0);
                screen.line("             gone: " + screen.fitting(String.join(", ", gone.get(i)), 19));
                screen.line(screen.faint(
                        "             hapster dismiss " + job + " \"" + first + "\" --because \"the file is gone\""));
            }
        }
    }

    /** What was done with the files afterwards, those of one folder together. */
    private void routed(JsonNode files, String would) {
        Map<String, List<String>> groups = new LinkedHashMap<>();
        for (JsonNode file : files) {
            JsonNode after = file.path("after");
            String group = afterwards(after);
            if (!group.isEmpty()) {
                List<String> names = groups.computeIfAbsent(group, key -> new ArrayList<>());
                String name = after.has("to")
                        ? name(after.path("to").asText())
                        : file.path("name").asText();
                if (!names.contains(name)) {
                    names.add(name);
                }
            }
        }
        groups.forEach((group, names) -> screen.paragraph(
                "",
                would + group + ": " + String.join(", ", names.subList(0, Math.min(names.size(), MOST_NAMED)))
                        + (names.size() > MOST_NAMED ? " and " + (names.size() - MOST_NAMED) + " more" : "")));
    }

    /** What was done with a file; of one that was taken elsewhere only the folder is named. Empty where it stays. */
    public static String afterwards(JsonNode after) {
        String to = after.path("to").asText("");
        return switch (after.path("action").asText("")) {
            case "move" -> "moved to " + here(folder(to));
            case "copy" -> "copied to " + here(folder(to));
            default -> after.path("words").asText("");
        };
    }

    /** The folder of a path of the service, which may be an address on another machine. */
    private static String folder(String path) {
        return path.substring(0, path.length() - name(path).length()).replaceFirst("(?<=.)[/\\\\]$", "");
    }

    private static String name(String path) {
        return path.substring(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1);
    }

    /** A path as it can be opened from here: relative where it lies below this folder. */
    public static String here(String path) {
        if (path.contains("://")) {
            return path;
        }
        Path absolute = Path.of(path);
        Path folder = Path.of("").toAbsolutePath();
        return absolute.startsWith(folder) ? folder.relativize(absolute).toString() : path;
    }

    /** The exit status that a run, or a trial, with these reasons stands for. */
    public static int status(JsonNode run, JsonNode reasons) {
        return !run.path("state").asText().equals("finished")
                ? ExitStatus.FAILED
                : reasons.isEmpty() && !isNothing(run) ? ExitStatus.DONE : ExitStatus.FINDINGS;
    }

    /** Whether a run, which should find files, found none. */
    private static boolean isNothing(JsonNode run) {
        return List.of("run", "trial").contains(run.path("kind").asText("run"))
                && run.path("files").path("found").asLong() == 0;
    }

    /** When a run that failed is tried again by itself. */
    private void again(JsonNode run) {
        if (run.hasNonNull("againAt")) {
            screen.line("tried again by itself at "
                    + Screen.time(run.path("againAt").asText()) + " (" + "that was attempt "
                    + Math.max(1, run.path("attempt").asInt()) + ")");
        }
    }

    private int verdict(JsonNode run, JsonNode reasons, boolean trial) {
        String state = run.path("state").asText();
        String took = run.hasNonNull("seconds")
                ? String.format(Locale.ROOT, " in %.1f s", run.path("seconds").asDouble())
                : "";
        if (!state.equals("finished")) {
            screen.line(screen.bad((trial ? "tried: a run would be " : "") + state + took)
                    + (run.hasNonNull("failure") ? ": " + run.path("failure").asText() : ""));
            again(run);
            return status(run, reasons);
        }
        boolean refused = !reasons.isEmpty();
        screen.line((trial ? "tried" : "done")
                + (refused ? " with rejects" : isNothing(run) ? ": no files found" : "")
                + took);
        return status(run, reasons);
    }

    /** {@code month 2026-03 (the call), inbox inbox (values.yaml)}; empty where no names were put in. */
    public static String values(JsonNode values) {
        StringBuilder text = new StringBuilder();
        values.forEach(value -> text.append(text.isEmpty() ? "" : ", ")
                .append(value.path("name").asText())
                .append(" = ")
                .append(value.path("value").asText())
                .append(" (")
                .append(value.path("from").asText())
                .append(')'));
        return text.toString();
    }
}
