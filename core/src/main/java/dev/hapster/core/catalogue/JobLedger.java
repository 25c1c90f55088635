package dev.hapster.core.catalogue;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.arrival.ArrivalLog;
import dev.hapster.core.arrival.Counted;
import dev.hapster.core.arrival.Counting;
import dev.hapster.core.arrival.Look;
import dev.hapster.core.arrival.Order;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.roaringbitmap.RoaringBitmap;

/**
 * The log of one job (or of a whole dataset) while a run adds to it: what is known of each file, and what counts after
 * each addition. What counts is asked of {@link Counting} for those files only that an addition can concern: the same
 * file, and files with the same content. Thread-safe.
 */
public final class JobLedger {

    private final History history;
    private final Set<Long> off;
    private final Map<Long, LedgerEntry> entries = new LinkedHashMap<>();
    private final Map<FileKey, List<Long>> bySource = new HashMap<>();
    private final Map<String, Set<FileKey>> sourcesOfContent = new HashMap<>();
    /** How arrivals stand by what the catalogue was told last, and those that may stand otherwise by now. */
    private final Map<Long, Standing> told = new HashMap<>();

    private final Set<Long> touched = new LinkedHashSet<>();
    private Look look;

    /**
     * A file as jobs name it. Names that differ in digits only have hashes that are much the same, so they are mixed.
     */
    private record FileKey(String job, String source) {

        private static final int MIX = 0x9E3779B1; // the golden ratio, as a part of 2^32

        static FileKey of(Arrival arrival) {
            return new FileKey(arrival.job(), arrival.source());
        }

        @Override
        public int hashCode() {
            int mixed = (job.hashCode() ^ source.hashCode()) * MIX;
            return mixed ^ mixed >>> 15;
        }
    }

    /** @param history read once; what happens later is told by {@code add} */
    public JobLedger(History history) {
        this.history = history;
        off = history.log().off();
        history.entries().forEach(entry -> {
            put(entry);
            told.put(entry.arrival().id(), entry.standing());
        });
        touched.clear();
    }

    private void put(LedgerEntry entry) {
        Arrival arrival = entry.arrival();
        touched.add(arrival.id());
        if (entries.put(arrival.id(), entry) == null) {
            FileKey file = FileKey.of(arrival);
            bySource.computeIfAbsent(file, source -> new ArrayList<>(1)).add(arrival.id());
            if (!arrival.content().isEmpty()) {
                sourcesOfContent.merge(arrival.content(), Set.of(file), (some, more) -> {
                    if (some.contains(file)) {
                        return some;
                    }
                    Set<FileKey> all = some.size() == 1 ? new HashSet<>(some) : some; // most contents have one file
                    all.add(file);
                    return all;
                });
            }
        }
    }

    /** The last word on the latest file of a name; empty where nothing is known, or all was taken back. */
    public synchronized Optional<LedgerEntry> known(String job, String source) {
        LedgerEntry known = null;
        int latest = 0;
        for (LedgerEntry entry : all(job, source)) {
            int generation = entry.arrival().generation();
            if (generation > latest) {
                latest = generation;
                known = null;
            }
            if (generation == latest && known == null && entry.standing().current()) {
                known = entry;
            }
        }
        return Optional.ofNullable(known);
    }

    private List<LedgerEntry> all(String job, String source) {
        List<Long> ids = bySource.getOrDefault(new FileKey(job, source), List.of());
        return ids.size() == 1
                ? List.of(entries.get(ids.get(0)))
                : ids.stream().map(entries::get).toList();
    }

    /** Everything known of a file, older ones of the same name included, in the order of arrival. */
    public synchronized List<LedgerEntry> arrivals(String job, String source) {
        return all(job, source);
    }

    /** Slots that a file has, and the one that it gets if it is another file now. */
    public synchronized Set<String> slots(String job, String source) {
        Set<String> slots = new HashSet<>(Set.of(Arrival.slot(1, source)));
        all(job, source).stream()
                .map(LedgerEntry::arrival)
                .forEach(arrival ->
                        slots.addAll(List.of(arrival.slot(), Arrival.slot(arrival.generation() + 1, source))));
        return slots;
    }

    /** Arrivals whose rows are in the dataset now. */
    public synchronized List<LedgerEntry> current() {
        return entries.values().stream()
                .filter(entry -> entry.standing().current())
                .toList();
    }

    /** An arrival by its number; empty where the job has none of that number. */
    public synchronized Optional<LedgerEntry> entry(long arrival) {
        return Optional.ofNullable(entries.get(arrival));
    }

    /** All arrivals; a copy that does not change. */
    public synchronized Collection<LedgerEntry> entries() {
        return List.copyOf(entries.values());
    }

    /** Whether several files have a name. */
    public synchronized boolean isAmbiguous(String name) {
        return entries.values().stream()
                        .filter(entry -> entry.name().equals(name))
                        .map(entry -> entry.arrival().source())
                        .distinct()
                        .limit(2)
                        .count()
                > 1;
    }

    /** Whether another file is known that ever had a content. */
    public synchronized boolean isElsewhere(String content, String job, String source) {
        Set<FileKey> known = sourcesOfContent.getOrDefault(content, Set.of());
        return known.size() > 1 || !(known.isEmpty() || known.contains(new FileKey(job, source)));
    }

    /**
     * Accepted contents of other files that a file with this content may be a copy of, with their places in the order.
     */
    public synchronized Map<String, Order> holders(String content) {
        Map<String, Order> holders = new HashMap<>();
        for (FileKey source : sourcesOfContent.getOrDefault(content, Set.of())) {
            bySource.get(source).stream()
                    .map(id -> entries.get(id).arrival())
                    .filter(arrival -> arrival.accepted()
                            && !arrival.isRepair()
                            && arrival.content().equals(content)
                            && !off.contains(arrival.entry()))
                    .forEach(arrival ->
                            holders.merge(arrival.source(), arrival.place(), (a, b) -> a.compareTo(b) < 0 ? a : b));
        }
        return holders;
    }

    /**
     * Number of the next file of a name: the same as the last, but where the job took that away and this one has
     * another content.
     */
    public synchronized int generation(String job, String source, String content) {
        LedgerEntry last = null;
        for (LedgerEntry entry : all(job, source)) {
            last = last == null
                            || entry.arrival().generation() >= last.arrival().generation()
                    ? entry
                    : last;
        }
        if (last == null) {
            return 1;
        }
        return last.arrival().generation()
                + (last.fate().isTaken() && !last.arrival().content().equals(content) ? 1 : 0);
    }

    /**
     * The place in the order that a content of a file has: that of its last reading, where it had the same content
     * then; otherwise a new one.
     */
    public synchronized Order place(String job, String source, int generation, String content, Order fresh) {
        List<Arrival> whole = all(job, source).stream()
                .map(LedgerEntry::arrival)
                .filter(arrival -> arrival.generation() == generation && !arrival.isRepair())
                .toList();
        if (content.isEmpty() || whole.isEmpty()) {
            return fresh;
        }
        Arrival last = whole.get(whole.size() - 1);
        List<Arrival> on =
                whole.stream().filter(arrival -> !off.contains(arrival.entry())).toList();
        Arrival lastOn = on.isEmpty() ? last : on.get(on.size() - 1);
        return lastOn.content().equals(content)
                ? lastOn.place()
                : last.content().equals(content) ? last.place() : fresh;
    }

    /** Whether an arrival would take the place of one whose rows are in the dataset. */
    public synchronized boolean displaces(Arrival fresh) {
        return all(fresh.job(), fresh.source()).stream()
                .anyMatch(entry -> entry.isLoaded()
                        && !entry.arrival().asCopy()
                        && !entry.arrival().isRepair()
                        && entry.arrival().generation() == fresh.generation()
                        && (fresh.instead() || entry.arrival().place().equals(fresh.place())));
    }

    /** Adds arrivals, and finds what counts now. */
    public synchronized void add(Collection<LedgerEntry> fresh) {
        fresh.forEach(this::put);
        settle(closure(fresh.stream().map(entry -> FileKey.of(entry.arrival())).toList()));
    }

    /**
     * Says of arrivals that were added where their rows are, or that they are copies: nothing that changes what counts.
     */
    public synchronized void replace(Collection<LedgerEntry> same) {
        same.forEach(entry -> put(entry.with(entries.get(entry.arrival().id()).standing())));
    }

    /** Says that the run looked into all folders, and finds what counts now. */
    public synchronized void look(Look all) {
        look = all;
        settle(bySource.keySet());
    }

    /** Finds what counts by the log alone, whatever was kept of it. */
    public synchronized void settle() {
        settle(bySource.keySet());
    }

    /** Files that can be concerned by a change of some: those with any content that one of them ever had. */
    private Set<FileKey> closure(Collection<FileKey> files) {
        Set<FileKey> all = new HashSet<>(files);
        Deque<FileKey> open = new ArrayDeque<>(all);
        Set<String> contents = new HashSet<>();
        while (!open.isEmpty()) {
            for (long id : bySource.get(open.pop())) {
                String content = entries.get(id).arrival().content();
                if (!content.isEmpty() && contents.add(content)) {
                    sourcesOfContent.get(content).stream().filter(all::add).forEach(open::push);
                }
            }
        }
        return all;
    }

    private void settle(Set<FileKey> files) {
        List<Arrival> arrivals = new ArrayList<>();
        files.forEach(file ->
                bySource.get(file).forEach(id -> arrivals.add(entries.get(id).arrival())));
        List<Look> looks = new ArrayList<>(history.looks());
        Optional.ofNullable(look).ifPresent(looks::add);
        Counted counted = Counting.of(new ArrivalLog(arrivals, looks, history.undone(), history.removed()));
        for (Arrival arrival : arrivals) {
            LedgerEntry entry = entries.get(arrival.id());
            stand(
                    entry,
                    standing(counted, arrival.id()).masking(entry.standing().masked()));
        }
    }

    private void stand(LedgerEntry entry, Standing now) {
        if (!now.equals(entry.standing())) {
            put(entry.with(now));
        }
    }

    private static Standing standing(Counted counted, long id) {
        return new Standing(
                counted.standing().contains(id),
                counted.counting().contains(id),
                counted.current().contains(id),
                counted.copies().getOrDefault(id, 0L),
                Optional.empty());
    }

    /** Masks rows of arrivals: of those named as said, of all others none. */
    public synchronized void mask(Map<Long, RoaringBitmap> masks) {
        for (LedgerEntry entry : List.copyOf(entries.values())) {
            if (!entry.isSwept()) { // otherwise all its rows are masked, and it is not looked into any more
                stand(
                        entry,
                        entry.standing()
                                .masking(Optional.ofNullable(
                                        masks.get(entry.arrival().id()))));
            }
        }
    }

    /**
     * Arrivals that stand otherwise now than they did when this was asked last, or at first; those that were added
     * included.
     */
    public synchronized List<LedgerEntry> changes() {
        List<LedgerEntry> changes = touched.stream()
                .map(entries::get)
                .filter(entry ->
                        !entry.standing().equals(told.get(entry.arrival().id())))
                .toList();
        changes.forEach(entry -> told.put(entry.arrival().id(), entry.standing()));
        touched.clear();
        return changes;
    }

    /** Whether rows of different arrivals are compared. */
    public synchronized boolean comparesRows() {
        return entries.values().stream()
                .anyMatch(entry -> entry.isLoaded() && entry.arrival().rule().drops());
    }
}
