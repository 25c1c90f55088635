package dev.hapster.cli;

import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.data.CountCommand;
import dev.hapster.cli.command.data.DatasetsCommand;
import dev.hapster.cli.command.data.DeliverCommand;
import dev.hapster.cli.command.data.ExportCommand;
import dev.hapster.cli.command.data.QueryCommand;
import dev.hapster.cli.command.data.RowsCommand;
import dev.hapster.cli.command.prepare.CheckCommand;
import dev.hapster.cli.command.prepare.DraftCommand;
import dev.hapster.cli.command.prepare.FindCommand;
import dev.hapster.cli.command.prepare.FitCommand;
import dev.hapster.cli.command.prepare.JobsCommand;
import dev.hapster.cli.command.prepare.PeekCommand;
import dev.hapster.cli.command.profile.ProfileCommand;
import dev.hapster.cli.command.reject.AsideCommand;
import dev.hapster.cli.command.reject.DismissCommand;
import dev.hapster.cli.command.reject.MendCommand;
import dev.hapster.cli.command.reject.RejectsCommand;
import dev.hapster.cli.command.reject.TraceCommand;
import dev.hapster.cli.command.run.CalendarCommand;
import dev.hapster.cli.command.run.CancelCommand;
import dev.hapster.cli.command.run.LedgerCommand;
import dev.hapster.cli.command.run.LogCommand;
import dev.hapster.cli.command.run.MessagesCommand;
import dev.hapster.cli.command.run.RemoveCommand;
import dev.hapster.cli.command.run.RetryCommand;
import dev.hapster.cli.command.run.RunCommand;
import dev.hapster.cli.command.run.RunsCommand;
import dev.hapster.cli.command.run.ScheduleCommand;
import dev.hapster.cli.command.run.TryCommand;
import dev.hapster.cli.command.run.UndoCommand;
import dev.hapster.cli.command.run.VerifyCommand;
import dev.hapster.cli.command.serve.CompletionCommand;
import dev.hapster.cli.command.serve.DemoCommand;
import dev.hapster.cli.command.serve.ServeCommand;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.function.Predicate;
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
        commandListHeading = "%nCommands, in the order in which people work:%n",
        footer = {
            "",
            "Exit status: 0 done, 1 done with rejects or findings, 2 wrong use, 3 failed, 4 no service reached.",
            "",
            "See it work:  hapster demo"
        })
public final class Hapster implements Client, Callable<Integer> {

    /** All commands, in the order in which people work. */
    private static final List<Map.Entry<String, Class<?>>> COMMANDS = List.of(
            Map.entry("serve", ServeCommand.class),
            Map.entry("demo", DemoCommand.class),
            Map.entry("draft", DraftCommand.class),
            Map.entry("jobs", JobsCommand.class),
            Map.entry("find", FindCommand.class),
            Map.entry("peek", PeekCommand.class),
            Map.entry("fit", FitCommand.class),
            Map.entry("check", CheckCommand.class),
            Map.entry("try", TryCommand.class),
            Map.entry("run", RunCommand.class),
            Map.entry("runs", RunsCommand.class),
            Map.entry("log", LogCommand.class),
            Map.entry("cancel", CancelCommand.class),
            Map.entry("schedule", ScheduleCommand.class),
            Map.entry("calendar", CalendarCommand.class),
            Map.entry("messages", MessagesCommand.class),
            Map.entry("rejects", RejectsCommand.class),
            Map.entry("trace", TraceCommand.class),
            Map.entry("mend", MendCommand.class),
            Map.entry("retry", RetryCommand.class),
            Map.entry("dismiss", DismissCommand.class),
            Map.entry("aside", AsideCommand.class),
            Map.entry("undo", UndoCommand.class),
            Map.entry("remove", RemoveCommand.class),
            Map.entry("ledger", LedgerCommand.class),
            Map.entry("verify", VerifyCommand.class),
            Map.entry("datasets", DatasetsCommand.class),
            Map.entry("profile", ProfileCommand.class),
            Map.entry("rows", RowsCommand.class),
            Map.entry("export", ExportCommand.class),
            Map.entry("deliver", DeliverCommand.class),
            Map.entry("count", CountCommand.class),
            Map.entry("query", QueryCommand.class),
            Map.entry("completion", CompletionCommand.class),
            Map.entry("help", CommandLine.HelpCommand.class));

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
            description = "Address of the service (default: ${DEFAULT-VALUE}; or HAPSTER_SERVICE).")
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
        int first = 0;
        while (first < args.length && args[first].startsWith("-")) {
            first += args[first].equals("--service") ? 2 : 1;
        }
        Optional<String> named = COMMANDS.stream()
                .map(Map.Entry::getKey)
                .filter(first < args.length ? args[first]::equals : command -> false)
                .findFirst();
        boolean alone = named.isPresent() && !ASK_OF_ALL.contains(named.get());
        return commandLine(screen, command -> !alone || command.equals(named.get()))
                .execute(args);
    }

    /** Commands that look at the others. */
    private static final Set<String> ASK_OF_ALL = Set.of("help", "completion");

    /** All commands, as they are parsed. */
    public static CommandLine commandLine(Screen screen) {
        return commandLine(screen, command -> true);
    }

    /** @param which commands there are; each takes time to set up, and one call needs one of them */
    private static CommandLine commandLine(Screen screen, Predicate<String> which) {
        Hapster hapster = new Hapster(screen);
        CommandLine all = new CommandLine(hapster);
        COMMANDS.stream()
                .filter(command -> which.test(command.getKey()))
                .forEach(command -> all.addSubcommand(command.getKey(), command.getValue()));
        return all.setOut(new PrintWriter(screen.out(), true, StandardCharsets.UTF_8))
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
