package dev.hapster.core.arrival;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/**
 * Which arrivals count. A pure function of the log: the same log gives the same answer, whoever asks and whatever
 * happened in between.
 *
 * <p>The log is gone through in the order of its entries, those left out that were taken back. A whole file that was
 * accepted takes the place of what its source brought before (or of the same content only, where the job adds); a
 * repair stands as long as what it repairs; a look under {@code load: replace} lets stand what it saw. Of those that
 * stand and have the same content, the first counts. Rows that were removed do not.
 */
public final class Counting {

    private final Set<Long> off;
    /** Whole files that stand, by job and slot. */
    private final Map<String, Map<String, List<Arrival>>> standing = new HashMap<>();

    private final Map<String, Arrival> last = new LinkedHashMap<>();

    private Counting(Set<Long> off) {
        this.off = off;
    }

    /** What a log comes to. */
    public static Counted of(ArrivalLog log) {
        return new Counting(log.off()).count(log);
    }

    private Counted count(ArrivalLog log) {
        TreeMap<Long, List<Arrival>> byEntry = new TreeMap<>();
        log.arrivals().stream()
                .filter(arrival -> !off.contains(arrival.entry()))
                .forEach(arrival -> byEntry.computeIfAbsent(arrival.entry(), entry -> new ArrayList<>())
                        .add(arrival));
        Map<Long, Look> looks = new HashMap<>();
        log.looks().stream().filter(look -> !off.contains(look.entry())).forEach(look -> {
            looks.put(look.entry(), look);
            byEntry.putIfAbsent(look.entry(), List.of());
        });
        List<Arrival> repairs = new ArrayList<>();
        byEntry.forEach((entry, arrivals) -> {
            arrivals.stream().filter(arrival -> !arrival.isRepair()).forEach(this::whole);
            arrivals.stream().filter(Arrival::isRepair).forEach(repairs::add);
            if (looks.containsKey(entry)) {
                standing.getOrDefault(looks.get(entry).job(), Map.of())
                        .keySet()
                        .retainAll(looks.get(entry).slots());
            }
        });
        Map<Long, Arrival> stand = new LinkedHashMap<>();
        standing.values().forEach(slots -> slots.values()
                .forEach(held -> held.forEach(arrival -> stand.put(arrival.id(), arrival))));
        Set<Long> removed = new HashSet<>();
        log.removed().forEach((entry, ids) -> removed.addAll(off.contains(entry) ? Set.of() : ids));
        Map<Long, Long> copies = copies(stand.values().stream()
                .filter(arrival -> !removed.contains(arrival.id()))
                .toList());
        repairs.forEach(repair -> repair(repair, stand, copies));
        Set<Long> counting = new HashSet<>(stand.keySet());
        counting.removeAll(removed);
        counting.removeAll(copies.keySet());
        removed.retainAll(stand.keySet());
        Set<Long> current = new HashSet<>();
        last.values().forEach(arrival -> current.add(arrival.id()));
        return new Counted(stand.keySet(), removed, copies, counting, current);
    }

    private void whole(Arrival arrival) {
        last.put(arrival.job() + "\n" + arrival.slot(), arrival);
        if (!arrival.accepted()) {
            return; // the rows of an earlier content stay
        }
        List<Arrival> held = standing.computeIfAbsent(arrival.job(), job -> new HashMap<>())
                .computeIfAbsent(arrival.slot(), slot -> new ArrayList<>());
        held.removeIf(before -> arrival.instead() || before.place().equals(arrival.place()));
        held.add(arrival);
    }

    /** A repair stands as long as what it repairs, also where that was a repair itself. */
    private void repair(Arrival repair, Map<Long, Arrival> stand, Map<Long, Long> copies) {
        if (!stand.containsKey(repair.base())) {
            return;
        }
        stand.put(repair.id(), repair);
        if (copies.containsKey(repair.base())) {
            copies.put(repair.id(), copies.get(repair.base()));
        }
        String file = repair.job() + "\n" + repair.slot();
        if (last.get(file).entry() < repair.entry()) {
            last.put(file, repair);
        }
    }

    /** Of files of one job with the same content, all but the first. */
    private static Map<Long, Long> copies(List<Arrival> stand) {
        Map<String, List<Arrival>> byContent = new HashMap<>();
        stand.stream().filter(arrival -> !arrival.content().isEmpty()).forEach(arrival -> byContent
                .computeIfAbsent(arrival.job() + "\n" + arrival.content(), content -> new ArrayList<>())
                .add(arrival));
        Map<Long, Long> copies = new HashMap<>();
        for (List<Arrival> same : byContent.values()) {
            Arrival first =
                    same.stream().min(Comparator.comparing(Arrival::place)).orElseThrow();
            same.stream()
                    .filter(arrival -> !arrival.copies() && arrival.id() != first.id())
                    .forEach(arrival -> copies.put(arrival.id(), first.id()));
        }
        return copies;
    }
}
