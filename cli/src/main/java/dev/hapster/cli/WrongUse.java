package dev.hapster.cli;

import dev.hapster.terminal.ExitStatus;
import java.util.Collection;
import java.util.Comparator;
import java.util.Optional;
import java.util.stream.Stream;
import org.apache.commons.text.similarity.LevenshteinDistance;
import picocli.CommandLine;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.UnmatchedArgumentException;

/** The answer to a command that was used wrongly: one sentence, and where to read on. */
final class WrongUse {

    private static final int MOST_SLIPS = 2;

    private WrongUse() {}

    static int told(ParameterException wrong, String[] arguments) {
        CommandLine command = wrong.getCommandLine();
        String name = command.getCommandSpec().qualifiedName();
        command.getErr().println(sentence(wrong, command));
        command.getErr().println("  " + name + " --help");
        return ExitStatus.WRONG_USE;
    }

    private static String sentence(ParameterException wrong, CommandLine command) {
        if (!(wrong instanceof UnmatchedArgumentException unmatched)
                || unmatched.getUnmatched().isEmpty()) {
            return wrong.getMessage();
        }
        String given = unmatched.getUnmatched().get(0);
        boolean isOption = given.startsWith("-");
        boolean isCommand = !isOption && command.getParent() == null;
        Collection<String> known = isOption
                ? command.getCommandSpec().optionsMap().keySet()
                : command.getSubcommands().keySet();
        return "There is no " + (isOption ? "option" : isCommand ? "command" : "place for") + " '" + given + "'"
                + (isOption ? " in " + command.getCommandSpec().qualifiedName() : "")
                + nearest(given, known)
                        .map(word -> ". Did you mean '" + word + "'?")
                        .orElse("");
    }

    private static Optional<String> nearest(String given, Collection<String> known) {
        LevenshteinDistance distance = new LevenshteinDistance(MOST_SLIPS);
        record Scored(String word, int slips) {}
        Stream<Scored> scored = known.stream().map(word -> new Scored(word, distance.apply(given, word)));
        return scored.filter(one -> one.slips >= 0 && one.slips < one.word.length() - 1)
                .min(Comparator.comparingInt(Scored::slips))
                .map(Scored::word);
    }
}
