package dev.hapster.core.run;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;

/**
 * What counts, said a second time and otherwise than in the product: a list of readings, and questions that are
 * answered by going through it from the end. It knows nothing of parts, catalogues and files; the words are those of
 * docs/model.md.
 */
public final class Reference {

    /** A row of a file. */
    record Row(int line, String id, int value, boolean deletes) {}

    /** One reading of a file, or of its rejected rows ({@code base}). */
    record Reading(
            long entry,
            int turn,
            String file,
            int generation,
            String content,
            boolean accepted,
            List<Row> rows,
            Set<Integer> open,
            boolean mended,
            long placeEntry,
            int placeTurn,
            Reading base) {
        boolean samePlace(Reading other) {
            return placeEntry == other.placeEntry && placeTurn == other.placeTurn;
        }
    }

    /** How the rows of a job get into the dataset. */
    public enum Mode {
        BY_FILE,
        ADDS,
        APPEND,
        REPLACE,
        UPDATE,
        NEWEST,
        FIRST_IN_RUN,
        FIRST,
        LAST,
        REJECT;

        boolean adds() {
            return this == ADDS || this == APPEND || this == UPDATE || this == NEWEST;
        }
    }

    final Mode mode;
    final List<Reading> log = new ArrayList<>();
    final Map<Long, Set<String>> looks = new TreeMap<>();
    final Map<Long, Long> undos = new TreeMap<>();
    final Map<Long, List<Reading>> removals = new TreeMap<>();
    final Set<Reading> swept = new LinkedHashSet<>();
    /**
     * Readings that count, and of which every row gave way to others; with the last entry of the history when their
     * rows were let go of.
     */
    final Map<Reading, Long> thinned = new LinkedHashMap<>();

    final Set<Reading> asCopy = new LinkedHashSet<>();

    Reference(Mode mode) {
        this.mode = mode;
    }

    boolean on(long entry) {
        return undos.entrySet().stream().noneMatch(undo -> undo.getValue() == entry && on(undo.getKey()));
    }

    /** Whether a reading holds the place of its file: no later one took it, and no look missed it. */
    boolean stands(Reading reading) {
        if (!on(reading.entry) || !reading.accepted) {
            return false;
        }
        if (reading.base != null) {
            return stands(reading.base);
        }
        boolean missed = looks.entrySet().stream()
                .anyMatch(look -> look.getKey() >= reading.entry
                        && on(look.getKey())
                        && !look.getValue().contains(reading.file + reading.generation));
        return !missed
                && log.stream()
                        .noneMatch(later -> later.entry > reading.entry
                                && later.accepted
                                && later.base == null
                                && on(later.entry)
                                && later.file.equals(reading.file)
                                && later.generation == reading.generation
                                && (!mode.adds() || later.samePlace(reading)));
    }

    boolean removed(Reading reading) {
        return removals.entrySet().stream()
                .anyMatch(removal -> on(removal.getKey()) && removal.getValue().contains(reading));
    }

    /** Whether another file with the same content, that arrived before, counts instead. */
    @SuppressWarnings("ReferenceEquality") // two readings may say the same
    boolean copy(Reading reading) {
        Reading whole = reading;
        while (whole.base != null) {
            whole = whole.base;
        }
        Reading own = whole;
        return log.stream()
                .anyMatch(other -> other != own
                        && other.base == null
                        && other.content.equals(own.content)
                        && stands(other)
                        && !removed(other)
                        && (other.placeEntry < own.placeEntry
                                || (other.placeEntry == own.placeEntry && other.placeTurn < own.placeTurn)));
    }

    boolean counts(Reading reading) {
        return stands(reading) && !removed(reading) && !copy(reading);
    }

    /** The last word on a file. */
    Reading current(String file) {
        int latest = log.stream()
                .filter(reading -> reading.file.equals(file))
                .mapToInt(Reading::generation)
                .max()
                .orElse(0);
        return current(file, latest);
    }

    Reading current(String file, int generation) {
        return log.stream()
                .filter(reading -> reading.file.equals(file)
                        && reading.generation == generation
                        && on(reading.entry)
                        && (reading.base == null || stands(reading)))
                .reduce((a, b) -> b.entry >= a.entry ? b : a)
                .orElse(null);
    }

    /** A row where it stands. */
    record Spot(Reading reading, Row row) {}

    /** Rows of the dataset, as {@code file:line id=value}. */
    List<String> rows() {
        return spots().stream()
                .map(spot -> spot.reading.file + ":" + spot.row.line + " " + spot.row.id + "=" + spot.row.value)
                .sorted()
                .toList();
    }

    /** Readings of which no row is needed as things stand, though they count. */
    List<Reading> givenWay() {
        Set<Reading> there =
                new LinkedHashSet<>(spots().stream().map(Spot::reading).toList());
        return log.stream()
                .filter(this::counts)
                .filter(reading -> reading.rows.stream().anyMatch(row -> !row.deletes)
                        && reading.rows.stream().noneMatch(Row::deletes)
                        && !there.contains(reading))
                .toList();
    }

    List<Spot> spots() {
        List<Spot> spots = new ArrayList<>();
        log.stream()
                .filter(this::counts)
                .filter(reading -> !thinned.containsKey(reading))
                .forEach(reading -> reading.rows.forEach(row -> spots.add(new Spot(reading, row))));
        spots.sort(Comparator.comparing((Spot spot) -> spot.reading.placeEntry)
                .thenComparing(spot -> spot.reading.placeTurn)
                .thenComparing(spot -> spot.row.line));
        Map<String, List<Spot>> byKey = new LinkedHashMap<>();
        Map<String, Integer> deleted = new HashMap<>();
        for (Spot spot : spots) {
            List<Spot> there = byKey.computeIfAbsent(spot.row.id, id -> new ArrayList<>());
            Predicate<Spot> inRun = other -> other.reading.placeEntry == spot.reading.placeEntry;
            switch (mode) {
                case UPDATE -> {
                    there.clear();
                    if (!spot.row.deletes) {
                        there.add(spot);
                    }
                }
                case NEWEST -> { // the value says how new a row is, as its amount does
                    int newest = Math.max(
                            there.stream()
                                    .mapToInt(other -> Math.abs(other.row.value))
                                    .max()
                                    .orElse(-1),
                            spot.row.deletes ? -1 : deleted.getOrDefault(spot.row.id, -1));
                    if (spot.row.deletes) {
                        there.removeIf(other -> other.row.value <= spot.row.value);
                        deleted.merge(spot.row.id, spot.row.value, Math::max);
                    } else if (spot.row.value >= newest) {
                        there.clear();
                        there.add(spot);
                    }
                }
                case FIRST, REJECT -> {
                    if (there.isEmpty()) {
                        there.add(spot);
                    }
                }
                case FIRST_IN_RUN -> {
                    if (there.stream().noneMatch(inRun)) {
                        there.add(spot);
                    }
                }
                case LAST -> {
                    there.clear();
                    there.add(spot);
                }
                default -> there.add(spot);
            }
        }
        return byKey.values().stream().flatMap(List::stream).toList();
    }
}
