package dev.hapster.service.runs;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.catalogue.Route;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.run.load.RunState;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A run that is queued or going on, and how far it has come. Thread-safe. */
public final class ActiveRun implements RunListener {

    /** Files that are named at once as being in work. */
    private static final int MOST_SHOWN = 32;

    private static final class InWork {
        final String name;
        final long size;
        long bytes;
        long rows;

        InWork(String name, long size) {
            this.name = name;
            this.size = size;
        }
    }

    private volatile boolean plain;

    /** Whether it is a run like any other: of all files, by the values of the job. Only such are tried again. */
    boolean isPlain() {
        return plain;
    }

    void plain(boolean is) {
        plain = is;
    }

    /** A file in work: bytes dealt with, of how many, and rows. */
    public record FileInWork(String name, long bytes, long size, long rows) {}

    /**
     * How far a run has come.
     *
     * @param bytes dealt with, files that are done included
     * @param ofBytes of all files found
     * @param rows read so far
     * @param inWork files being loaded at this moment
     * @param trouble what keeps it from ending, a sentence; absent where nothing does
     */
    public record Progress(
            long run,
            String job,
            String state,
            long found,
            long done,
            long loaded,
            long replaced,
            long unchanged,
            long rejected,
            long waiting,
            long bytes,
            long ofBytes,
            long rows,
            long rowsRejected,
            List<FileInWork> inWork,
            String trouble) {}

    private final long number;
    private final String job;
    private volatile boolean cancelled;
    private volatile String trouble;
    private volatile RunListener log = RunListener.NONE;
    private RunState state = RunState.QUEUED;
    private long found;
    private long ofBytes;
    private long bytesDone;
    private long rowsDone;
    private long rowsRejected;
    private final Map<Outcome, Long> outcomes = new EnumMap<>(Outcome.class);
    private final Map<Integer, InWork> inWork = new HashMap<>();

    ActiveRun(long number, String job) {
        this.number = number;
        this.job = job;
    }

    public String job() {
        return job;
    }

    public long number() {
        return number;
    }

    boolean isCancelled() {
        return cancelled;
    }

    void cancel() {
        cancelled = true;
    }

    /** What keeps it from ending; empty where nothing does. */
    public Optional<String> trouble() {
        return Optional.ofNullable(trouble);
    }

    void trouble(String what) {
        trouble = what;
    }

    /** Who hears of its files, too. */
    void log(RunListener listener) {
        log = listener;
    }

    synchronized void state(RunState now) {
        state = now;
    }

    @Override
    public void found(long files, long bytes) {
        log.found(files, bytes);
        synchronized (this) {
            found = files;
            ofBytes = bytes;
        }
    }

    @Override
    public synchronized void fileStarted(int ordinal, String name, long bytes) {
        inWork.put(ordinal, new InWork(name, bytes));
    }

    @Override
    public synchronized void fileProgress(int ordinal, long bytes, long rows) {
        InWork file = inWork.get(ordinal);
        if (file != null) {
            file.bytes = bytes;
            file.rows = rows;
        }
    }

    @Override
    public void fileDone(FileResult result) {
        log.fileDone(result);
        count(result);
    }

    @Override
    public void routed(Route.Done done) {
        log.routed(done);
    }

    private synchronized void count(FileResult result) {
        inWork.remove(result.ordinal());
        outcomes.merge(result.outcome(), 1L, Long::sum);
        bytesDone += result.fingerprint().size();
        rowsDone += result.read();
        rowsRejected += result.rejected();
    }

    public synchronized Progress progress() {
        List<FileInWork> files = new ArrayList<>();
        inWork.entrySet().stream()
                .sorted(Map.Entry.comparingByKey(Comparator.naturalOrder()))
                .forEach(entry -> files.add(new FileInWork(
                        entry.getValue().name, entry.getValue().bytes, entry.getValue().size, entry.getValue().rows)));
        long done = outcomes.values().stream().mapToLong(Long::longValue).sum();
        return new Progress(
                number,
                job,
                state.word(),
                found,
                done,
                count(Outcome.LOADED),
                count(Outcome.REPLACED),
                count(Outcome.UNCHANGED),
                count(Outcome.REJECTED),
                count(Outcome.WAITING),
                bytesDone + files.stream().mapToLong(FileInWork::bytes).sum(),
                ofBytes,
                rowsDone + files.stream().mapToLong(FileInWork::rows).sum(),
                rowsRejected,
                shown(files),
                trouble);
    }

    /** Of many, those that are not read to their end: the others only wait to be counted. */
    private static List<FileInWork> shown(List<FileInWork> files) {
        return files.size() <= MOST_SHOWN
                ? files
                : files.stream()
                        .filter(file -> file.bytes() < file.size())
                        .limit(MOST_SHOWN)
                        .toList();
    }

    private long count(Outcome outcome) {
        return outcomes.getOrDefault(outcome, 0L);
    }
}
