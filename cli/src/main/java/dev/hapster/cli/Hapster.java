package dev.hapster.cli;

import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.data.CountCommand;
import dev.hapster.cli.command.data.DatasetsCommand;
import dev.hapster.cli.command.data.ExportCommand;
import dev.hapster.cli.command.data.RowsCommand;
import dev.hapster.cli.command.prepare.CheckCommand;
import dev.hapster.cli.command.prepare.DraftCommand;
import dev.hapster.cli.command.prepare.FindCommand;
import dev.hapster.cli.command.prepare.FitCommand;
import dev.hapster.cli.command.prepare.JobsCommand;
import dev.hapster.cli.command.prepare.PeekCommand;
import dev.hapster.cli.command.reject.AsideCommand;
import dev.hapster.cli.command.reject.DismissCommand;
import dev.hapster.cli.command.reject.MendCommand;
import dev.hapster.cli.command.reject.RejectsCommand;
import dev.hapster.cli.command.reject.TraceCommand;
import dev.hapster.cli.command.run.CancelCommand;
import dev.hapster.cli.command.run.LedgerCommand;
import dev.hapster.cli.command.run.RemoveCommand;
import dev.hapster.cli.command.run.RetryCommand;
import dev.hapster.cli.command.run.RunCommand;
import dev.hapster.cli.command.run.RunsCommand;
import dev.hapster.cli.command.run.TryCommand;
import dev.hapster.cli.command.run.UndoCommand;
import dev.hapster.cli.command.run.VerifyCommand;
import dev.hapster.cli.command.serve.CompletionCommand;
import dev.hapster.cli.command.serve.DemoCommand;
import dev.hapster.cli.command.serve.ServeCommand;
import dev.hapster.cli.http.Api;
import dev.hapster.cli.terminal.ClientException;
import dev.hapster.cli.terminal.ExitStatus;
import dev.hapster.cli.terminal.Screen;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
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
            DraftCommand.class,
            JobsCommand.class,
            FindCommand.class,
            PeekCommand.class,
            FitCommand.class,
            CheckCommand.class,
            TryCommand.class,
            RunCommand.class,
            RunsCommand.class,
            CancelCommand.class,
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
            DatasetsCommand.class,
            RowsCommand.class,
            ExportCommand.class,
            CountCommand.class,
            CompletionCommand.class,
            CommandLine.HelpCommand.class
        },
        commandListHeading = "%nCommands, in the order in which people work:%n",
        footer = {
            "",
            "Exit status: 0 done, 1 done with rejects or findings, 2 wrong use, 3 failed, 4 no service reached.",
            "",
            "See it work:  hapster demo"
        })
public final class Hapster implements Client, Callable<Integer> {

    /** The version, as the build wrote it into the jar. */
    static final class Version implements IVersionProvider {
        @Override
        public String[] getVersion() {
            String version = Hapster.class.getPackage().getImplementationVersion();
            return new String[] {"hapster " + (version == null ? "(not built yet)" : version)};
        }
    }

    private final Screen screen;

    @Option(
            names = "--service",
            scope = ScopeType.INHERIT,
            paramLabel = "URL",
            defaultValue = "${HAPSTER_SERVICE:-http://127.0.0.1:8711}",
            description = "Where the service answers (default: ${DEFAULT-VALUE}; or HAPSTER_SERVICE).")
    private String service;

    @Option(names = "--json", scope = ScopeType.INHERIT, description = "Print the service's JSON instead of tables.")
    private boolean json;

    public static void main(String[] args) {
        System.exit(run(new Screen(), args));
    }

    private Hapster(Screen screen) {
        this.screen = screen;
    }

    /** Runs one command. Gives its exit status. */
    public static int run(Screen screen, String... args) {
        return commandLine(screen).execute(args);
    }

    /** All commands, as they are parsed. */
    public static CommandLine commandLine(Screen screen) {
        Hapster hapster = new Hapster(screen);
        return new CommandLine(hapster)
                .setOut(new PrintWriter(screen.out(), true, StandardCharsets.UTF_8))
                .setErr(new PrintWriter(screen.err(), true, StandardCharsets.UTF_8))
                .registerConverter(int.class, text -> whole(text, Integer.MIN_VALUE, Integer.MAX_VALUE)
                        .intValue())
                .registerConverter(Integer.class, text -> whole(text, Integer.MIN_VALUE, Integer.MAX_VALUE)
                        .intValue())
                .registerConverter(long.class, text -> whole(text, Long.MIN_VALUE, Long.MAX_VALUE))
                .registerConverter(Long.class, text -> whole(text, Long.MIN_VALUE, Long.MAX_VALUE))
                .setUsageHelpWidth(100)
                .setUsageHelpAutoWidth(false)
                .setParameterExceptionHandler(WrongUse::told)
                .setExecutionExceptionHandler((wrong, command, parsed) -> {
                    if (wrong instanceof ClientException told) {
                        hapster.screen.complain(told.getMessage());
                        return told.status();
                    }
                    hapster.screen.complain("Unexpected: " + wrong);
                    wrong.printStackTrace(screen.err());
                    return ExitStatus.FAILED;
                });
    }

    private static Long whole(String text, long least, long most) {
        try {
            long number = Long.parseLong(text.strip());
            if (number >= least && number <= most) {
                return number;
            }
        } catch (NumberFormatException notOne) {
            // said below, in the same words
        }
        throw new CommandLine.TypeConversionException("'" + text + "' is not a whole number");
    }

    @Override
    public Integer call() {
        CommandLine.usage(this, screen.out());
        return ExitStatus.WRONG_USE;
    }

    @Override
    public Api api() {
        return new Api(service);
    }

    @Override
    public Screen screen() {
        return screen;
    }

    @Override
    public boolean json() {
        return json;
    }
}
