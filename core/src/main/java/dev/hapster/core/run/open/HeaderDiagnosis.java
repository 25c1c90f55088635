package dev.hapster.core.run.open;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.read.text.Separators;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.shape.Binding;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What is probably behind a header that lacks columns. Used for messages only: a run never guesses. */
final class HeaderDiagnosis {

    private static final int LINES = 30;

    private HeaderDiagnosis() {}

    /** @return a sentence for people; empty where nothing speaks for any cause */
    static String cause(DatasetDef dataset, JobDef job, Header header, RecordReader reader) throws IOException {
        String start = header.original().stripLeading();
        if (job.read().as() == Format.DELIMITED
                && (start.startsWith("<") || start.startsWith("{") || start.startsWith("["))) {
            boolean page = start.toLowerCase(java.util.Locale.ROOT).startsWith("<!doctype html")
                    || start.toLowerCase(java.util.Locale.ROOT).startsWith("<html");
            return page
                    ? "it looks like a web page, perhaps an error message that was saved in place of the file"
                    : "it looks like " + (start.startsWith("<") ? "XML" : "JSON");
        }
        if (header.names().stream().anyMatch(name -> name.matches(".*[\u00c3\u00c2][\u0080-\u00bf\u2013-\u2122].*"))) {
            return "it looks like UTF-8 that is read as "
                    + job.read().encoding().name() + "; set `encoding: UTF-8`";
        }
        if (header.names().stream().anyMatch(name -> name.indexOf('\ufffd') >= 0)) {
            return "it looks like another encoding than "
                    + job.read().encoding().name();
        }
        if (job.read().as() == Format.DELIMITED && header.names().size() == 1) {
            Optional<Character> between = Separators.most(header.original());
            if (between.isPresent()) {
                return "it looks separated by "
                        + Reasons.separator(between.get().toString());
            }
        }
        boolean grid = job.read().as().mayHaveHeader();
        if (grid && job.read().hasHeader()) {
            int found = Binding.fit(dataset, job, header.names());
            long line = header(dataset, job, header, reader, found);
            if (line > 0) {
                return "its line " + line + " looks like the header; set `lines_above: " + (line - 1) + "`";
            }
            long values =
                    header.names().stream().filter(HeaderDiagnosis::isValue).count();
            if (found == 0 && values * 3 >= header.names().size() && values > 0) {
                return "its first line looks like a row, not like a header; name the columns with `names`, or "
                        + "set `header: once` where another file names them";
            }
        }
        return "";
    }

    private static boolean isValue(String text) {
        return text.strip().matches("[-+]?\\d[\\d.,:/T -]*");
    }

    /** The line on which the wanted names really stand; 0 where they stand on none of the first. */
    private static long header(DatasetDef dataset, JobDef job, Header header, RecordReader reader, int found)
            throws IOException {
        RawBatch batch = new RawBatch(Math.max(1, Math.max(header.names().size(), 200)), LINES);
        try {
            for (int seen = 0; seen < LINES && reader.next(batch); seen += batch.rows) {
                for (int row = 0; row < batch.rows; row++) {
                    List<String> names = new ArrayList<>();
                    for (int field = 0; field < Math.min(batch.width, batch.fields[row]); field++) {
                        names.add(batch.text(row, field));
                    }
                    if (Binding.fit(dataset, job, names) > found + 1) {
                        return batch.line[row];
                    }
                }
            }
        } catch (FileRejectedException noMore) {
            return 0;
        }
        return 0;
    }
}
