package dev.hapster.core.query;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.store.reject.RejectStore.Left;
import dev.hapster.core.store.reject.RejectStore.Reject;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;

/**
 * The rows that a run rejected or set aside, in the columns of their source, with what is said of them behind:
 * {@code _file}, {@code _line}, {@code _column}, {@code _value}, {@code _code}, {@code _reason}, or {@code _rule}. Jobs
 * skip these columns, so that a corrected copy can be loaded as it is.
 */
public final class RejectExport {

    private static final List<String> REJECTED = List.of("_file", "_line", "_column", "_value", "_code", "_reason");
    private static final List<String> LEFT = List.of("_file", "_line", "_rule");
    private static final String BETWEEN = "; ";

    private final RejectStore store;
    private final long run;
    private final Map<String, List<String>> headers;
    private final boolean aside;
    private final List<String> columns;

    /**
     * @param headers columns of the files, by path
     * @param aside whether rows that were set aside are meant, and not those that were rejected
     */
    public RejectExport(RejectStore store, long run, Map<String, List<String>> headers, boolean aside) {
        this.store = store;
        this.run = run;
        this.headers = headers;
        this.aside = aside;
        Set<String> all = new LinkedHashSet<>();
        headers.values().forEach(all::addAll);
        all.removeAll(aside ? LEFT : REJECTED);
        columns = List.copyOf(all);
    }

    /** One row; what is said of it behind its values. */
    private interface Sink {
        void row(List<String> values, List<String> said) throws IOException;
    }

    /** Writes all rows; returns how many there were. */
    public long write(RowWriter to) throws IOException {
        List<Field> fields = new ArrayList<>();
        columns.forEach(name -> fields.add(new Field(name, ColumnType.of(Kind.TEXT))));
        (aside ? LEFT : REJECTED).forEach(name -> fields.add(new Field(name, ColumnType.of(Kind.TEXT))));
        try (RowWriter writer = to) {
            writer.begin(fields);
            List<Comparable<?>> row = new ArrayList<>();
            long count = each((values, said) -> {
                row.clear();
                row.addAll(values);
                row.addAll(said);
                writer.row(row);
            });
            writer.finish();
            return count;
        }
    }

    /** Writes all rows as delimited text that a job with these rules reads again. */
    public long likeSource(Read read, OutputStream out) throws IOException {
        Writer text = new BufferedWriter(new OutputStreamWriter(out, read.encoding()));
        for (int i = 0; i < read.get(ReadSection.LINES_ABOVE); i++) {
            text.write((aside ? "Rows set aside by run " : "Rows rejected by run ") + run + "\r\n");
        }
        List<String> names = new ArrayList<>(columns);
        names.addAll(aside ? LEFT : REJECTED);
        if (read.hasHeader()) {
            line(text, read, names);
        }
        long count = each((values, said) -> {
            List<String> row = new ArrayList<>(values);
            if (read.hasHeader()) {
                row.addAll(said);
            }
            line(text, read, row);
        });
        if (read.get(ReadSection.ENDS_AT).isPresent()) {
            text.write(read.get(ReadSection.ENDS_AT).get() + "\r\n");
        }
        for (int i = 0; i < read.get(ReadSection.LINES_BELOW); i++) {
            text.write("Rows: " + count + "\r\n");
        }
        text.flush();
        return count;
    }

    private static void line(Writer text, Read read, List<String> values) throws IOException {
        for (int i = 0; i < values.size(); i++) {
            String value = values.get(i) == null ? "" : values.get(i);
            boolean quoted = read.get(ReadSection.QUOTE).isPresent()
                    && (value.contains(read.separator())
                            || value.indexOf(read.get(ReadSection.QUOTE).get()) >= 0
                            || value.indexOf('\n') >= 0
                            || value.indexOf('\r') >= 0);
            String mark = quoted ? read.get(ReadSection.QUOTE).get().toString() : "";
            text.write((i > 0 ? read.separator() : "")
                    + mark
                    + (quoted ? value.replace(mark, mark + mark) : value)
                    + mark);
        }
        text.write("\r\n");
    }

    private long each(Sink sink) throws IOException {
        Rows rows = new Rows(sink);
        try {
            if (aside) {
                Predicate<Left> each = left -> {
                    rows.left(left);
                    return false;
                };
                store.readAside(run, each, 0, 1);
            } else {
                Predicate<Reject> each = reject -> {
                    rows.reject(reject);
                    return false;
                };
                store.read(run, each, 0, 1);
            }
            rows.flush();
        } catch (UncheckedIOException wrong) {
            throw wrong.getCause();
        }
        return rows.count;
    }

    /** Puts the faults of a row together. */
    private final class Rows {
        private final Sink sink;
        private Reject first;
        private final List<Reject> faults = new ArrayList<>();
        private long count;

        Rows(Sink sink) {
            this.sink = sink;
        }

        void left(Left left) {
            emit(left.path(), left.fields(), List.of(left.file(), Long.toString(left.line()), left.words()));
        }

        void reject(Reject reject) {
            if (first != null && (first.row() != reject.row() || !first.path().equals(reject.path()))) {
                flush();
            }
            if (reject.row() == 0) {
                return; // a whole file: its rows are where it is
            }
            first = first == null ? reject : first;
            faults.add(reject);
        }

        void flush() {
            if (first != null) {
                emit(
                        first.path(),
                        first.fields(),
                        List.of(
                                first.file(),
                                Long.toString(first.line()),
                                joined(Reject::column),
                                joined(Reject::value),
                                joined(Reject::code),
                                joined(Reject::reason)));
                first = null;
                faults.clear();
            }
        }

        private String joined(java.util.function.Function<Reject, String> what) {
            return String.join(BETWEEN, faults.stream().map(what).toList());
        }

        private void emit(String path, List<String> fields, List<String> said) {
            List<String> header = headers.getOrDefault(path, List.of());
            List<String> values = new ArrayList<>();
            for (String column : columns) {
                int at = header.indexOf(column);
                values.add(at >= 0 && at < fields.size() ? fields.get(at) : null);
            }
            try {
                sink.row(values, said);
            } catch (IOException wrong) {
                throw new UncheckedIOException(wrong);
            }
            count++;
        }
    }
}
