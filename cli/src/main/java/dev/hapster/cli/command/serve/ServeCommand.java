package dev.hapster.cli.command.serve;

import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.ServiceProcess;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "serve",
        mixinStandardHelpOptions = true,
        description = "Starts the service on a workspace and stays until Ctrl-C.",
        footer = {"", "Example:  hapster serve --workspace /data/vessa --root /mnt/inbox"})
public final class ServeCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Option(
            names = "--workspace",
            paramLabel = "FOLDER",
            defaultValue = ".",
            description = "The folder with jobs/ and datasets/ (default: this one).")
    private Path workspace;

    @Option(
            names = "--root",
            paramLabel = "FOLDER",
            description = "A folder that jobs may read besides the workspace; may be given several times.")
    private List<Path> roots = List.of();

    @Option(
            names = "--port",
            paramLabel = "N",
            defaultValue = "8711",
            description = "Port on 127.0.0.1 (default: ${DEFAULT-VALUE}).")
    private int port;

    @Option(
            names = "--address",
            paramLabel = "URL",
            description = "Under which address people reach the service, for links in messages "
                    + "(default: HAPSTER_ADDRESS, or this machine's own).")
    private String address;

    @Override
    public Integer call() {
        if (address != null && !address.matches("https?://[^\\s]+")) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "--address must be like https://hapster.vessa.example, not '" + address + "'.");
        }
        Path folder = workspace.toAbsolutePath().normalize();
        if (!Files.isDirectory(folder)) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "There is no folder " + folder + ". Create it, or name another with --workspace.");
        }
        for (Path root : roots) {
            if (!Files.isDirectory(root)) {
                throw new ClientException(
                        ExitStatus.WRONG_USE, "There is no folder " + root.toAbsolutePath() + ", given with --root.");
            }
        }
        try (ServiceProcess service = ServiceProcess.start(folder, roots, port, Optional.ofNullable(address), null)) {
            client.screen()
                    .line("Hapster serves " + folder + " at " + service.api().base() + "/  (Ctrl-C ends it)");
            return service.await();
        }
    }
}
