package dev.hapster.core.query.filter;

import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.value.Field;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;

/**
 * Conditions, all of which must hold, asked batch by batch. The columns that they are on are asked for one behind the
 * other. Not thread-safe.
 */
public final class Filter {

    private final List<Test> tests = new ArrayList<>();
    private int[] selected = new int[0];

    /** @param first place of the first condition's column among those that readers are asked for */
    public Filter(List<Condition> conditions, int first) {
        for (int i = 0; i < conditions.size(); i++) {
            tests.add(new Test(conditions.get(i), first + i));
        }
    }

    /** The columns that conditions are on, in their order. */
    public static List<Field> fields(List<Condition> conditions) {
        return conditions.stream().map(Condition::field).toList();
    }

    /**
     * Looks for the rows of the present batch for which the conditions hold.
     *
     * @return how many there are; their numbers in the batch are the first of {@link #selected}, ascending
     */
    public int select(PartReader reader, int rows) throws IOException {
        if (selected.length < rows) {
            selected = new int[rows];
        }
        for (int row = 0; row < rows; row++) {
            selected[row] = row;
        }
        int count = rows;
        for (int i = 0; i < tests.size() && count > 0; i++) {
            count = tests.get(i).keep(reader, selected, count);
        }
        return count;
    }

    /** The rows that were found last; to be made fewer by who asked. */
    public int[] selected() {
        return selected;
    }

    /** Whether there may be rows in a row group for which the conditions hold, by what is known of its columns. */
    public boolean mayHold(PartReader reader, int group) {
        return tests.stream().allMatch(test -> test.mayHold(reader, group));
    }
}
