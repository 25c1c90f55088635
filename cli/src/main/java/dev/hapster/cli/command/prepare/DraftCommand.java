package dev.hapster.cli.command.prepare;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.github.difflib.DiffUtils;
import com.github.difflib.UnifiedDiffUtils;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "draft",
        mixinStandardHelpOptions = true,
        description = "Proposes a job and a dataset from files, with the evidence for each conclusion. "
                + "Nothing is written without --write.",
        footer = {
            "",
            "Example:  hapster draft inbox/weather",
            "          hapster draft --job north-lab",
            "          hapster draft inbox/weather --write && hapster run weather"
        })
public final class DraftCommand implements Callable<Integer> {

    private static final int CONTEXT = 2;
    private static final int SHOWN_LEFT = 12;
    /** Of files and jobs in a sentence. */
    private static final int NAMED = 6;
    /** Characters of a setting that are shown beside what it rests on. */
    private static final int MOST_VALUE = 34;

    @ParentCommand
    private Client client;

    @Parameters(
            paramLabel = "PATH",
            arity = "0..*",
            description =
                    "Folders or files, also as sftp://ACCOUNT/PATH or s3://ACCOUNT/BUCKET/PATH. A file also stands for others with similar names. Without any, "
                            + "compares the files that --job takes now with its definitions.")
    private List<String> paths = new ArrayList<>();

    @Option(
            names = "--into",
            paramLabel = "DATASET",
            description = "Load into an existing dataset: its columns are matched by name, then by their values.")
    private String into;

    @Option(names = "--job", paramLabel = "NAME", description = "The name of the job, and of a new dataset.")
    private String name;

    @Option(names = "--thorough", description = "Read every row instead of some rows of each file.")
    private boolean thorough;

    @Option(
            names = "--separator",
            paramLabel = "TEXT",
            description = "The character between the fields of text files, such as ';' or '\\t'.")
    private String separator;

    @Option(
            names = "--encoding",
            paramLabel = "NAME",
            description = "The encoding of text files, such as windows-1252.")
    private String encoding;

    @Option(
            names = "--lines-above",
            paramLabel = "COUNT",
            description = "How many lines stand above the " + "table in text files.")
    private Integer linesAbove;

    @Option(
            names = "--header",
            negatable = true,
            description = "Whether the first row of the table in text files names the columns.")
    private Boolean header;

    @Option(names = "--comments", description = "Write the evidence into the definitions, as comments.")
    private boolean comments;

    @Option(names = "--yaml", description = "Print the definitions instead of the evidence.")
    private boolean yaml;

    @Option(
            names = "--write",
            description = "Save the definitions. If one exists already, show the difference and ask before "
                    + "replacing it.")
    private boolean write;

    @Option(names = "--yes", description = "Do not ask; needed where nobody can answer, as in a script.")
    private boolean yes;

    @Override
    public Integer call() {
        if (paths.isEmpty()) {
            if (name == null) {
                throw new ClientException(
                        ExitStatus.WRONG_USE,
                        "Name a folder or files to draft from, or a job that exists: hapster draft --job JOB");
            }
            return drift();
        }
        ObjectNode request = Api.JSON.createObjectNode();
        ArrayNode wanted = request.putArray("paths");
        paths.forEach(path -> wanted.add(absolute(path)));
        if (into != null) {
            request.put("into", into);
        }
        if (name != null) {
            request.put("name", name);
        }
        request.put("thorough", thorough).put("comments", comments);
        request.set("reading", reading());
        JsonNode draft = client.api().post("/drafts", request);
        boolean rejects = false;
        for (JsonNode job : draft.path("jobs")) {
            rejects |= job.path("rejected").asLong() > 0 || !job.path("rejects").isEmpty();
        }
        int status = draft.path("jobs").isEmpty() || rejects ? ExitStatus.FINDINGS : ExitStatus.DONE;
        if (client.json()) {
            client.print(draft);
        } else if (yaml) {
            definitions(draft);
        } else {
            draft.path("jobs").forEach(this::job);
            datasets(draft);
            left(draft);
            client.screen().line(draft.path("looked").asText());
        }
        if (write && !draft.path("jobs").isEmpty()) {
            return write(draft) ? status : ExitStatus.FINDINGS;
        } else if (!write && !client.json() && !yaml && !draft.path("jobs").isEmpty()) {
            client.screen()
                    .line("Nothing is written yet: --yaml shows the definitions, --write saves "
                            + some(files(draft), ", ", "file") + ".");
        }
        return status;
    }

    /** What is decided of how text files are read; the service finds out the rest. */
    private ObjectNode reading() {
        ObjectNode reading = Api.JSON.createObjectNode();
        if (separator != null) {
            reading.put("separator", separator.replace("\\t", "\t"));
        }
        if (encoding != null) {
            reading.put("encoding", encoding);
        }
        if (linesAbove != null) {
            reading.put("linesAbove", linesAbove);
        }
        if (header != null) {
            reading.put("header", header);
        }
        return reading;
    }

    private int drift() {
        JsonNode drift = client.api().get("/jobs/" + Api.encode(name) + "/drift");
        int status = drift.path("differences").isEmpty() ? ExitStatus.DONE : ExitStatus.FINDINGS;
        if (client.json()) {
            client.print(drift);
            return status;
        }
        Screen screen = client.screen();
        for (JsonNode one : drift.path("differences")) {
            String column = one.path("column").asText();
            screen.paragraph(
                    screen.strong("  ! "),
                    (column.isEmpty() ? "" : column + ": ") + one.path("found").asText());
            if (!one.path("proposal").asText().isEmpty()) {
                screen.paragraph("    > ", one.path("proposal").asText());
            }
        }
        screen.line(name + " → " + drift.path("into").asText() + ": "
                + Screen.count(drift.path("rows").asLong(), "row") + " of "
                + Screen.count(drift.path("files").asLong(), "file") + " looked at; "
                + (status == ExitStatus.DONE
                        ? "all fits"
                        : Screen.count(drift.path("differences").size(), "difference")));
        return status;
    }

    /**
     * A path as the service knows it: relative ones are meant from here where there is such a file, or its workspace.
     */
    private static String absolute(String path) {
        return !path.contains("://") && Files.exists(Path.of(path))
                ? Path.of(path).toAbsolutePath().normalize().toString()
                : path;
    }

    /** Where there are many, the first ones and how many more. */
    private static String some(List<String> all, String between, String noun) {
        int more = all.size() - NAMED;
        return more <= 1
                ? String.join(between, all)
                : String.join(between, all.subList(0, NAMED)) + between + "and " + Screen.count(more, "more " + noun);
    }

    private static List<String> files(JsonNode draft) {
        List<String> files = new ArrayList<>();
        draft.path("datasets")
                .forEach(one -> files.add("datasets/" + one.path("name").asText() + ".yaml"));
        draft.path("jobs").forEach(one -> files.add("jobs/" + one.path("name").asText() + ".yaml"));
        return files;
    }

    private void definitions(JsonNode draft) {
        for (String kind : List.of("datasets", "jobs")) {
            for (JsonNode one : draft.path(kind)) {
                client.screen().line("# " + kind + "/" + one.path("name").asText() + ".yaml");
                client.screen().line(one.path("text").asText());
            }
        }
    }

    private void job(JsonNode job) {
        Screen screen = client.screen();
        screen.line(screen.strong(job.path("name").asText()) + " → "
                + job.path("into").asText() + "  "
                + Screen.count(job.path("files").asLong(), "file") + " in "
                + job.path("folder").asText());
        List<JsonNode> settings = new ArrayList<>();
        job.path("finding").forEach(settings::add);
        job.path("reading").forEach(settings::add);
        int widest = 0;
        for (JsonNode one : settings) {
            widest = Math.max(widest, one.path("value").asText().length());
        }
        for (JsonNode one : settings) {
            String value = Screen.shorten(one.path("value").asText(), MOST_VALUE);
            screen.paragraph(
                    String.format(
                            "  %-15s %-" + Math.max(1, Math.min(MOST_VALUE, widest)) + "s  ",
                            one.path("what").asText(),
                            value),
                    one.path("why").asText());
        }
        screen.line("");
        for (JsonNode column : job.path("columns")) {
            column(column);
        }
        job.path("doubts").forEach(doubt -> screen.paragraph(screen.strong("  ? "), doubt.asText()));
        long rows = job.path("rows").asLong();
        long rejected = job.path("rejected").asLong();
        screen.line("  tried on " + (job.path("whole").asBoolean() ? "all " : "the first ") + Screen.count(rows, "row")
                + ": "
                + (rejected == 0
                        ? "none would be rejected"
                        : screen.bad(Screen.grouped(rejected) + " would be rejected")));
        job.path("rejects").forEach(one -> screen.paragraph(screen.bad("  ! "), one.asText()));
        screen.line("");
    }

    private void column(JsonNode column) {
        Screen screen = client.screen();
        boolean skipped = column.path("name").asText().isEmpty();
        String from = from(column);
        String name = column.path("name").asText();
        screen.line("  " + (skipped ? screen.strong("–") : screen.strong(name))
                + (from.equals(name) ? "" : "  from \"" + from + "\"")
                + (skipped ? "  left out" : "  " + column.path("type").asText())
                + (column.path("required").asBoolean() ? ", required" : ""));
        screen.paragraph("      ", column.path("why").asText());
        column.path("doubts").forEach(doubt -> screen.paragraph(screen.strong("    ? "), doubt.asText()));
    }

    private static String from(JsonNode column) {
        List<String> names = new ArrayList<>();
        column.path("from").forEach(one -> names.add(one.asText()));
        return String.join(", ", names);
    }

    private void datasets(JsonNode draft) {
        for (JsonNode one : draft.path("datasets")) {
            if (!one.path("key").isEmpty()) {
                List<String> key = new ArrayList<>();
                one.path("key").forEach(column -> key.add(column.asText()));
                client.screen()
                        .paragraph(
                                "key of " + one.path("name").asText() + ": ",
                                String.join(", ", key) + ", since "
                                        + one.path("keyWhy").asText());
            }
        }
    }

    private void left(JsonNode draft) {
        JsonNode left = draft.path("notTaken");
        int shown = 0;
        for (JsonNode one : left) {
            if (shown++ == SHOWN_LEFT) {
                client.screen().line("  and " + Screen.grouped(left.size() - SHOWN_LEFT) + " more that no job takes");
                break;
            }
            client.screen()
                    .paragraph(
                            "not taken  ",
                            one.path("file").asText() + " " + one.path("why").asText());
        }
    }

    /** Whether all was saved. */
    private boolean write(JsonNode draft) {
        Map<String, String> versions = new LinkedHashMap<>();
        Set<String> same = new HashSet<>();
        Set<String> known = new HashSet<>();
        client.api().get("/jobs").forEach(job -> known.add(job.path("name").asText()));
        for (JsonNode job : draft.path("jobs")) {
            String name = job.path("name").asText();
            if (known.contains(name)) {
                JsonNode there = client.api().get("/jobs/" + Api.encode(name));
                versions.put(name, there.path("version").asText());
                if (there.path("text").asText().equals(job.path("text").asText())) {
                    same.add(name);
                } else if (!mayReplace(job, there)) {
                    client.screen().line("Nothing was written.");
                    return false;
                }
            }
        }
        List<String> made = new ArrayList<>();
        for (String kind : List.of("datasets", "jobs")) {
            for (JsonNode one : draft.path(kind)) {
                String named = kind + "/" + one.path("name").asText() + ".yaml";
                if (kind.equals("jobs") && same.contains(one.path("name").asText())) {
                    continue;
                }
                ObjectNode body =
                        Api.JSON.createObjectNode().put("text", one.path("text").asText());
                if (kind.equals("jobs") && versions.containsKey(one.path("name").asText())) {
                    body.put("version", versions.get(one.path("name").asText()));
                }
                try {
                    client.api()
                            .put("/" + kind + "/" + Api.encode(one.path("name").asText()), body);
                } catch (ClientException wrong) {
                    throw new ClientException(
                            wrong.status(),
                            "Cannot write " + named + ": " + wrong.getMessage()
                                    + (made.isEmpty() ? "" : "\nWritten before: " + String.join(", ", made)));
                }
                made.add(named);
            }
        }
        if (!client.json()) {
            String first = draft.path("jobs").get(0).path("name").asText();
            List<String> runs = new ArrayList<>();
            draft.path("jobs")
                    .forEach(job -> runs.add("hapster run " + job.path("name").asText()));
            String loads = " Try with: hapster check " + first + ", hapster try " + first + ". Load with: "
                    + some(runs, "; ", "job");
            client.screen()
                    .line((made.isEmpty()
                                    ? "All is there already, word for word."
                                    : "Written: " + some(made, ", ", "file") + ".")
                            + loads);
        }
        return true;
    }

    /** Shows what differs from a definition that is there, and asks. */
    private boolean mayReplace(JsonNode job, JsonNode there) {
        String file = "jobs/" + job.path("name").asText() + ".yaml";
        List<String> before = there.path("text").asText().lines().toList();
        List<String> after = job.path("text").asText().lines().toList();
        Screen screen = client.screen();
        if (!client.json()) {
            for (String line : UnifiedDiffUtils.generateUnifiedDiff(
                    file, file + " (drafted)", before, DiffUtils.diff(before, after), CONTEXT)) {
                screen.line(line.startsWith("+") ? screen.good(line) : line.startsWith("-") ? screen.bad(line) : line);
            }
        }
        if (yes) {
            return true;
        }
        if (!screen.asks() || client.json()) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "Nothing was written: " + file + " is there already and differs, and nobody can be asked here. "
                            + "--yes replaces it, another --job leaves it as it is.");
        }
        return screen.confirms("Replace " + file + "?");
    }
}
