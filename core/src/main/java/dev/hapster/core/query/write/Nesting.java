package dev.hapster.core.query.write;

import dev.hapster.core.query.value.QueryException;
import java.util.ArrayList;
import java.util.List;

/**
 * Columns as they lie in each other: {@code station.id} and {@code station.name} are two of {@code station}. Behind a
 * name that ends with {@code []} lies a list: {@code samples[].value} is one of each of several {@code samples}, which
 * are the rows that are the same in all columns outside of the list. Immutable once it is made.
 */
final class Nesting {

    private static final int DEEPEST = 20;
    private static final String LIST = "[]";

    final String name;
    /** Its column; -1 where others lie in it. */
    final int column;
    /** Whether there are several of it. */
    final boolean list;

    final List<Nesting> inside = new ArrayList<>();

    private Nesting(String name, int column, boolean list) {
        this.name = name;
        this.column = column;
        this.list = list;
    }

    /**
     * What columns make.
     *
     * @throws QueryException where a column lies in another one, or has no name between two points, or a list lies
     *     beside another one
     */
    static Nesting of(List<String> columns) throws QueryException {
        Nesting root = new Nesting("", -1, false);
        for (int i = 0; i < columns.size(); i++) {
            String[] steps = columns.get(i).split("\\.", -1);
            if (steps.length > DEEPEST) {
                throw new QueryException("The column " + columns.get(i) + " lies more than " + DEEPEST + " deep");
            }
            Nesting at = root;
            for (int step = 0; step < steps.length; step++) {
                boolean last = step == steps.length - 1;
                boolean list = steps[step].endsWith(LIST);
                String name = list ? steps[step].substring(0, steps[step].length() - LIST.length()) : steps[step];
                if (name.isBlank()) {
                    throw new QueryException("'" + columns.get(i) + "' has no name before or behind a point");
                }
                Nesting known = at.inside.stream()
                        .filter(one -> one.name.equals(name))
                        .findFirst()
                        .orElse(null);
                if (known != null && (last || known.column >= 0 || known.list != list)) {
                    throw new QueryException(
                            "'" + columns.get(i) + "' lies in another column, or twice in the same place");
                }
                if (known == null) {
                    known = new Nesting(name, last ? i : -1, list);
                    at.inside.add(known);
                }
                at = known;
            }
        }
        root.listsLast();
        return root;
    }

    /** Puts what holds a list behind all else, so that it can be written while its rows come. */
    private void listsLast() throws QueryException {
        for (Nesting one : inside) {
            one.listsLast();
        }
        List<Nesting> lists = inside.stream().filter(Nesting::holdsList).toList();
        if (lists.size() > 1) {
            throw new QueryException("'" + lists.get(0).name + "' and '" + lists.get(1).name
                    + "' are lists beside each other; a list may only lie in another one");
        }
        inside.removeAll(lists);
        inside.addAll(lists);
    }

    /** Whether it is a list, or one lies in it. */
    boolean holdsList() {
        return list || (!inside.isEmpty() && inside.get(inside.size() - 1).holdsList());
    }

    /** What begins anew at a level of lists: this itself at 0, what the outermost list holds at 1, and so on. */
    Nesting level(int number) {
        Nesting at = this;
        for (int level = 0; level < number; ) {
            at = at.inside.get(at.inside.size() - 1);
            level += at.list ? 1 : 0;
        }
        return at;
    }

    /** The columns of each level: those outside of every list first, then those of the outermost list, and so on. */
    List<List<Integer>> levels() {
        List<List<Integer>> levels = new ArrayList<>(List.of(new ArrayList<>()));
        gather(levels);
        return levels;
    }

    private void gather(List<List<Integer>> levels) {
        if (column >= 0) {
            levels.get(levels.size() - 1).add(column);
        }
        for (Nesting one : inside) {
            if (one.list) {
                levels.add(new ArrayList<>());
            }
            one.gather(levels);
        }
    }

    /** The columns in which rows of one group are the same; empty where rows are not grouped. */
    List<Integer> groupedBy() {
        List<List<Integer>> levels = levels();
        return levels.subList(0, levels.size() - 1).stream()
                .flatMap(List::stream)
                .toList();
    }

    /** Whether a row has no value in it. */
    boolean isEmpty(List<Comparable<?>> row) {
        return column >= 0 ? row.get(column) == null : inside.stream().allMatch(one -> one.isEmpty(row));
    }
}
