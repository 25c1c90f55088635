package dev.hapster.core.run.decide;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.Fingerprint;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.BooleanSupplier;

/**
 * Which of the files are not complete. Those written only just now are given the time that their place declares, where
 * that is short, to be seen standing still.
 */
public final class Unfinished {

    /** A run waits for a young file no longer than this. */
    private static final Duration LONGEST_WAIT = Duration.ofSeconds(10);

    private final PreparedJob prepared;
    private final BooleanSupplier cancelled;

    public Unfinished(PreparedJob prepared, BooleanSupplier cancelled) {
        this.prepared = prepared;
        this.cancelled = cancelled;
    }

    /** The results of files that are not complete, by their numbers in the run. */
    public Map<Integer, FileResult> among(List<Candidate> files) {
        Map<Integer, FileResult> unfinished = new TreeMap<>();
        Map<Integer, Candidate> young = new TreeMap<>();
        Duration wait = Duration.ZERO;
        for (int i = 0; i < files.size(); i++) {
            Candidate file = files.get(i);
            if (file.waiting().isEmpty()) {
                continue;
            }
            Duration settle =
                    prepared.job().find().get(file.place() - 1).arrival().settle();
            if (file.waiting().get().young() && settle.compareTo(LONGEST_WAIT) <= 0) {
                young.put(i + 1, file);
                wait = settle.compareTo(wait) > 0 ? settle : wait;
            } else {
                unfinished.put(i + 1, waiting(i + 1, file, file.waiting().get().sentence()));
            }
        }
        if (!young.isEmpty() && pause(wait)) {
            young.forEach((ordinal, file) -> {
                if (!stoodStill(file)) {
                    unfinished.put(
                            ordinal,
                            waiting(ordinal, file, "is still being written: it changed within the last moments"));
                }
            });
        }
        return unfinished;
    }

    private FileResult waiting(int ordinal, Candidate file, String why) {
        return FileResult.uncounted(
                ordinal,
                file,
                prepared.sources().of(file),
                prepared.name(file),
                Outcome.WAITING,
                Optional.of(Reasons.stillWritten(why)),
                0,
                new Fingerprint(file.size(), file.modified(), file.modified(), ""),
                List.of(),
                0);
    }

    private boolean pause(Duration wait) {
        long end = System.nanoTime() + wait.toNanos();
        try {
            while (System.nanoTime() < end && !cancelled.getAsBoolean()) {
                Thread.sleep(Math.max(1, Math.min(100, (end - System.nanoTime()) / 1_000_000)));
            }
            return true;
        } catch (InterruptedException interrupt) {
            Thread.currentThread().interrupt();
            return false;
        }
    }

    private static boolean stoodStill(Candidate file) {
        try {
            BasicFileAttributes now = Files.readAttributes(file.path(), BasicFileAttributes.class);
            return now.size() == file.size()
                    && now.lastModifiedTime().toInstant().equals(file.modified());
        } catch (IOException gone) {
            return true; // loading it will meet the same, and say so
        }
    }
}
