package dev.hapster.core.run.load;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.arrival.Order;
import dev.hapster.core.arrival.RowRule;
import dev.hapster.core.catalogue.Fate;
import dev.hapster.core.catalogue.Fingerprint;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Standing;
import java.nio.file.Path;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * What the footer of a part says of the arrival that it belongs to, so that the log can be put together again from the
 * parts alone where the catalogue is lost.
 */
public final class PartNotes {

    private PartNotes() {}

    static Map<String, String> of(LedgerEntry entry, String dataset) {
        Arrival arrival = entry.arrival();
        Map<String, String> notes = new LinkedHashMap<>();
        notes.put("arrival", Long.toString(arrival.id()));
        notes.put("entry", Long.toString(arrival.entry()));
        notes.put("job", arrival.job());
        notes.put("dataset", dataset);
        notes.put("dataset_version", entry.datasetVersion());
        notes.put("source", arrival.source());
        notes.put("generation", Integer.toString(arrival.generation()));
        notes.put(
                "place",
                arrival.place().entry() + " " + arrival.place().turn() + " "
                        + arrival.place().ordinal());
        notes.put("base", Long.toString(arrival.base()));
        notes.put("instead", Boolean.toString(arrival.instead()));
        notes.put("copies", Boolean.toString(arrival.copies()));
        notes.put("content", arrival.content());
        notes.put("rule", arrival.rule().toString());
        notes.put("rules", entry.rules());
        notes.put("after", entry.after());
        notes.put("name", entry.name());
        notes.put("file", entry.file().toString());
        notes.put("find", Integer.toString(entry.place()));
        notes.put("size", Long.toString(entry.fingerprint().size()));
        notes.put("modified", entry.fingerprint().modified().toString());
        notes.put("changed", entry.fingerprint().changed().toString());
        if (!entry.fingerprint().tag().isEmpty()) {
            notes.put("tag", entry.fingerprint().tag());
        }
        notes.put("read_at", entry.readAt().toString());
        notes.put("rejected", Long.toString(entry.rejected()));
        return notes;
    }

    /**
     * What is known of the arrival that a part belongs to; empty where its footer does not say, as that of parts
     * written by versions before 2 does not.
     *
     * @param notes of the footer, with its number of {@code rows}
     * @param deletes whether the part also says that rows are to go
     * @param paths the path that a text stands for
     * @throws IllegalArgumentException where the notes are not as we write them
     */
    public static Optional<LedgerEntry> entry(
            String part, Map<String, String> notes, boolean deletes, Function<String, Path> paths) {
        if (!notes.containsKey("arrival")) {
            return Optional.empty();
        }
        try {
            String[] place = notes.get("place").split(" ");
            Arrival arrival = new Arrival(
                    Long.parseLong(notes.get("arrival")),
                    Long.parseLong(notes.get("entry")),
                    notes.get("job"),
                    notes.get("source"),
                    Integer.parseInt(notes.get("generation")),
                    new Order(Long.parseLong(place[0]), Integer.parseInt(place[1]), Integer.parseInt(place[2])),
                    Long.parseLong(notes.get("base")),
                    true,
                    Boolean.parseBoolean(notes.get("instead")),
                    Boolean.parseBoolean(notes.get("copies")),
                    notes.get("content"),
                    RowRule.parse(notes.get("rule")),
                    part,
                    Long.parseLong(notes.get("rows")),
                    deletes,
                    false);
            Fingerprint seen = new Fingerprint(
                    Long.parseLong(notes.get("size")),
                    Instant.parse(notes.get("modified")),
                    Instant.parse(notes.get("changed")),
                    notes.getOrDefault("tag", ""),
                    arrival.content());
            return Optional.of(new LedgerEntry(
                    arrival,
                    notes.get("name"),
                    paths.apply(notes.get("file")),
                    Integer.parseInt(notes.get("find")),
                    seen,
                    Instant.parse(notes.get("read_at")),
                    notes.get("rules"),
                    notes.get("dataset_version"),
                    Long.parseLong(notes.get("rejected")),
                    Optional.empty(),
                    arrival.entry(),
                    notes.get("after"),
                    Fate.LEFT,
                    0,
                    Standing.NOWHERE));
        } catch (NullPointerException | ArrayIndexOutOfBoundsException | java.time.DateTimeException incomplete) {
            throw new IllegalArgumentException("The notes of the part " + part + " are not complete", incomplete);
        }
    }
}
