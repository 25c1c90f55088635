package dev.hapster.core.store;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.apache.parquet.column.ColumnReader;
import org.apache.parquet.column.impl.ColumnReadStoreImpl;
import org.apache.parquet.column.page.PageReadStore;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.schema.MessageType;

/**
 * Puts the parts of several files into one, value for value: they are the same parts in another place. Memory is that
 * of one row group. To be used once, by one thread.
 */
final class Merge {

    /** Notes that say something of a file, and not of a part in it. */
    private static final Set<String> OF_FILE = Set.of("rows", "part", "sums", Bundle.LIST, PartStore.DELETED);

    private final PartStore store;
    private final List<String> names = new ArrayList<>();
    private final List<Span> spans = new ArrayList<>();
    private final List<Bundle.Member> members = new ArrayList<>();
    private MessageType schema;

    Merge(PartStore store) {
        this.store = store;
    }

    /**
     * Takes the parts of a file that are wanted, if they can go with those of the others.
     *
     * @return whether they were taken; not where the file has other columns, says that rows are to go, or has not all
     *     that is wanted, with rows
     * @throws DamagedPartException where it is missing, or is not what was written
     */
    boolean take(String file, Set<String> wanted) throws IOException {
        Path path = store.path(file);
        Map<String, Map<String, String>> contents = store.contents(file);
        if (!contents.keySet().containsAll(wanted)
                || contents.values().stream().anyMatch(notes -> notes.containsKey(PartStore.DELETED))
                || wanted.stream()
                        .anyMatch(name -> contents.get(name).get("rows").equals("0"))) {
            return false;
        }
        try (ParquetFileReader reader = SealedInput.open(path)) {
            MessageType has = reader.getFileMetaData().getSchema();
            if (schema != null && !schema.equals(has)) {
                return false;
            }
            schema = has;
        }
        contents.forEach((name, notes) -> {
            long rows = Long.parseLong(notes.get("rows"));
            if (wanted.contains(name)) {
                Span span = store.span(name);
                names.add(name);
                spans.add(new Span(path, span.first(), rows));
                Map<String, String> own = new HashMap<>(notes);
                own.keySet().removeAll(OF_FILE);
                members.add(new Bundle.Member(0, rows, own));
            }
        });
        return true;
    }

    /**
     * Writes what was taken.
     *
     * @return the file's seal
     * @throws DamagedPartException where a file is missing by now, or is not what was written
     */
    String write(Path target) throws IOException {
        try (PartWriter writer = PartWriter.of(target, schema)) {
            for (int from = 0, to; from < spans.size(); from = to) {
                Path file = spans.get(from).file();
                to = from;
                while (to < spans.size() && spans.get(to).file().equals(file)) {
                    to++;
                }
                copy(writer, file, spans.subList(from, to));
            }
            return Bundle.finish(writer, members);
        }
    }

    private void copy(PartWriter writer, Path path, List<Span> wanted) throws IOException {
        try (ParquetFileReader file = SealedInput.open(path)) {
            long at = 0;
            int next = 0;
            for (PageReadStore group = file.readNextRowGroup(); group != null; group = file.readNextRowGroup()) {
                ColumnReadStoreImpl store = SealedInput.columns(file, group, schema);
                List<ColumnReader> columns =
                        schema.getColumns().stream().map(store::getColumnReader).toList();
                long end = at + group.getRowCount();
                while (next < wanted.size() && wanted.get(next).first() < end) {
                    Span span = wanted.get(next);
                    long skipped = Math.max(0, span.first() - at);
                    columns.forEach(column -> SealedInput.pass(column, skipped));
                    at += skipped;
                    long rows = Math.min(span.end(), end) - at;
                    writer.write(columns, rows);
                    at += rows;
                    if (span.end() > end) {
                        break;
                    }
                    next++;
                }
                at = end;
            }
        } catch (DamagedPartException told) {
            throw told;
        } catch (RuntimeException damaged) {
            throw new DamagedPartException(path, "is damaged: " + damaged.getMessage());
        }
    }

    /** The names of the parts in a file that was written, by those that they had. */
    Map<String, String> renamed(String file) {
        Map<String, String> renamed = new LinkedHashMap<>();
        long first = 0;
        for (int i = 0; i < names.size(); i++) {
            long rows = members.get(i).rows();
            renamed.put(names.get(i), names.size() == 1 ? file : Span.named(file, first, rows));
            first += rows;
        }
        return renamed;
    }

    /** Rows by the first one of each part, as they must be in the file that was written. */
    Map<Long, Long> counts() {
        Map<Long, Long> counts = new HashMap<>();
        long first = 0;
        for (Bundle.Member member : members) {
            counts.put(first, member.rows());
            first += member.rows();
        }
        return counts;
    }
}
