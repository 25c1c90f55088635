package dev.hapster.core.run.load;

import dev.hapster.core.catalogue.ReasonGroup;
import dev.hapster.core.catalogue.ReasonGroup.Sample;
import dev.hapster.core.row.RejectedRow;
import dev.hapster.core.row.RejectedRow.Fault;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Counts the rejected rows of one file by reason and column, and keeps the first few of each. Not thread-safe. */
final class ReasonTally {

    private static final int SAMPLES = 5;
    private static final int LONGEST_VALUE = 200;

    private record Key(String code, String column) {}

    private static final class Count {
        long rows;
        final List<Sample> samples = new ArrayList<>();
    }

    private final Map<Key, Count> counts = new LinkedHashMap<>();

    private long rows;

    /** Rows added; a row with two faults is one row. */
    long rows() {
        return rows;
    }

    void add(RejectedRow refused) {
        rows++;
        for (Fault fault : refused.faults()) {
            Count count =
                    counts.computeIfAbsent(new Key(fault.reason().code().code(), fault.column()), key -> new Count());
            count.rows++;
            if (count.samples.size() < SAMPLES) {
                String value = fault.value().length() > LONGEST_VALUE
                        ? fault.value().substring(0, LONGEST_VALUE) + "…"
                        : fault.value();
                count.samples.add(Sample.of(refused.line(), value, fault.reason()));
            }
        }
    }

    List<ReasonGroup> groups() {
        return counts.entrySet().stream()
                .map(entry -> new ReasonGroup(
                        entry.getKey().code, entry.getKey().column, entry.getValue().rows, entry.getValue().samples))
                .toList();
    }
}
