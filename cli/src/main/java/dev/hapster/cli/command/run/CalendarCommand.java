package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "calendar",
        mixinStandardHelpOptions = true,
        description = {
            "Shows whether everything arrived: periods across, sources down.",
            "A job's file says what is due: due: {each: month, by: \"day 5 08:00\"}. Where something is late, missing, "
                    + "rejected or unusual, the exit status is 1."
        },
        footer = {
            "",
            "Examples:  hapster calendar",
            "           hapster calendar east-lab --periods 24",
            "           hapster calendar north-lab --propose"
        })
public final class CalendarCommand implements Callable<Integer> {

    private static final Map<String, String> MARKS = new LinkedHashMap<>();

    static {
        MARKS.put("arrived", "+");
        MARKS.put("late", "l");
        MARKS.put("unusual", "u");
        MARKS.put("rejected", "x");
        MARKS.put("missing", "?");
        MARKS.put("awaited", "~");
    }

    private static final int MOST_FINDINGS = 40;

    @ParentCommand
    private Client client;

    @Parameters(arity = "0..1", paramLabel = "JOB", description = "The job (default: all for which files are due).")
    private String job;

    @Option(names = "--dataset", paramLabel = "DATASET", description = "Only jobs that load into this dataset.")
    private String dataset;

    @Option(
            names = "--periods",
            paramLabel = "N",
            description = "How many periods, up to the present one (default: 31 days, 26 weeks, 12 months or quarters, "
                    + "10 years).")
    private Integer periods;

    @Option(
            names = "--propose",
            description = "Print what the job's file may say of what is due, as it was up to now. Nothing is written.")
    private boolean propose;

    @Override
    public Integer call() {
        if (job == null && propose) {
            throw new ClientException(ExitStatus.WRONG_USE, "Name a job, too.");
        }
        if (job != null && dataset != null) {
            throw new ClientException(ExitStatus.WRONG_USE, "Name a job or a dataset, not both.");
        }
        if (propose && periods != null) {
            throw new ClientException(ExitStatus.WRONG_USE, "--propose and --periods do not go together.");
        }
        if (propose) {
            return propose(client.api().get("/jobs/" + Api.encode(job) + "/calendar/proposal"));
        }
        String count = periods == null ? "" : "periods=" + periods;
        if (job != null) {
            JsonNode one = client.api().get("/jobs/" + Api.encode(job) + "/calendar?" + count);
            return show(Api.JSON.createArrayNode().add(one), one);
        }
        JsonNode all =
                client.api().get("/calendar?" + count + (dataset == null ? "" : "&dataset=" + Api.encode(dataset)));
        return show(all, all);
    }

    private int propose(JsonNode proposal) {
        if (client.json()) {
            client.print(proposal);
            return ExitStatus.DONE;
        }
        Screen screen = client.screen();
        if (!proposal.path("text").asText().isEmpty()) {
            screen.line(proposal.path("text").asText().stripTrailing());
            screen.line("");
        }
        proposal.path("notes").forEach(note -> screen.paragraph("", note.asText()));
        return ExitStatus.DONE;
    }

    /** @param answer what the service said, for {@code --json} */
    private int show(JsonNode calendars, JsonNode answer) {
        boolean findings = false;
        for (JsonNode one : calendars) {
            findings |= one.path("findings").asBoolean();
        }
        int status = findings ? ExitStatus.FINDINGS : ExitStatus.DONE;
        if (client.json()) {
            client.print(answer);
            return status;
        }
        Screen screen = client.screen();
        if (calendars.isEmpty()) {
            screen.line(
                    "No job's file says which files are due. hapster calendar JOB --propose shows what it may say.");
            return status;
        }
        Map<String, List<JsonNode>> byEach = new LinkedHashMap<>();
        for (JsonNode one : calendars) {
            if (one.has("each")) {
                byEach.computeIfAbsent(one.path("each").asText(), none -> new ArrayList<>())
                        .add(one);
            } else if (!one.path("declared").asBoolean()) {
                one.path("words").forEach(word -> screen.line(word.asText()));
                screen.line("hapster calendar " + job + " --propose shows what it may say.");
            }
        }
        byEach.forEach((each, some) -> grid(each, some));
        if (!byEach.isEmpty()) {
            screen.line(legend());
        }
        if (job != null && !byEach.isEmpty()) {
            screen.line("");
            calendars.get(0).path("words").forEach(word -> screen.paragraph("", word.asText()));
        }
        findings(calendars);
        for (JsonNode one : calendars) {
            if (one.has("trouble")) {
                screen.complain(
                        one.path("job").asText() + ": " + one.path("trouble").asText());
            }
        }
        return status;
    }

    private static String legend() {
        List<String> words = new ArrayList<>();
        MARKS.forEach((state, mark) -> words.add(mark + " " + state));
        return String.join("   ", words);
    }

    /** Calendars with periods of one kind below one another. */
    private void grid(String each, List<JsonNode> calendars) {
        Screen screen = client.screen();
        TreeSet<String> all = new TreeSet<>();
        int head = 0;
        for (JsonNode calendar : calendars) {
            calendar.path("periods").forEach(period -> all.add(period.asText()));
            for (JsonNode source : calendar.path("sources")) {
                head = Math.max(head, name(calendar, source).length());
            }
        }
        List<String> periods = new ArrayList<>(all);
        int width = each.equals("year") ? 5 : 3;
        head = Math.min(head, Math.max(12, screen.width() / 2)) + 2;
        int fit = Math.max(1, (screen.width() - head) / width);
        int left = Math.max(0, periods.size() - fit);
        List<String> shown = periods.subList(left, periods.size());
        StringBuilder above = new StringBuilder(" ".repeat(head));
        StringBuilder below = new StringBuilder(pad("by " + each, head));
        String before = "";
        for (String period : shown) {
            int cut = each.equals("year") ? 0 : period.lastIndexOf('-');
            String first = period.substring(0, Math.max(0, cut));
            int at = below.length();
            if (!first.equals(before) && above.length() <= at) {
                above.append(" ".repeat(at - above.length())).append(first).append(' ');
                before = first;
            }
            String last = period.substring(cut == 0 ? 0 : cut + 1);
            below.append(pad(last.startsWith("W") ? last.substring(1) : last, width));
        }
        if (!above.toString().isBlank()) {
            screen.line(above.toString().stripTrailing());
        }
        screen.line(below.toString().stripTrailing());
        for (JsonNode calendar : calendars) {
            for (JsonNode source : calendar.path("sources")) {
                screen.line(row(calendar, source, shown, head, width));
            }
        }
        if (left > 0) {
            screen.line("The latest " + shown.size() + " of " + Screen.count(periods.size(), each)
                    + " fit the screen; --json gives all.");
        }
        screen.line("");
    }

    private String row(JsonNode calendar, JsonNode source, List<String> shown, int head, int width) {
        Screen screen = client.screen();
        Map<String, String> states = new LinkedHashMap<>();
        for (int i = 0; i < calendar.path("periods").size(); i++) {
            states.put(
                    calendar.path("periods").path(i).asText(),
                    source.path("cells").path(i).path("state").asText());
        }
        StringBuilder line = new StringBuilder(pad(Screen.shorten(name(calendar, source), head - 2), head));
        for (String period : shown) {
            String state = states.getOrDefault(period, "none");
            String mark = MARKS.getOrDefault(state, " ");
            line.append(
                    state.equals("arrived")
                            ? screen.good(mark)
                            : state.equals("awaited") ? screen.faint(mark) : mark.isBlank() ? mark : screen.bad(mark));
            line.append(" ".repeat(width - 1));
        }
        return line.toString().stripTrailing();
    }

    private static String pad(String text, int width) {
        return text.length() >= width ? text + " " : text + " ".repeat(width - text.length());
    }

    private static String name(JsonNode calendar, JsonNode source) {
        String facts = source.path("name").asText();
        return Screen.visible(calendar.path("job").asText()
                + (facts.isEmpty() ? "" : " " + facts)
                + (source.path("due").asBoolean() ? "" : " (not due)"));
    }

    /** The run that rejected a file of a cell. */
    private static String inRun(JsonNode cell) {
        for (JsonNode file : cell.path("arrived")) {
            if (file.path("became").asText().equals("rejected")) {
                return " (run " + file.path("run").asLong() + ")";
            }
        }
        return "";
    }

    /** What somebody should look at; the texts of each in a row. */
    private static List<List<String>> found(JsonNode calendars) {
        List<List<String>> all = new ArrayList<>();
        for (JsonNode calendar : calendars) {
            for (JsonNode source : calendar.path("sources")) {
                for (int i = calendar.path("periods").size() - 1; i >= 0; i--) {
                    JsonNode cell = source.path("cells").path(i);
                    String state = cell.path("state").asText();
                    boolean undue = !source.path("due").asBoolean()
                            && cell.path("files").asLong() > 0;
                    if (undue || !List.of("none", "awaited", "arrived").contains(state)) {
                        all.add(List.of(
                                name(calendar, source),
                                calendar.path("periods").path(i).asText(),
                                undue && state.equals("arrived") ? "not due" : state,
                                cell.path("says").asText() + inRun(cell)));
                    }
                }
            }
            for (JsonNode file : calendar.path("astray")) {
                all.add(List.of(
                        calendar.path("job").asText(),
                        "",
                        "astray",
                        file.path("name").asText() + ": " + file.path("says").asText()));
            }
        }
        return all;
    }

    private void findings(JsonNode calendars) {
        Screen screen = client.screen();
        List<List<String>> all = found(calendars);
        if (all.isEmpty()) {
            return;
        }
        List<List<String>> listed = all.subList(0, Math.min(all.size(), MOST_FINDINGS));
        int[] widths = new int[3];
        for (List<String> one : listed) {
            for (int i = 0; i < widths.length; i++) {
                widths[i] = Math.max(widths[i], one.get(i).length() + 2);
            }
        }
        screen.line("");
        for (List<String> one : listed) {
            StringBuilder head = new StringBuilder("  ");
            for (int i = 0; i < widths.length; i++) {
                head.append(pad(one.get(i), widths[i]));
            }
            screen.paragraph(head.toString(), Screen.visible(one.get(3)));
        }
        if (all.size() > listed.size()) {
            screen.line("  and " + Screen.grouped(all.size() - listed.size()) + " more; --json gives all");
        }
    }
}
