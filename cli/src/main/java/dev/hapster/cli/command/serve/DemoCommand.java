package dev.hapster.cli.command.serve;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.run.RunFollower;
import dev.hapster.cli.http.Api;
import dev.hapster.cli.http.ServiceProcess;
import dev.hapster.demo.DemoWorkspace;
import dev.hapster.demo.elsewhere.StandIns;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Report;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Sources;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "demo",
        mixinStandardHelpOptions = true,
        description = "Makes a workspace of the made-up river Vessa, starts the service, runs all its jobs "
                + "and shows the results.",
        footer = {"", "Examples:  hapster demo --once --keep", "           hapster demo --elsewhere"})
public final class DemoCommand implements Callable<Integer> {

    /** Only a folder with this file in it is ever cleared. */
    private static final String MARK = ".hapster-demo";

    @ParentCommand
    private Client client;

    @Option(names = "--once", description = "Stop after the jobs have run, instead of staying until Ctrl-C.")
    private boolean once;

    @Option(names = "--keep", description = "Go on in the workspace of the last demo, instead of making a fresh one.")
    private boolean keep;

    @Option(
            names = "--elsewhere",
            description = "With machines of others, too: an SFTP server and an object store, which run as long as the "
                    + "demo does, and two jobs that take files from them.")
    private boolean elsewhere;

    @Option(
            names = "--workspace",
            paramLabel = "FOLDER",
            defaultValue = "${sys:hapster.demo:-.hapster/demo}",
            description = "The folder to make it in (default: ${DEFAULT-VALUE}).")
    private Path folder;

    @Option(
            names = "--port",
            paramLabel = "N",
            defaultValue = "8711",
            description = "Port on 127.0.0.1 (default: ${DEFAULT-VALUE}).")
    private int port;

    @Override
    public Integer call() throws IOException {
        Path workspace = folder.toAbsolutePath().normalize();
        prepare(workspace);
        Screen screen = client.screen();
        screen.complain("Demo workspace " + Report.here(workspace.toString()) + ", starting the service …");
        Files.createDirectories(workspace.resolve("store"));
        try (StandIns standIns = elsewhere ? StandIns.start(workspace) : null;
                ServiceProcess service = ServiceProcess.start(
                        workspace, List.of(), port, Optional.empty(), workspace.resolve("store/service.log"))) {
            if (standIns != null) {
                standIns.lines().forEach(line -> screen.complain("Elsewhere: " + line));
            }
            ObjectNode result = runAll(service.api(), workspace);
            int status = result.path("exitStatus").asInt();
            if (client.json()) {
                client.print(result);
            }
            if (once) {
                return status;
            }
            screen.complain("");
            screen.complain("Console: " + service.api().base() + "/   (Ctrl-C ends the demo)");
            return service.await();
        }
    }

    private void prepare(Path workspace) throws IOException {
        boolean exists = Files.isDirectory(workspace);
        if (exists && keep) {
            return;
        }
        if (exists) {
            boolean ours = Files.exists(workspace.resolve(MARK));
            try (Stream<Path> inside = Files.list(workspace)) {
                if (!ours && inside.findAny().isPresent()) {
                    throw new ClientException(
                            ExitStatus.WRONG_USE,
                            workspace
                                    + " is not a demo workspace and not empty; it is left alone. Name another with "
                                    + "--workspace.");
                }
            }
            clear(workspace);
        }
        DemoWorkspace.write(workspace);
        Files.writeString(
                workspace.resolve(MARK), "Made by hapster demo, which clears this folder when it starts afresh.\n");
    }

    private static void clear(Path workspace) throws IOException {
        try (Stream<Path> tree = Files.walk(workspace)) {
            tree.sorted(Comparator.reverseOrder()).forEach(path -> {
                try {
                    Files.delete(path);
                } catch (IOException wrong) {
                    throw new UncheckedIOException(wrong);
                }
            });
        } catch (UncheckedIOException wrong) {
            throw new ClientException(
                    ExitStatus.FAILED,
                    "The last demo's workspace could not be cleared: "
                            + wrong.getCause().getMessage());
        }
    }

    private ObjectNode runAll(Api api, Path workspace) {
        Screen screen = client.screen();
        RunFollower follower = new RunFollower(api, screen);
        Report report = new Report(screen);
        ObjectNode result = Api.JSON.createObjectNode();
        result.put("workspace", workspace.toString());
        ArrayNode runs = result.putArray("runs");
        int status = ExitStatus.DONE;
        for (JsonNode job : api.get("/jobs")) {
            ObjectNode one = follower.run(job.path("name").asText(), Api.JSON.createObjectNode());
            runs.add(one);
            status = Math.max(status, Report.status(one.path("run"), one.path("reasons")));
            if (!client.json()) {
                report.print(one.path("run"), one.path("files"), one.path("reasons"));
                screen.line();
            }
        }
        JsonNode datasets = api.get("/datasets");
        result.set("datasets", datasets);
        result.put("exitStatus", status);
        if (!client.json()) {
            summary(api, runs, datasets, workspace);
        }
        return result;
    }

    private void summary(Api api, ArrayNode runs, JsonNode datasets, Path workspace) {
        Screen screen = client.screen();
        long found = 0;
        long loaded = 0;
        for (JsonNode one : runs) {
            found += Sources.of(one.path("files")).files();
            loaded += one.path("run").path("rows").path("loaded").asLong();
        }
        screen.line(screen.strong("All jobs") + "  " + Screen.count(runs.size(), "job") + ", "
                + Screen.count(found, "file") + ", " + Screen.count(loaded, "row") + " loaded");
        for (JsonNode dataset : datasets) {
            screen.line("  dataset " + dataset.path("name").asText() + " has "
                    + Screen.count(dataset.path("rows").asLong(), "row") + " in "
                    + Screen.count(dataset.path("parts").asLong(), "part") + " (Parquet files in "
                    + Report.here(workspace
                            .resolve("store/parts/" + dataset.path("name").asText())
                            .toString()) + ")");
        }
        JsonNode open = api.get("/rejects");
        screen.line("  currently rejected" + (open.isEmpty() ? ": nothing" : ""));
        new Report(screen).print(open, true);
        screen.line("  rejects as CSV in "
                + Report.here(workspace.resolve("store/rejects").toString()));
    }
}
