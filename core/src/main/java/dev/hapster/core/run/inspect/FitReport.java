package dev.hapster.core.run.inspect;

import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.reason.Reason;
import java.util.List;
import java.util.Optional;

/**
 * Whether a job's files have the structure that it declares: files of equal structure are one group.
 *
 * @param problems what keeps the job from running; then there are no groups
 * @param columns the dataset's columns, in its order
 * @param files files (sheets, entries of archives) that were looked at
 * @param waiting files that are not complete and were not looked at
 * @param groups the largest first
 */
public record FitReport(List<Problem> problems, List<String> columns, int files, int waiting, List<Group> groups) {

    public FitReport {
        problems = List.copyOf(problems);
        columns = List.copyOf(columns);
        groups = List.copyOf(groups);
    }

    /** How well a group's files suit. */
    public enum Verdict {
        FITS("fits"),
        DIFFERS("fits with differences"),
        UNFIT("does not fit");

        private final String words;

        Verdict(String words) {
            this.words = words;
        }

        public String words() {
            return words;
        }
    }

    /** What a column of the dataset is fed by in a group's files. */
    public enum State {
        /** A column of the file. */
        PRESENT,
        /** A column of the file that stands elsewhere than in most files. */
        MOVED,
        /** A column of the file whose values mostly do not suit. */
        OTHER_TYPE,
        /** The file lacks it, and is rejected for it. */
        MISSING,
        /** The file lacks it, and it is left empty. */
        EMPTY,
        /** A constant, or a fact from the file's name. */
        FIXED
    }

    /**
     * Files of equal structure.
     *
     * @param files how many
     * @param names first all in which something does not fit, then the first of the others
     * @param reason why they are rejected, where they are
     * @param header their columns as they stand there; empty where they cannot be read so far
     * @param cells one for each column of the dataset; empty where the files have no header that could be read
     * @param extra columns that are not mapped
     * @param rows rows of them that were looked at
     * @param rejected how many of those would be rejected
     * @param changes what could be changed so that they fit better, in sentences
     */
    public record Group(
            Verdict verdict,
            int files,
            List<Named> names,
            Optional<Reason> reason,
            List<String> header,
            List<Cell> cells,
            List<Extra> extra,
            long rows,
            long rejected,
            List<String> changes) {
        public Group {
            names = List.copyOf(names);
            header = List.copyOf(header);
            cells = List.copyOf(cells);
            extra = List.copyOf(extra);
            changes = List.copyOf(changes);
        }
    }

    /**
     * A file of a group.
     *
     * @param rows rows of it that were looked at
     * @param rejected how many of those would be rejected
     */
    public record Named(int place, String relative, String name, long rows, long rejected) {}

    /**
     * A column of the dataset in a group's files.
     *
     * @param header its name there; empty where it has none
     * @param position counted from 1; 0 where it has none, or positions mean nothing
     * @param usual its position in most files
     * @param looks what its values look like, and the first of those that do not suit; empty where all is well
     */
    public record Cell(String column, State state, String header, int position, int usual, String looks) {}

    /**
     * A column of the files that is not mapped.
     *
     * @param passed whether the job lets it pass
     */
    public record Extra(String name, int position, boolean passed) {}
}
