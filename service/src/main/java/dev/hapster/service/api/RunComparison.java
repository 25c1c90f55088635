package dev.hapster.service.api;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.service.api.Views.FileView;
import dev.hapster.service.api.Views.RunView;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * Two runs beside each other, file by file. A run keeps a list of the files that it had nothing new to say about only
 * as long as it is the latest of its job; what a later one says of them (unchanged since which run) tells of most
 * others.
 */
final class RunComparison {

    private RunComparison() {}

    /**
     * What a run says of a file.
     *
     * @param outcome loaded, replaced, unchanged, rejected or waiting
     * @param loaded rows
     * @param rejected rows
     * @param sentence why it is rejected or waiting; absent where it is neither
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record FileSide(String outcome, long loaded, long rejected, String sentence) {
        static FileSide of(FileView file) {
            return new FileSide(file.outcome(), file.loaded(), file.rejected(), file.sentence());
        }
    }

    /**
     * A file in which two runs differ.
     *
     * @param kind new, gone, changed, or unknown where the older run no longer says whether it was there
     * @param before in the older run; absent where it was not there, or that is not known
     * @param now in the newer run; absent where it was not there
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record FileDifference(String name, String kind, FileSide before, FileSide now) {}

    /**
     * Two runs.
     *
     * @param run the newer one
     * @param before the older one; absent where there is none
     * @param files those in which they differ, in the order of the newer one, gone ones behind
     * @param same how many files are the same in both
     * @param unnamed how many files of the older run are gone that it does not name any more
     * @param untold how many files of the older run are not told of by the newer one, which no longer lists those
     *     without news
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Comparison(
            RunView run, RunView before, List<FileDifference> files, long same, long unnamed, long untold) {}

    /** One run alone. */
    static Comparison alone(RunView run) {
        return new Comparison(run, null, List.of(), 0, 0, 0);
    }

    static Comparison of(RunView older, List<FileView> then, RunView newer, List<FileView> now) {
        boolean one = older.job().equals(newer.job());
        Function<FileView, String> key = file -> one && file.source() != null ? file.source() : file.name();
        boolean olderWhole = then.size() >= older.files().found();
        boolean newerWhole = now.size() >= newer.files().found();
        Map<String, FileView> left = new LinkedHashMap<>();
        then.forEach(file -> left.put(key.apply(file), file));
        List<FileDifference> files = new ArrayList<>();
        long same = 0;
        long known = 0; // to the older run, though it does not list them any more; or perhaps
        for (FileView file : now) {
            Optional<FileView> before = Optional.ofNullable(left.remove(key.apply(file)));
            Optional<String> kind = kind(file, before, older.run(), one, olderWhole);
            known += before.isEmpty() && !kind.equals(Optional.of("new")) ? 1 : 0;
            if (kind.isEmpty()) {
                same++;
            } else {
                files.add(new FileDifference(
                        file.name(), kind.get(), before.map(FileSide::of).orElse(null), FileSide.of(file)));
            }
        }
        if (newerWhole) {
            left.values().forEach(file -> files.add(new FileDifference(file.name(), "gone", FileSide.of(file), null)));
        }
        long unnamed = one && newerWhole ? Math.max(0, older.files().found() - then.size() - known) : 0;
        return new Comparison(newer, older, files, same, unnamed, newerWhole ? 0 : left.size());
    }

    /** Empty where the file is the same in both. */
    private static Optional<String> kind(
            FileView now, Optional<FileView> before, long older, boolean one, boolean olderWhole) {
        boolean news = now.sinceRun() == null || now.sinceRun() > older;
        if (!one) {
            boolean equal = before.isPresent()
                    && before.get().loaded() == now.loaded()
                    && before.get().rejected() == now.rejected()
                    && before.get().outcome().equals(now.outcome());
            return equal ? Optional.empty() : Optional.of(before.isPresent() ? "changed" : "new");
        }
        boolean waits = now.outcome().equals("waiting")
                && before.filter(file -> file.outcome().equals("waiting")).isPresent();
        if (!news || waits) {
            return Optional.empty();
        }
        if (before.isPresent() || now.outcome().equals("replaced")) {
            return Optional.of("changed");
        }
        // a file of which the older run lists nothing was there without news, or not at all
        return Optional.of(olderWhole || now.outcome().equals("loaded") ? "new" : "unknown");
    }
}
