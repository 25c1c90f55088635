package dev.hapster.core.run.inspect;

import dev.hapster.core.find.Candidate;
import dev.hapster.core.query.profile.ColumnFacts;
import dev.hapster.core.query.profile.ColumnProfile;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.RejectedRow;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.run.load.RowRules;
import dev.hapster.core.run.open.FileOpening;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.open.SourceContent;
import dev.hapster.core.run.open.SourceStream;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.shape.FileSays;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/**
 * What the columns of a job's files hold before they are loaded: every row is read and judged as a run would judge it
 * by itself, and nothing is written. Whether a row is there already is told by a run alone.
 *
 * @param files how many were read
 * @param rows that they have
 * @param aside how many of them the job's own rules set aside
 * @param rejected how many of them would be rejected
 * @param columns what the values of the others hold, by column of the dataset
 * @param missing for each column of the dataset, of how many of these others the file has no such column
 * @param faults for each column the rows rejected for it, by reason; the column is empty where the whole row is meant
 * @param notes what a person should know of single files, a sentence each
 */
public record FileProfile(
        int files,
        long rows,
        long aside,
        long rejected,
        List<ColumnProfile> columns,
        List<Long> missing,
        Map<String, Map<String, Fault>> faults,
        List<String> notes) {

    /** Files that are named in notes, at most. */
    private static final int MOST_NOTES = 20;

    /**
     * Values that are rejected for one reason.
     *
     * @param rows how many
     * @param first what is wrong with the first of them, with its file and line
     */
    public record Fault(long rows, String first) {
        private Fault more() {
            return new Fault(rows + 1, first);
        }
    }

    /**
     * Reads files.
     *
     * @param opener opens them
     * @throws IOException where the machine fails; a file that cannot be read is a note instead
     */
    public static FileProfile of(PreparedJob prepared, List<Candidate> files, Opener opener) throws IOException {
        Gathering all = new Gathering(prepared);
        for (Candidate file : files) {
            all.read(file, opener);
        }
        return all.profile(files.size());
    }

    private static final class Gathering {
        private final PreparedJob prepared;
        private final ColumnFacts facts;
        private final long[] missing;
        private final Map<String, Map<String, Fault>> faults = new TreeMap<>();
        private final List<String> notes = new ArrayList<>();
        private int noted;
        private long rows;
        private long aside;
        private long rejected;

        Gathering(PreparedJob prepared) {
            this.prepared = prepared;
            facts = new ColumnFacts(prepared.dataset().columns());
            missing = new long[prepared.dataset().columns().size()];
        }

        void read(Candidate file, Opener opener) throws IOException {
            try (SourceContent content = opener.content(file);
                    RecordReader reader = FileOpening.open(prepared, file, content, Long.MAX_VALUE)) {
                Header header = reader.header();
                Binding binding = FileOpening.bind(prepared, file, header, reader);
                rows(file, reader, header, binding, FileOpening.says(file, reader));
            } catch (FileRejectedException wrong) {
                note(file, wrong.reason());
            } catch (SourceStream.SourceException wrong) {
                note(file, wrong.reason());
            }
        }

        private void note(Candidate file, Reason reason) {
            if (noted++ < MOST_NOTES) {
                notes.add(prepared.name(file) + " would be rejected as a whole: it " + reason.sentence());
            }
        }

        private void rows(Candidate file, RecordReader reader, Header header, Binding binding, FileSays says)
                throws IOException, FileRejectedException {
            Shaper shaper = new Shaper(prepared.dataset(), prepared.job(), binding, says);
            shaper.shareWhere(() -> true);
            RowRules rules = new RowRules(prepared.dataset(), prepared.job().handling(), shaper);
            RawBatch raw = RecordReader.batchFor(header);
            for (long before = 0; reader.next(raw); before += raw.rows) {
                long done = before;
                TypedBatch typed = shaper.shape(raw, before, row -> {
                    int at = (int) (row.number() - 1 - done);
                    if (!rules.none()
                            && rules.ofFaulty(raw, at, rules.faulty(shaper, raw, at, row.faults()))
                                            .left()
                                    != null) {
                        aside++;
                    } else {
                        reject(file, row.line(), row.faults());
                    }
                });
                rows += raw.rows;
                int kept = rules.none() ? typed.goodRows : judge(file, raw, typed, rules);
                for (int i = 0; i < missing.length; i++) {
                    missing[i] += binding.fields()[i] == Binding.ABSENT ? kept : 0;
                }
                facts.add(typed.columns, typed.good, kept);
            }
        }

        /** Leaves those of the good rows that the job's rules leave; returns how many these are. */
        private int judge(Candidate file, RawBatch raw, TypedBatch typed, RowRules rules) {
            int kept = 0;
            for (int i = 0; i < typed.goodRows; i++) {
                int row = typed.good[i];
                RowRules.Verdict verdict = rules.of(raw, row);
                if (verdict.refused() != null) {
                    reject(file, raw.line[row], List.of(new RejectedRow.Fault("", "", verdict.refused())));
                } else if (verdict.left() != null || verdict.deletes()) {
                    aside++;
                } else {
                    typed.good[kept++] = row;
                }
            }
            return kept;
        }

        private void reject(Candidate file, long line, List<RejectedRow.Fault> found) {
            rejected++;
            Set<String> met = new HashSet<>();
            for (RejectedRow.Fault fault : found) {
                String code = fault.reason().code().code();
                if (met.add(fault.column() + " " + code)) {
                    faults.computeIfAbsent(fault.column(), unused -> new TreeMap<>())
                            .merge(
                                    code,
                                    new Fault(
                                            1,
                                            prepared.name(file) + ":" + line + " "
                                                    + fault.reason().sentence()),
                                    (old, one) -> old.more());
                }
            }
        }

        FileProfile profile(int files) {
            if (noted > notes.size()) {
                notes.add("So would " + Reasons.grouped(noted - notes.size()) + " more files");
            }
            List<Long> absent = new ArrayList<>();
            for (long one : missing) {
                absent.add(one);
            }
            return new FileProfile(files - noted, rows, aside, rejected, facts.profiles(), absent, faults, notes);
        }
    }
}
