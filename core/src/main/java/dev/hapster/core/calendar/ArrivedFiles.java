package dev.hapster.core.calendar;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.catalogue.History;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.JobDef.Sheets;
import dev.hapster.core.due.Due;
import dev.hapster.core.due.Landed;
import dev.hapster.core.due.Landed.Became;
import dev.hapster.core.pattern.Fact;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.workspace.Sources;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The files that ever arrived for a job, with what the job's patterns read in their names now. Old files are read by
 * the patterns of today, so that a piece that is put into a pattern later holds for them, too.
 */
public final class ArrivedFiles {

    private final Map<Integer, Place> places;
    private final Sources sources;

    /** @param places of the job, by their number in it, counted from 1 */
    public ArrivedFiles(Map<Integer, Place> places, Sources sources) {
        this.places = Map.copyOf(places);
        this.sources = sources;
    }

    /**
     * All that arrived, in the order of arrival.
     *
     * @param history of the job alone
     * @param runs when runs and retries began, by their number
     */
    public List<Landed> of(History history, Map<Long, Instant> runs, Due due) {
        Set<Long> off = history.log().off();
        Set<Long> out = takenOut(history, off);
        Set<Long> dismissed = marked(history.dismissed(), off);
        Map<String, Group> groups = new LinkedHashMap<>();
        for (LedgerEntry entry : history.entries()) {
            Instant at = landed(entry, runs);
            Arrival arrival = entry.arrival();
            // a file that bears no date and changes from day to day arrives anew each time
            LocalDate period = due.dated().isPresent() ? LocalDate.EPOCH : due.period(at);
            String key = arrival.isRepair() ? slotOf(arrival, groups) : arrival.slot() + "\n" + period;
            groups.computeIfAbsent(key, none -> new Group()).add(entry, at, out, dismissed);
        }
        List<Landed> all = new ArrayList<>();
        groups.values().forEach(group -> group.landed(this).forEach(all::add));
        return all;
    }

    /** The group of what a repair repairs. */
    private static String slotOf(Arrival repair, Map<String, Group> groups) {
        return groups.entrySet().stream()
                .filter(group -> group.getKey().startsWith(repair.slot() + "\n")
                        && group.getValue().holds(repair.base()))
                .map(Map.Entry::getKey)
                .findFirst()
                .orElse(repair.slot() + "\n");
    }

    private static Set<Long> takenOut(History history, Set<Long> off) {
        Set<Long> out = marked(history.removed(), off);
        history.entries().stream()
                .map(LedgerEntry::arrival)
                .filter(arrival -> off.contains(arrival.entry()))
                .forEach(arrival -> out.add(arrival.id()));
        return out;
    }

    /** Arrivals of which entries of the history say something, and were not taken back themselves. */
    private static Set<Long> marked(Map<Long, Set<Long>> byEntry, Set<Long> off) {
        Set<Long> marked = new HashSet<>();
        byEntry.forEach((entry, arrivals) -> {
            if (!off.contains(entry)) {
                marked.addAll(arrivals);
            }
        });
        return marked;
    }

    /**
     * When a file was there: when the file system last changed anything of it, which is at the latest when it was put
     * there under its name; but not after the run that read it began.
     */
    private static Instant landed(LedgerEntry entry, Map<Long, Instant> runs) {
        Instant read = runs.getOrDefault(entry.arrival().entry(), entry.readAt());
        Instant changed = entry.fingerprint().changed();
        return changed.isBefore(read) ? changed : read;
    }

    /** What came under one name, for one period. */
    private static final class Group {
        private final List<LedgerEntry> taken = new ArrayList<>();
        private final Set<Long> ids = new HashSet<>();
        private Instant at;
        private LedgerEntry rejected;
        private Instant rejectedAt;
        private LedgerEntry copy;
        private LedgerEntry out;
        private Instant otherwise;
        private long rejectedRows;

        boolean holds(long arrival) {
            return ids.contains(arrival);
        }

        void add(LedgerEntry entry, Instant when, Set<Long> takenOut, Set<Long> dismissed) {
            ids.add(entry.arrival().id());
            boolean gone = takenOut.contains(entry.arrival().id());
            boolean unwanted = dismissed.contains(entry.arrival().id());
            if (!entry.arrival().accepted()) {
                if (!gone && !unwanted && entry.standing().current()) {
                    rejected = entry;
                    rejectedAt = when;
                }
                return;
            }
            if (gone || entry.standing().copyOf() != 0) {
                out = gone ? entry : out;
                copy = gone ? copy : entry;
                otherwise = when;
                return;
            }
            taken.add(entry);
            at = at == null || when.isBefore(at) ? when : at;
            if (entry.standing().current() && !unwanted) {
                rejectedRows = entry.rejected();
            }
        }

        List<Landed> landed(ArrivedFiles files) {
            List<Landed> all = new ArrayList<>();
            if (!taken.isEmpty()) {
                LedgerEntry last = taken.get(taken.size() - 1);
                all.add(files.landed(last, at, Became.TAKEN, rows(), rejectedRows));
            } else if (out != null) {
                all.add(files.landed(out, otherwise, Became.TAKEN_OUT, 0, 0));
            } else if (copy != null) {
                all.add(files.landed(copy, otherwise, Became.COPY, 0, 0));
            }
            if (rejected != null) {
                all.add(files.landed(rejected, rejectedAt, Became.REJECTED, 0, 0));
            }
            return all;
        }

        /** Rows that are in the dataset; of a content that another one replaced, those that it brought then. */
        private long rows() {
            List<LedgerEntry> counting =
                    taken.stream().filter(entry -> entry.standing().counts()).toList();
            if (!counting.isEmpty()) {
                return counting.stream()
                        .mapToLong(entry -> entry.arrival().rows())
                        .sum();
            }
            return taken.stream()
                    .filter(entry -> !entry.arrival().isRepair())
                    .reduce((one, other) -> other)
                    .map(entry -> entry.arrival().rows())
                    .orElse(0L);
        }
    }

    private Landed landed(LedgerEntry entry, Instant at, Became became, long rows, long rejected) {
        String reason =
                became == Became.REJECTED ? entry.reason().map(Reason::sentence).orElse("") : "";
        return new Landed(entry.name(), facts(entry), at, entry.arrival().entry(), became, rows, rejected, reason);
    }

    /** What the job's patterns read in the name of a file, sheet or entry; nothing where none takes it. */
    Map<String, Fact> facts(LedgerEntry entry) {
        Map<Integer, Place> first = new LinkedHashMap<>();
        Optional.ofNullable(places.get(entry.place())).ifPresent(place -> first.put(entry.place(), place));
        places.forEach(first::putIfAbsent);
        for (Map.Entry<Integer, Place> place : first.entrySet()) {
            String prefix = sources.prefix(place.getKey());
            String source = entry.arrival().source();
            String relative = source.startsWith(prefix) ? source.substring(prefix.length()) : entry.name();
            Optional<Map<String, Fact>> facts = facts(place.getValue(), relative);
            if (facts.isPresent()) {
                return facts.get();
            }
        }
        return Map.of();
    }

    private static Optional<Map<String, Fact>> facts(Place place, String relative) {
        Optional<Map<String, Fact>> whole = taking(place, relative);
        if (whole.isPresent()) {
            return whole;
        }
        // behind the last ! stands the name of a sheet, which may have one itself
        for (int at = relative.lastIndexOf('!'); at > 0; at = relative.lastIndexOf('!', at - 1)) {
            Optional<Map<String, Fact>> file = taking(place, relative.substring(0, at));
            if (file.isPresent()) {
                Map<String, Fact> facts = new HashMap<>(file.get());
                String sheet = relative.substring(at + 1);
                place.sheets().map(Sheets::names).orElse(List.of()).stream()
                        .flatMap(name -> name.says(sheet).stream())
                        .findFirst()
                        .ifPresent(facts::putAll);
                return Optional.of(facts);
            }
        }
        return Optional.empty();
    }

    private static Optional<Map<String, Fact>> taking(Place place, String relative) {
        return place.taking().stream()
                .flatMap(name -> name.says(relative).stream())
                .findFirst();
    }
}
