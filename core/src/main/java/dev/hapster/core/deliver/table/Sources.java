package dev.hapster.core.deliver.table;

import dev.hapster.core.deliver.Handover.Change;
import dev.hapster.core.deliver.Handover.FileChange;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** What became of the rows of each file that brought some. Not thread-safe. */
final class Sources {

    private final Path workspace;
    private final Map<String, Sum> all = new TreeMap<>();

    /** Of one file. */
    private static final class Sum {
        private boolean written;
        private boolean gone;
        private boolean kept;
        private long rows;
        private long bytes;

        private Change change() {
            if (written || (gone && kept)) {
                return Change.WRITTEN;
            }
            return gone ? Change.REMOVED : Change.UNCHANGED;
        }
    }

    /** @param workspace to which sources are relative */
    Sources(Path workspace) {
        this.workspace = workspace;
    }

    private Sum of(String source) {
        return all.computeIfAbsent(source, fresh -> new Sum());
    }

    /** Rows stay as they are. */
    void kept(String source, long rows) {
        Sum sum = of(source);
        sum.kept = true;
        sum.rows += rows;
    }

    /** Rows are taken out. */
    void gone(String source) {
        of(source).gone = true;
    }

    /** Rows are put in. */
    void fresh(String source, long rows, long bytes) {
        Sum sum = of(source);
        sum.written = true;
        sum.rows += rows;
        sum.bytes += bytes;
    }

    List<FileChange> changes() {
        List<FileChange> changes = new ArrayList<>();
        all.forEach((source, sum) ->
                changes.add(new FileChange(workspace.resolve(source), sum.change(), sum.rows, sum.bytes, "")));
        return changes;
    }
}
