package dev.hapster.core.run.inspect;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
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
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What the header and the first rows of one file tell.
 *
 * @param reason why the file would be rejected whole, as far as its beginning tells
 * @param header its columns; empty where they cannot be read
 * @param binding which of them feed which column of the dataset; empty where there is no header
 * @param suspects values that would be rejected, by column; the column is empty where the whole row is meant
 * @param values of the columns with suspects, the texts of the rows that were looked at
 * @param looks of the columns of type text, what their values look like where that is something in particular
 * @param zeros of the columns of numbers, the first value that begins with a zero, with its place
 * @param rows rows that were looked at
 * @param aside how many of them the job's own rules would set aside
 * @param rejected how many of them would be rejected
 * @param whole whether those are all that the file has
 * @param choices what was chosen for the file among what the job allows, in sentences
 */
public record Sample(
        Candidate file,
        Optional<Reason> reason,
        Optional<Header> header,
        Optional<Binding> binding,
        Map<String, Suspect> suspects,
        Map<String, List<String>> values,
        Map<String, Looks.Look> looks,
        Map<String, String> zeros,
        long rows,
        long aside,
        long rejected,
        boolean whole,
        List<String> choices) {

    /** Rows of each file that are looked at. */
    public static final int ROWS = 200;

    /** Cells that are looked at, at most, of files with very many columns. */
    private static final int CELLS = 1 << 18;

    /** Characters after which no further rows are looked at, where rows are very long. */
    private static final long MOST_CHARACTERS = 1 << 22;

    /**
     * What is wrong with values of a column.
     *
     * @param rows how many rows have such a value
     * @param first why the first of them would be rejected
     * @param line where it stands
     */
    public record Suspect(long rows, Reason first, long line) {
        private Suspect more() {
            return new Suspect(rows + 1, first, line);
        }
    }

    private static Sample unread(Candidate file, Reason reason, Optional<Header> header, Optional<Binding> binding) {
        return new Sample(
                file,
                Optional.of(reason),
                header,
                binding,
                Map.of(),
                Map.of(),
                Map.of(),
                Map.of(),
                0,
                0,
                0,
                false,
                List.of());
    }

    /**
     * Reads the beginning of one file. May be asked for several at once.
     *
     * @param opener opens the file
     * @throws IOException where the machine fails; a file that cannot be read has a reason instead
     */
    public static Sample of(PreparedJob prepared, Candidate file, Opener opener) throws IOException {
        Optional<Header> header = Optional.empty();
        Optional<Binding> binding = Optional.empty();
        try (SourceContent content = opener.content(file);
                RecordReader reader = FileOpening.open(prepared, file, content, FileOpening.MOST_LOOKED)) {
            Header found = reader.header();
            header = Optional.of(found);
            binding = Optional.of(Binding.of(prepared.dataset(), prepared.job(), found.names()));
            Optional<Reason> reason = refusal(prepared, file, found, reader);
            return binding.get().missing().isEmpty()
                    ? new Looking(prepared, file, found, binding.get(), FileOpening.says(file, reader))
                            .at(reader, reason)
                    : unread(file, reason.orElseThrow(), header, binding);
        } catch (FileRejectedException wrong) {
            return unread(file, wrong.reason(), header, binding);
        } catch (SourceStream.SourceException wrong) {
            return unread(file, wrong.reason(), header, binding);
        }
    }

    private static Optional<Reason> refusal(PreparedJob prepared, Candidate file, Header header, RecordReader reader)
            throws IOException {
        try {
            FileOpening.bind(prepared, file, header, reader);
            return Optional.empty();
        } catch (FileRejectedException wrong) {
            return Optional.of(wrong.reason());
        }
    }

    /** What is gathered while the rows of one file are looked at. */
    private static final class Looking {
        private final PreparedJob prepared;
        private final Candidate file;
        private final Header header;
        private final Binding binding;
        private final FileSays says;
        private final Map<String, Suspect> suspects = new LinkedHashMap<>();
        /** By the place of the column in the dataset. */
        private final Map<Integer, List<String>> texts = new HashMap<>();

        private final Map<String, String> zeros = new HashMap<>();
        private long characters;
        private long aside;
        private long rejected;

        private Looking(PreparedJob prepared, Candidate file, Header header, Binding binding, FileSays says) {
            this.says = says;
            this.prepared = prepared;
            this.file = file;
            this.header = header;
            this.binding = binding;
        }

        private Sample at(RecordReader reader, Optional<Reason> reason) throws IOException, FileRejectedException {
            int width = Math.max(1, header.names().size());
            int most = Math.max(1, Math.min(ROWS, CELLS / width));
            Shaper shaper = new Shaper(prepared.dataset(), prepared.job(), binding, says);
            RawBatch raw = new RawBatch(width, most);
            int rows = 0;
            boolean whole = false;
            while (rows < most && characters < MOST_CHARACTERS && !whole) { // a batch may be a single row
                if (rows > 0) {
                    remember(raw);
                    raw = new RawBatch(width, most - rows);
                }
                whole = !reader.next(raw);
                if (!whole) {
                    judge(shaper, raw, rows);
                    rows += raw.rows;
                }
            }
            remember(raw);
            Map<String, List<String>> values = new HashMap<>();
            Map<String, Looks.Look> looks = new HashMap<>();
            for (int i = 0; i < binding.fields().length; i++) {
                ColumnDef column = prepared.dataset().columns().get(i);
                if (suspects.containsKey(column.name())) {
                    values.put(column.name(), texts.getOrDefault(i, List.of()));
                    zeros.remove(column.name());
                } else if (column.type().kind() == Kind.TEXT) {
                    Looks.typed(texts.getOrDefault(i, List.of())).ifPresent(look -> looks.put(column.name(), look));
                }
            }
            return new Sample(
                    file,
                    reason,
                    Optional.of(header),
                    Optional.of(binding),
                    suspects,
                    values,
                    looks,
                    zeros,
                    rows,
                    aside,
                    rejected,
                    whole,
                    reader.choices());
        }

        /** Keeps what must be known of the rows of a batch once all are read. */
        private void remember(RawBatch raw) {
            for (int i = 0; i < binding.fields().length; i++) {
                int field = binding.fields()[i];
                ColumnDef column = prepared.dataset().columns().get(i);
                if (field < 0) {
                    continue;
                }
                List<String> some = texts(raw, field);
                characters += some.stream().mapToLong(String::length).sum();
                texts.computeIfAbsent(i, any -> new ArrayList<>()).addAll(some);
                if (column.type().isNumber() && !zeros.containsKey(column.name())) {
                    zero(raw, field).ifPresent(found -> zeros.put(column.name(), found));
                }
            }
        }

        private void judge(Shaper shaper, RawBatch raw, int before) {
            RowRules rules = new RowRules(prepared.dataset(), prepared.job().handling(), shaper);
            TypedBatch typed = shaper.shape(raw, before, row -> {
                int at = (int) (row.number() - before - 1);
                if (!rules.none()
                        && rules.ofFaulty(raw, at, rules.faulty(shaper, raw, at, row.faults()))
                                        .left()
                                != null) {
                    aside++;
                    return;
                }
                reject(row.line(), row.faults());
            });
            for (int i = 0; i < typed.goodRows && !rules.none(); i++) {
                RowRules.Verdict verdict = rules.of(raw, typed.good[i]);
                if (verdict.refused() != null) {
                    reject(raw.line[typed.good[i]], List.of(new RejectedRow.Fault("", "", verdict.refused())));
                } else if (verdict.left() != null) {
                    aside++;
                }
            }
        }

        private void reject(long line, List<RejectedRow.Fault> faults) {
            rejected++;
            for (RejectedRow.Fault fault : faults) {
                suspects.merge(fault.column(), new Suspect(1, fault.reason(), line), (old, one) -> old.more());
            }
        }

        private Optional<String> zero(RawBatch raw, int field) {
            for (int row = 0; row < raw.rows; row++) {
                if (isText(raw, row, field)) {
                    String text = raw.text(row, field).strip();
                    if (Looks.isZeroed(text)) {
                        return Optional.of(text + " (" + prepared.name(file) + ":" + raw.line[row] + ")");
                    }
                }
            }
            return Optional.empty();
        }
    }

    private static boolean isText(RawBatch raw, int row, int field) {
        return raw.fields[row] == raw.width
                && (raw.kinds == null || raw.kinds[row * raw.width + field] == RawBatch.TEXT);
    }

    private static List<String> texts(RawBatch raw, int field) {
        List<String> texts = new ArrayList<>();
        for (int row = 0; row < raw.rows; row++) {
            if (raw.fields[row] == raw.width) {
                texts.add(raw.text(row, field));
            }
        }
        return texts;
    }
}
