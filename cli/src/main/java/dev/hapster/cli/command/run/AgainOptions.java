package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import java.util.List;
import picocli.CommandLine.Option;

/** Which files are dealt with though they have not changed. */
final class AgainOptions {

    @Option(
            names = "--again",
            arity = "0..*",
            paramLabel = "FILE",
            description = "Deal with unchanged files too: those named (patterns too), or with --all every one. Each "
                    + "replaces its own rows.")
    private List<String> again;

    @Option(names = "--all", description = "With --again: every file.")
    private boolean all;

    @Option(
            names = "--apply-after",
            description = "Do what the job says now of what becomes of files also with files that were loaded when it "
                    + "said otherwise.")
    private boolean applyAfter;

    ObjectNode into(ObjectNode request) {
        List<String> files = again == null
                ? List.of()
                : again.stream().filter(file -> !file.isEmpty()).toList();
        if (all && again == null) {
            throw new ClientException(ExitStatus.WRONG_USE, "--all goes with --again.");
        }
        if (all && !files.isEmpty()) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "--all means every file; leave out " + String.join(", ", files) + ", or --all.");
        }
        request.put("again", again != null);
        request.put("applyAfter", applyAfter);
        files.forEach(request.putArray("files")::add);
        return request;
    }
}
