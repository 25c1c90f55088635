package dev.hapster.core.find;

import dev.hapster.core.pattern.NamePattern;
import java.util.Collection;
import java.util.List;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * Files as people name them: by their name, by as much of their path as they like ({@code north/a.csv}), by what they
 * are within their job, or by a pattern that may mean several. A plain name means one file: where it fits several, that
 * is an error which lists them, unless one of them is called exactly so below the folder that holds them all.
 */
public final class FilesNamed {

    private static final int MOST_LISTED = 10;

    private final String text;
    private final NamePattern pattern;

    private FilesNamed(String text, NamePattern pattern) {
        this.text = text;
        this.pattern = pattern;
    }

    /** A name that fits several files. The message lists them. */
    public static final class AmbiguousException extends Exception {
        /** @param sources the files, each as it can be named */
        public AmbiguousException(String text, Collection<String> sources) {
            super("'" + text + "' is the name of " + sources.size() + " files: "
                    + sources.stream().limit(MOST_LISTED).collect(Collectors.joining(", "))
                    + (sources.size() > MOST_LISTED ? " and " + (sources.size() - MOST_LISTED) + " more" : "")
                    + ". Name one of them with its folder");
        }
    }

    /** @throws IllegalArgumentException with a sentence for people, where it is a pattern that is not well-formed */
    public static FilesNamed of(String text) {
        return new FilesNamed(text, NamePattern.of(text));
    }

    /**
     * Which of the files are meant.
     *
     * @param sources what they are within their jobs ({@code Sources}), or their paths
     * @return none where no file is called so
     * @throws AmbiguousException where a plain name fits several
     */
    public List<String> among(Collection<String> sources) throws AmbiguousException {
        if (sources.contains(text)) {
            return List.of(text);
        }
        TreeSet<String> fitting = sources.stream().filter(this::fits).collect(Collectors.toCollection(TreeSet::new));
        boolean plain = fitting.stream().allMatch(source -> source.endsWith(text));
        if (fitting.size() < 2 || !plain) {
            return List.copyOf(fitting);
        }
        for (String one : fitting) {
            String folder = one.substring(0, one.length() - text.length());
            if (fitting.stream().allMatch(other -> other.startsWith(folder))) {
                return List.of(one);
            }
        }
        throw new AmbiguousException(text, fitting);
    }

    /** Whether the name fits the end of a path, whole names only. */
    private boolean fits(String source) {
        if (source.equals(text) || pattern.matches(source)) {
            return true;
        }
        for (int at = 0; at < source.length(); at++) {
            char c = source.charAt(at);
            if (c == '!') {
                return false; // what follows is inside the file
            }
            if (c == '/' || c == ':') {
                String end = source.substring(at + 1);
                if (end.equals(text) || pattern.matches(end)) {
                    return true;
                }
            }
        }
        return false;
    }
}
