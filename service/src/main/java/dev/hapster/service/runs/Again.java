package dev.hapster.service.runs;

import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.FilesNamed;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.workspace.PreparedJob;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Predicate;

/**
 * Which files are loaded though they have not changed.
 *
 * @param all all of them
 * @param files patterns for names or paths below their folder; none where {@code all}, or where none is
 */
public record Again(boolean all, List<String> files) {
    public static final Again NOTHING = new Again(false, List.of());

    boolean any() {
        return all || !files.isEmpty();
    }

    Predicate<Candidate> which(PreparedJob prepared) throws QueryException {
        if (files.isEmpty()) {
            return file -> all;
        }
        Set<String> sources = new HashSet<>();
        for (Candidate file : prepared.finding().taken()) {
            String source = prepared.sources().of(file);
            sources.add(source);
            sources.add(whole(source));
        }
        Set<String> meant = new HashSet<>();
        List<String> wrong = new ArrayList<>();
        for (String text : files) {
            try {
                List<String> named = FilesNamed.of(text).among(sources);
                meant.addAll(named);
                if (named.isEmpty()) {
                    wrong.add("No file that " + prepared.job().name() + " takes is called '" + text + "'. hapster find "
                            + prepared.job().name() + " lists them");
                }
            } catch (IllegalArgumentException | FilesNamed.AmbiguousException unclear) {
                wrong.add(unclear.getMessage());
            }
        }
        if (!wrong.isEmpty()) {
            throw new QueryException(String.join("\n", wrong));
        }
        return file -> {
            String source = prepared.sources().of(file);
            return all || meant.contains(source) || meant.contains(whole(source));
        };
    }

    /** The file itself, where an entry or a sheet of it is meant. */
    private static String whole(String source) {
        int inside = source.indexOf('!');
        return inside > 0 ? source.substring(0, inside) : source;
    }
}
