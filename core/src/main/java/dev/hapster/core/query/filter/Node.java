package dev.hapster.core.query.filter;

import dev.hapster.core.query.part.PartReader;
import java.io.IOException;
import java.util.Arrays;
import java.util.List;

/** Something that must hold of rows, asked of one reader after another. Not thread-safe. */
sealed interface Node permits Test, Node.All, Node.Any {

    /**
     * Leaves those of some rows of the present batch for which it holds.
     *
     * @param rows their numbers in the batch, ascending; afterwards the first are those that are left
     * @return how many are left
     */
    int keep(PartReader reader, int[] rows, int count) throws IOException;

    /** Whether it holds for one row of the present batch. */
    boolean holds(PartReader reader, int row) throws IOException;

    /** Whether there may be rows in a row group for which it holds, by what is known of its columns. */
    boolean mayHold(PartReader reader, int group);

    /** Holds where all of several do. */
    record All(List<Node> of) implements Node {

        @Override
        public int keep(PartReader reader, int[] rows, int count) throws IOException {
            int kept = count;
            for (int i = 0; i < of.size() && kept > 0; i++) {
                kept = of.get(i).keep(reader, rows, kept);
            }
            return kept;
        }

        @Override
        public boolean holds(PartReader reader, int row) throws IOException {
            for (Node one : of) {
                if (!one.holds(reader, row)) {
                    return false;
                }
            }
            return true;
        }

        @Override
        public boolean mayHold(PartReader reader, int group) {
            return of.stream().allMatch(one -> one.mayHold(reader, group));
        }
    }

    /** Holds where one of several does; each is asked only of the rows for which none before it holds. */
    final class Any implements Node {

        private final List<Node> of;
        private int[] open = new int[0];
        private int[] tried = new int[0];
        private boolean[] found = new boolean[0];

        Any(List<Node> of) {
            this.of = of;
        }

        @Override
        public int keep(PartReader reader, int[] rows, int count) throws IOException {
            if (count == 0) {
                return 0;
            }
            int last = rows[count - 1];
            if (found.length <= last) {
                found = new boolean[last + 1];
                open = new int[last + 1];
                tried = new int[last + 1];
            }
            Arrays.fill(found, 0, last + 1, false);
            System.arraycopy(rows, 0, open, 0, count);
            int left = count;
            for (int i = 0; i < of.size() && left > 0; i++) {
                if (!of.get(i).mayHold(reader, reader.group())) {
                    continue;
                }
                System.arraycopy(open, 0, tried, 0, left);
                int holding = of.get(i).keep(reader, tried, left);
                for (int row = 0; row < holding; row++) {
                    found[tried[row]] = true;
                }
                left = keep(open, left, false);
            }
            return keep(rows, count, true);
        }

        private int keep(int[] rows, int count, boolean wanted) {
            int kept = 0;
            for (int i = 0; i < count; i++) {
                int row = rows[i];
                rows[kept] = row;
                kept += found[row] == wanted ? 1 : 0;
            }
            return kept;
        }

        @Override
        public boolean holds(PartReader reader, int row) throws IOException {
            for (Node one : of) {
                if (one.holds(reader, row)) {
                    return true;
                }
            }
            return false;
        }

        @Override
        public boolean mayHold(PartReader reader, int group) {
            return of.stream().anyMatch(one -> one.mayHold(reader, group));
        }
    }
}
