package dev.hapster.core.definition;

import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * A dataset as its file declares it.
 *
 * @param key columns by which a row is known; empty where there is none
 * @param deliveries hand-overs that are declared with it
 * @param version first 12 hexadecimal digits of the SHA-256 of the file's text
 * @param text the file as it stands
 */
public record DatasetDef(
        String name,
        String about,
        List<ColumnDef> columns,
        List<String> key,
        Retain retain,
        List<DeliveryDef> deliveries,
        String version,
        String text) {

    public DatasetDef {
        columns = List.copyOf(columns);
        key = List.copyOf(key);
        deliveries = List.copyOf(deliveries);
    }

    /**
     * How long what no longer counts is kept.
     *
     * @param replaced rows that were replaced, undone or removed: as long can that be taken back
     * @param history what single runs did with single files, and what they rejected, where nothing refers to it any
     *     more
     */
    public record Retain(Duration replaced, Duration history) {
        public static final Retain USUAL = new Retain(Duration.ofDays(7), Duration.ofDays(400));
    }

    /** A column by the name that it has now. */
    public Optional<ColumnDef> column(String wanted) {
        return columns.stream().filter(column -> column.name().equals(wanted)).findFirst();
    }
}
