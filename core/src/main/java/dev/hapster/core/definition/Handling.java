package dev.hapster.core.definition;

import dev.hapster.core.expression.Expression;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What a job does with rows and files once they are read: how they get into the dataset, what is left out, what counts
 * as too much, and what becomes of the files.
 *
 * @param load how its rows get into the dataset
 * @param together whether the whole run is committed at once; otherwise each file by itself
 * @param deleted which rows say that the row of their key is to go; empty where none do
 * @param duplicates what is done with rows that are there already; empty where nobody looks
 * @param keep which rows are loaded, all of these must hold; the others are set aside
 * @param newestBy with {@code load: update} the column that says which row of a key is the newest; empty where the
 *     order of arrival does
 * @param nameAdds whether another content under the name of a file is another file; otherwise it takes the place of the
 *     first
 */
public record Handling(
        Load load,
        boolean together,
        Optional<Expression> deleted,
        Optional<Duplicates> duplicates,
        List<Expression> keep,
        Limits limits,
        After after,
        Optional<String> newestBy,
        boolean nameAdds) {

    public static final Handling USUAL = new Handling(
            Load.BY_FILE,
            false,
            Optional.empty(),
            Optional.empty(),
            List.of(),
            Limits.NONE,
            After.NOTHING,
            Optional.empty(),
            false);

    public Handling {
        keep = List.copyOf(keep);
    }

    /** Whether what becomes of one file may depend on all others, so that none is committed before all are read. */
    public boolean settlesTogether() {
        return together || load == Load.REPLACE || load == Load.UPDATE || acrossFiles();
    }

    /** Whether rows of different files are compared. */
    public boolean acrossFiles() {
        return load == Load.UPDATE
                || (duplicates.isPresent() && duplicates.get().within() != Within.FILE);
    }

    /** Whether rows of one file are compared with each other, and with no others. */
    public boolean comparesWithinFile() {
        return duplicates.filter(one -> one.within() == Within.FILE).isPresent();
    }

    /** The columns of the file, mapped or not, that conditions ask for by name. */
    public Set<String> sourceColumns() {
        return Stream.concat(keep.stream(), deleted.stream())
                .flatMap(condition -> condition.sourceColumns().stream())
                .collect(Collectors.toSet());
    }

    /** How a job's rows get into the dataset. */
    public enum Load {
        /** The rows of a file take the place of those that it brought before. */
        BY_FILE("loads new files, and those that changed; the rows of a changed file replace those that it brought "
                + "before. Unchanged files are skipped"),
        /** After a run the dataset holds of the job exactly the files that the run took. */
        REPLACE("leaves in the dataset, of this job, exactly the files that it then takes: rows of files that are "
                + "gone or rejected by then are taken out. Unchanged files are not read again; where there are no "
                + "files at all, the run stops and changes nothing"),
        /** Rows are added; those that are there stay. */
        APPEND("adds the rows of new files, and all rows of files that changed; rows that are there stay. Unchanged "
                + "files are skipped, and not doubled by `run --again`"),
        /** A row takes the place of the one with the same key. */
        UPDATE("adds the rows of new and changed files; a row with the same key as an older one takes its place, in "
                + "whichever file that stood. Unchanged files are skipped");

        private final String secondRun;

        Load(String secondRun) {
            this.secondRun = secondRun;
        }

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        /** What a second run does: the end of a sentence, in Markdown. */
        public String secondRun() {
            return secondRun;
        }
    }

    /** Among which rows a row is looked for. */
    public enum Within {
        FILE,
        RUN,
        DATASET;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** What is done with rows that are there already. */
    public enum Then {
        REJECT,
        KEEP_FIRST,
        KEEP_LAST,
        COUNT;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** @param columns by which rows are the same; empty for all of them */
    public record Duplicates(List<String> columns, Within within, Then then) {
        public Duplicates {
            columns = List.copyOf(columns);
        }
    }

    /**
     * A number, or a share.
     *
     * @param count at how many it is reached; 0 where the share counts
     * @param share the same as a part of all, from 0 to 1; 0 where the count does
     */
    public record Limit(long count, double share, String written) {

        /** Whether {@code bad} of {@code all} reach it. */
        public boolean reached(long bad, long all) {
            return bad > 0 && (count > 0 ? bad >= count : bad >= share * all);
        }
    }

    /**
     * What is too much.
     *
     * @param fileAt rejected rows that make a bad file
     * @param runAt rejected files that stop the run
     * @param rejectUnusual whether a file with far more or fewer rows than its like is rejected; otherwise it is
     *     pointed out
     */
    public record Limits(Optional<Limit> fileAt, Optional<Limit> runAt, boolean rejectUnusual) {
        public static final Limits NONE = new Limits(Optional.empty(), Optional.empty(), false);
    }

    /** What becomes of files that were loaded, rejected, or are not complete. */
    public record After(Routing loaded, Routing rejected, Routing waiting) {
        public static final After NOTHING = new After(Routing.LEAVE, Routing.LEAVE, Routing.LEAVE);

        public boolean isNothing() {
            return equals(NOTHING);
        }
    }

    /**
     * What becomes of a file.
     *
     * @param declared whether the job says so; a rejected file has its reasons beside it only then
     * @param target where it goes; empty where it stays or is deleted
     * @param always whether it is deleted even where rows of it are rejected
     */
    public record Routing(Kind kind, boolean declared, Optional<TargetPattern> target, boolean always) {
        public static final Routing LEAVE = new Routing(Kind.LEAVE, false, Optional.empty(), false);

        /** Whether the file does not stay where it was found. */
        public boolean isTaking() {
            return kind == Kind.MOVE || kind == Kind.DELETE;
        }

        /** What is done. */
        public enum Kind {
            LEAVE,
            MOVE,
            COPY,
            DELETE;

            public String word() {
                return name().toLowerCase(Locale.ROOT);
            }
        }
    }
}
