package dev.hapster.core.query.write;

import dev.hapster.core.query.value.QueryException;
import java.util.ArrayList;
import java.util.List;

/**
 * Columns as they lie in each other: {@code station.id} and {@code station.name} are two of {@code station}. Immutable
 * once it is made.
 */
final class Nesting {

    private static final int DEEPEST = 20;

    final String name;
    /** Its column; -1 where others lie in it. */
    final int column;

    final List<Nesting> inside = new ArrayList<>();

    private Nesting(String name, int column) {
        this.name = name;
        this.column = column;
    }

    /**
     * What columns make.
     *
     * @throws QueryException where a column lies in another one, or has no name between two points
     */
    static Nesting of(List<String> columns) throws QueryException {
        Nesting root = new Nesting("", -1);
        for (int i = 0; i < columns.size(); i++) {
            String[] steps = columns.get(i).split("\\.", -1);
            if (steps.length > DEEPEST) {
                throw new QueryException("The column " + columns.get(i) + " lies more than " + DEEPEST + " deep");
            }
            Nesting at = root;
            for (int step = 0; step < steps.length; step++) {
                boolean last = step == steps.length - 1;
                String name = steps[step];
                if (name.isBlank()) {
                    throw new QueryException("'" + columns.get(i) + "' has no name before or behind a point");
                }
                Nesting known = at.inside.stream()
                        .filter(one -> one.name.equals(name))
                        .findFirst()
                        .orElse(null);
                if (known != null && (last || known.column >= 0)) {
                    throw new QueryException(
                            "'" + columns.get(i) + "' lies in another column, or twice in the same place");
                }
                if (known == null) {
                    known = new Nesting(name, last ? i : -1);
                    at.inside.add(known);
                }
                at = known;
            }
        }
        return root;
    }

    /** Whether a row has no value in it. */
    boolean isEmpty(List<Comparable<?>> row) {
        return column >= 0 ? row.get(column) == null : inside.stream().allMatch(one -> one.isEmpty(row));
    }
}
