package dev.hapster.core.workspace;

import dev.hapster.core.definition.LookupTable;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.parse.Lookups;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The tables of a workspace in which jobs look values up: delimited text in UTF-8 with a header. The files are the
 * truth: they are read anew each time, and only what was made of the same bytes before is not made again. Thread-safe.
 */
final class LookupFiles implements Lookups {

    private static final int MOST_BYTES = 10_000_000;
    private static final int MOST_ROWS = 100_000;
    private static final int REMEMBERED = 30;

    /** Gives the bytes of a file of the workspace. */
    interface Files {
        byte[] bytes(String file, int most) throws IOException, DefinitionException;
    }

    private final Files files;
    private final Map<String, Found> made = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Found> eldest) {
            return size() > REMEMBERED;
        }
    };

    LookupFiles(Files files) {
        this.files = files;
    }

    @Override
    public Found table(String file, String by, String take) {
        if (file.startsWith("/")
                || file.contains("\\")
                || List.of(file.split("/")).contains("..")
                || file.startsWith("store/")) {
            return wrong(file, 0, "a table lies in the workspace", "Put it there, such as lookups/codes.csv");
        }
        byte[] bytes;
        try {
            bytes = files.bytes(file, MOST_BYTES);
        } catch (DefinitionException wrong) {
            return new Found(Optional.empty(), wrong.problems());
        } catch (IOException wrong) {
            return wrong(file, 0, "reading the file failed: " + wrong.getMessage(), "");
        }
        if (bytes.length > MOST_BYTES) {
            return wrong(file, 0, "the table is larger than 10 MB", "A lookup table is a small file");
        }
        String version = Definitions.version(bytes);
        String key = String.join("\n", file, by, take, version);
        synchronized (made) {
            Found known = made.get(key);
            if (known != null) {
                return known;
            }
        }
        Found found = read(file, by, take, bytes, version);
        synchronized (made) {
            made.put(key, found);
        }
        return found;
    }

    private static Found wrong(String file, long line, String what, String hint) {
        return new Found(Optional.empty(), List.of(new Problem(file, (int) line, 0, what, hint)));
    }

    private static Found read(String file, String by, String take, byte[] bytes, String version) {
        Found first = null;
        for (String separator : List.of(",", ";", "\t", "|")) {
            Found found = read(file, by, take, bytes, version, separator);
            first = first == null || found.table().isPresent() || isFurther(found) ? found : first;
            if (found.table().isPresent() || isFurther(found)) {
                return found;
            }
        }
        return first;
    }

    /** Whether both columns were there, so that the separator is the right one. */
    private static boolean isFurther(Found found) {
        return found.problems().stream().anyMatch(problem -> problem.line() > 1);
    }

    private static Found read(String file, String by, String take, byte[] bytes, String version, String separator) {
        Read rules = Read.USUAL.with(ReadSection.SEPARATOR, List.of(separator));
        Map<String, String> values = new HashMap<>();
        Map<String, Long> lines = new HashMap<>();
        List<Problem> problems = new ArrayList<>();
        try (RecordReader reader = new DelimitedReader(new ByteArrayInputStream(bytes), rules)) {
            Header columns = reader.header();
            List<String> header = columns.names();
            int key = header.indexOf(by);
            int value = header.indexOf(take);
            for (String wanted : List.of(by, take)) {
                if (!header.contains(wanted)) {
                    problems.add(new Problem(
                            file,
                            1,
                            0,
                            "the table has no column " + Reasons.quote(wanted) + ", only " + String.join(", ", header),
                            Nearest.hint(wanted, header)));
                }
            }
            RawBatch raw = RecordReader.batchFor(columns);
            while (problems.isEmpty() && reader.next(raw)) {
                for (int row = 0; row < raw.rows; row++) {
                    problem(file, raw, row, key, value, lines, values).ifPresent(problems::add);
                }
                if (lines.size() > MOST_ROWS) {
                    return wrong(
                            file,
                            0,
                            "the table has more than " + Reasons.grouped(MOST_ROWS) + " lines",
                            "A lookup table is a small file; load large ones as a dataset of their own");
                }
            }
        } catch (FileRejectedException wrong) {
            return wrong(file, 0, "the table " + wrong.reason().sentence(), "");
        } catch (IOException wrong) {
            return wrong(file, 0, "the table cannot be read: " + wrong.getMessage(), "It must be UTF-8");
        }
        return problems.isEmpty()
                ? new Found(Optional.of(new LookupTable(file, by, take, values, lines, version)), List.of())
                : new Found(Optional.empty(), problems.stream().limit(20).toList());
    }

    private static Optional<Problem> problem(
            String file,
            RawBatch raw,
            int row,
            int key,
            int value,
            Map<String, Long> lines,
            Map<String, String> values) {
        int line = (int) raw.line[row];
        if (raw.fields[row] != raw.width) {
            return Optional.of(new Problem(
                    file,
                    line,
                    0,
                    Reasons.fieldCount(raw.fields[row], raw.width).sentence(),
                    "Correct the line"));
        }
        String name = raw.text(row, key).strip();
        if (name.isEmpty()) {
            return Optional.of(new Problem(file, line, 0, "the key is empty", "Give it one, or take the line out"));
        }
        Long before = lines.putIfAbsent(name, raw.line[row]);
        values.put(name, raw.text(row, value).strip());
        return before == null
                ? Optional.empty()
                : Optional.of(new Problem(
                        file,
                        line,
                        0,
                        "the key " + Reasons.quote(name) + " stands in line " + before + " already",
                        "Keep one of the two"));
    }
}
