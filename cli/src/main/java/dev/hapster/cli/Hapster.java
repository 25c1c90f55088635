package dev.hapster.cli;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import java.util.concurrent.Callable;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.IVersionProvider;
import picocli.CommandLine.Option;
import picocli.CommandLine.ScopeType;

/** The client: {@code hapster COMMAND …}. */
@Command(
        name = "hapster",
        mixinStandardHelpOptions = true,
        versionProvider = Hapster.Version.class,
        description = "Turns folders of arriving files into one shared, typed dataset, repeatably.",
        subcommands = {
            ServeCommand.class,
            DemoCommand.class,
            JobsCommand.class,
            FindCommand.class,
            PeekCommand.class,
            FitCommand.class,
            CheckCommand.class,
            TryCommand.class,
            RunCommand.class,
            RunsCommand.class,
            RejectsCommand.class,
            TraceCommand.class,
            MendCommand.class,
            RetryCommand.class,
            DismissCommand.class,
            AsideCommand.class,
            UndoCommand.class,
            RemoveCommand.class,
            LedgerCommand.class,
            VerifyCommand.class,
            RowsCommand.class,
            ExportCommand.class,
            CountCommand.class
        },
        commandListHeading = "%nCommands, in the order in which people work:%n",
        footer = {
            "",
            "Exit status: 0 done, 1 done with rejects or findings, 2 wrong use, 3 failed, 4 no service reached.",
            "",
            "See it work:  hapster demo"
        })
final class Hapster implements Callable<Integer> {

    /** The version, as the build wrote it into the jar. */
    static final class Version implements IVersionProvider {
        @Override
        public String[] getVersion() {
            String version = Hapster.class.getPackage().getImplementationVersion();
            return new String[] {"hapster " + (version == null ? "(not built yet)" : version)};
        }
    }

    final Screen screen = new Screen();

    @Option(
            names = "--service",
            scope = ScopeType.INHERIT,
            paramLabel = "URL",
            defaultValue = "${HAPSTER_SERVICE:-http://127.0.0.1:8711}",
            description = "Where the service answers (default: ${DEFAULT-VALUE}; or HAPSTER_SERVICE).")
    String service;

    @Option(names = "--json", scope = ScopeType.INHERIT, description = "Print the service's JSON instead of tables.")
    boolean json;

    public static void main(String[] args) {
        System.exit(run(args));
    }

    static int run(String... args) {
        Hapster hapster = new Hapster();
        return new CommandLine(hapster)
                .setUsageHelpWidth(100)
                .setUsageHelpAutoWidth(false)
                .setExecutionExceptionHandler((wrong, command, parsed) -> {
                    if (wrong instanceof ClientException told) {
                        hapster.screen.complain(told.getMessage());
                        return told.status();
                    }
                    hapster.screen.complain("Unexpected: " + wrong);
                    wrong.printStackTrace();
                    return ExitStatus.FAILED;
                })
                .execute(args);
    }

    @Override
    public Integer call() {
        CommandLine.usage(this, System.out);
        return ExitStatus.WRONG_USE;
    }

    Api api() {
        return new Api(service);
    }

    /** Prints JSON as it came, for programs. */
    void print(JsonNode node) {
        try {
            screen.line(Api.JSON.writeValueAsString(node));
        } catch (JsonProcessingException impossible) {
            throw new IllegalStateException("What was read as JSON can be written as JSON", impossible);
        }
    }
}
