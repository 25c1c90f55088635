package dev.hapster.core.run;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.Handling.Load;
import dev.hapster.core.definition.Handling.Then;
import dev.hapster.core.definition.Handling.Within;
import dev.hapster.core.query.Field;
import dev.hapster.core.query.PartReader;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.Vector;
import dev.hapster.core.run.Catalogue.Rewrite;
import dev.hapster.core.run.FileLoader.Attempt;
import dev.hapster.core.run.FileLoader.CancelledException;
import dev.hapster.core.run.FileLoader.Repeats;
import dev.hapster.core.store.PartSchema;
import dev.hapster.core.store.PartStore;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Settles which rows stay where files of a run, or of the dataset, have rows with the same values. */
final class Settling {

    private final Prepared prepared;
    private final long run;
    private final FileLoader loader;
    private final PartStore parts;
    private final Path scratch;

    Settling(Prepared prepared, long run, FileLoader loader, PartStore parts, Path scratch) {
        this.prepared = prepared;
        this.run = run;
        this.loader = loader;
        this.parts = parts;
        this.scratch = scratch;
    }

    /**
     * What came of it.
     *
     * @param attempts the files as they are to be committed
     * @param rewrites parts that lose rows; they are published
     */
    record Settled(List<Attempt> attempts, List<Rewrite> rewrites, List<String> notes) {
    }

    /** A part that is looked at, its name for people, and the attempt that it belongs to where it is new. */
    private record Source(Path part, String name, Optional<Attempt> fresh, Optional<Part> stored) {
    }

    /**
     * @param attempts all files of the run
     * @param stored   parts of the dataset that stay
     */
    Settled settle(List<Attempt> attempts, List<Part> stored, boolean trial) throws IOException, RunFailedException, CancelledException {
        Handling handling = prepared.job().handling();
        boolean update = handling.load() == Load.UPDATE;
        boolean keepLast = update || handling.duplicates().orElseThrow().then() == Then.KEEP_LAST;
        boolean count = !update && handling.duplicates().orElseThrow().then() == Then.COUNT;
        List<Source> sources = new ArrayList<>();
        if (update || handling.duplicates().orElseThrow().within() == Within.DATASET) {
            stored.forEach(part -> sources.add(new Source(parts.path(part.name()), name(part.path()), Optional.empty(), Optional.of(part))));
        }
        int old = sources.size();
        attempts.stream().filter(attempt -> attempt.staged().isPresent())
                .sorted(Comparator.comparing((Attempt attempt) -> attempt.file().modified()).thenComparing(attempt -> attempt.result().ordinal()))
                .forEach(attempt -> sources.add(new Source(attempt.staged().get(), attempt.file().name(), Optional.of(attempt), Optional.empty())));
        if (sources.size() == old) {
            return new Settled(attempts, List.of(), List.of());
        }
        try (KeyIndex index = new KeyIndex(scratch, keepLast)) {
            for (int i = 0; i < sources.size(); i++) {
                scan(index, i, sources.get(i).part(), prepared.dataset(), loader.compared(), sources.get(i).fresh().flatMap(Attempt::deletions).orElse(null));
            }
            return apply(attempts, sources, index.settle(), keepLast, count, trial);
        }
    }

    private Settled apply(List<Attempt> attempts, List<Source> sources, KeyIndex.Found found, boolean keepLast, boolean count, boolean trial)
            throws IOException, RunFailedException, CancelledException {
        List<Attempt> settled = new ArrayList<>(attempts);
        List<Rewrite> rewrites = new ArrayList<>();
        List<String> notes = new ArrayList<>();
        long gaveWay = 0;
        long counted = 0;
        for (int i = 0; i < sources.size(); i++) {
            Source source = sources.get(i);
            long dropped = found.count(i);
            if (dropped == 0 || source.stored().isPresent() && !keepLast) {
                continue;
            }
            if (count) {
                counted += dropped;
            } else if (source.fresh().isPresent()) {
                Attempt attempt = source.fresh().get();
                settled.set(settled.indexOf(attempt), loader.again(attempt, new Repeats(found.dropped().get(i), where(found.instead(), i, sources))));
            } else {
                gaveWay += dropped;
                if (!trial) {
                    rewrites.add(rewrite(source.stored().get(), found.dropped().get(i), i));
                }
            }
        }
        if (gaveWay > 0) {
            notes.add(Reasons.grouped(gaveWay) + (gaveWay == 1 ? " row" : " rows") + " of earlier runs " + (trial ? "would give" : "gave") + " way to newer ones, by " + FileLoader.comparedBy(prepared));
        }
        if (counted > 0) {
            notes.add(counted(counted, FileLoader.comparedBy(prepared)));
        }
        return new Settled(settled, rewrites, notes);
    }

    private Rewrite rewrite(Part part, BitSet dropped, int number) throws IOException {
        String file = part.name().substring(part.name().indexOf('/') + 1).replaceFirst("\\.parquet$", "").replaceFirst("^\\d+-(?:r\\d+-|\\d+-)?", "");
        Path staged = parts.stage(run + "-r" + number + "-" + file);
        long rows = PartCopy.without(parts.path(part.name()), dropped, prepared.dataset(), staged);
        return new Rewrite(part.name(), parts.publish(staged, prepared.dataset().name()), rows);
    }

    private static java.util.function.IntFunction<String> where(Map<Long, KeyIndex.Spot> instead, int source, List<Source> sources) {
        return row -> {
            KeyIndex.Spot spot = instead.get((long) source << 32 | row);
            if (spot == null) {
                return "";
            }
            boolean same = spot.source() == source;
            return spot.line() < 0 ? "a row of " + sources.get(spot.source()).name() + " that says it is deleted" : "line " + spot.line() + (same ? "" : " of " + sources.get(spot.source()).name());
        };
    }

    static String counted(long rows, String by) {
        return Reasons.grouped(rows) + (rows == 1 ? " row repeats " : " rows repeat ") + by + " of an earlier one; all are loaded";
    }

    private static String name(String path) {
        return path.substring(path.lastIndexOf('/') + 1);
    }

    /** Puts the rows of a part into the index, and what the file says is deleted. */
    static void scan(KeyIndex index, int source, Path part, DatasetDef dataset, int[] compared, Deletions deletions) throws IOException {
        List<Field> fields = new ArrayList<>();
        for (int place : compared) {
            fields.add(Field.of(dataset.columns().get(place)));
        }
        fields.add(new Field(PartSchema.LINE, ColumnType.of(Kind.INTEGER)));
        KeyHash keys = new KeyHash();
        try (PartReader reader = new PartReader(part, fields)) {
            List<Vector> columns = new ArrayList<>();
            for (int i = 0; i < compared.length; i++) {
                columns.add(reader.vector(i));
            }
            int at = 0;
            for (int rows = reader.next(); rows > 0; at += rows, rows = reader.next()) {
                long[] lines = ((Vector.Longs) reader.vector(compared.length)).values;
                for (int row = 0; row < rows; row++) {
                    if (deletions != null) {
                        deletions.before(at + row, source, index);
                    }
                    index.add(source, at + row, lines[row], keys.of(columns, row));
                }
            }
        }
        if (deletions != null) {
            deletions.before(Long.MAX_VALUE - 1, source, index);
        }
    }
}
