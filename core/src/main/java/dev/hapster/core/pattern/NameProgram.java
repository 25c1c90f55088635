package dev.hapster.core.pattern;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * A name pattern made into steps, and the machine that runs them over a text.
 *
 * <p>The machine tries the ways in which a text may match one after another, the preferred one first, and takes no way
 * twice: it notes each choice it has come to at each position. So the time is at most steps times characters, whatever
 * the pattern and the text. Immutable.
 */
final class NameProgram {

    private static final int CHARACTER = 0;
    private static final int ONE = 1;
    private static final int SET = 3;
    private static final int CHOICE = 4;
    private static final int JUMP = 5;
    private static final int MARK = 6;
    /** Any number of characters, as many as possible. */
    private static final int MANY = 7;
    /** One character or more, as few as possible. */
    private static final int FEW = 8;

    private final int[] steps;
    private final int[] first;
    private final int[] second;
    private final int[][] sets;
    private final boolean hasChoices;
    private final int marks;
    private final boolean anyCase;

    private NameProgram(Builder builder) {
        steps = builder.steps.stream().mapToInt(step -> step[0]).toArray();
        first = builder.steps.stream().mapToInt(step -> step[1]).toArray();
        second = builder.steps.stream().mapToInt(step -> step[2]).toArray();
        sets = builder.sets.toArray(int[][]::new);
        hasChoices = Arrays.stream(steps).anyMatch(step -> step == CHOICE || step == MANY || step == FEW);
        marks = builder.marks;
        anyCase = builder.anyCase;
    }

    /** Puts steps together. Positions in the program are those of {@link #here()}. */
    static final class Builder {
        private final List<int[]> steps = new ArrayList<>();
        private final List<int[]> sets = new ArrayList<>();
        private final boolean anyCase;
        private int marks;

        Builder(boolean anyCase) {
            this.anyCase = anyCase;
        }

        int here() {
            return steps.size();
        }

        private void add(int step, int one, int two) {
            steps.add(new int[] {step, one, two});
        }

        void character(int c) {
            add(CHARACTER, anyCase ? fold(c) : c, 0);
        }

        /** Exactly one character that is not a slash. */
        void one() {
            add(ONE, 0, 0);
        }

        /** @param ranges pairs of the lowest and highest character */
        void set(int[] ranges, boolean not) {
            add(SET, sets.size(), not ? 1 : 0);
            sets.add(ranges);
        }

        /** As many characters as possible; without slashes, or with. */
        void many(boolean slashes) {
            add(MANY, slashes ? 1 : 0, 0);
        }

        /** One character or more, as few as possible, without slashes; noted under the next number. */
        void piece() {
            add(MARK, marks++, 0);
            add(FEW, 0, 0);
            add(MARK, marks++, 0);
        }

        /** So many characters without slashes; noted under the next number. */
        void piece(int width) {
            add(MARK, marks++, 0);
            for (int i = 0; i < width; i++) {
                one();
            }
            add(MARK, marks++, 0);
        }

        /** A choice that goes on behind itself first; where else, is told later. */
        int choice() {
            add(CHOICE, here() + 1, 0);
            return here() - 1;
        }

        /** The second way of a choice begins here. */
        void orElse(int choice) {
            steps.get(choice)[2] = here();
        }

        /** There is no second way: it leads back to the choice, which is taken once only. */
        void noElse(int choice) {
            steps.get(choice)[2] = choice;
        }

        /** Goes on elsewhere. */
        int jump(int to) {
            add(JUMP, to, 0);
            return here() - 1;
        }

        /** Where a jump leads, once that is known. */
        void land(int jump) {
            steps.get(jump)[1] = here();
        }

        NameProgram build() {
            return new NameProgram(this);
        }
    }

    private static int fold(int c) {
        return Character.toLowerCase(Character.toUpperCase(c));
    }

    /** Whether upper and lower case differ. */
    boolean minds() {
        return !anyCase;
    }

    /** Where each piece begins and ends, two numbers a piece; null where the text does not match. */
    int[] match(String text) {
        return new Machine(text).run();
    }

    /** One run over one text. */
    private final class Machine {
        private static final int LEAST = 48;

        private final String text;
        private final int length;
        private final int[] noted = new int[marks];
        /** A bit for each step and position from which the machine has gone on by choice. */
        private final long[] taken;
        /**
         * Ways that are open, three numbers each: twice a step, and a position to go on from there; twice a step and
         * one, with a range of positions yet to be tried; or below zero a mark, with what it was before.
         */
        private int[] open = new int[LEAST];

        private int depth;
        private int step;
        private int at;

        Machine(String text) {
            this.text = text;
            length = text.length();
            taken = hasChoices ? new long[((steps.length * (length + 1)) >>> 6) + 1] : null;
        }

        int[] run() {
            while (step < steps.length || at < length) {
                if (!(step < steps.length && advance()) && !resume()) {
                    return null;
                }
            }
            return noted;
        }

        /** Does one step; false where it cannot be done here. */
        private boolean advance() {
            switch (steps[step]) {
                case CHOICE -> {
                    if (!take(step, at)) {
                        return false;
                    }
                    push(second[step] * 2, at, 0);
                    step = first[step];
                }
                case JUMP -> step = first[step];
                case MARK -> {
                    push(-1 - first[step], noted[first[step]], 0);
                    noted[first[step]] = at;
                    step++;
                }
                case MANY -> {
                    int end = first[step] == 1 ? length : span(at);
                    return many(step, end, at);
                }
                case FEW -> {
                    return few(step, at + 1, span(at));
                }
                default -> {
                    int next = at < length ? accept(step, text, at) : -1;
                    if (next < 0) {
                        return false;
                    }
                    at = next;
                    step++;
                }
            }
            return true;
        }

        /** Goes back to the last way that is open; false where there is none. */
        private boolean resume() {
            while (depth > 0) {
                int extra = open[--depth];
                int position = open[--depth];
                int where = open[--depth];
                if (where < 0) {
                    noted[-1 - where] = position;
                } else if ((where & 1) == 0) {
                    step = where >> 1;
                    at = position;
                    return true;
                } else if (steps[where >> 1] == MANY
                        ? many(where >> 1, position, extra)
                        : few(where >> 1, position, extra)) {
                    return true;
                }
            }
            return false;
        }

        /** Where the characters that are no slash end. */
        private int span(int from) {
            int slash = text.indexOf('/', from);
            return slash < 0 ? length : slash;
        }

        /** Goes on behind a step at the last suitable position of a range. */
        private boolean many(int from, int high, int low) {
            int literal = literal(from + 1);
            for (int position = high; position >= low; position--) {
                if (suits(position, literal) && take(from, position)) {
                    push(from * 2 + 1, position - 1, low);
                    at = position;
                    step = from + 1;
                    return true;
                }
            }
            return false;
        }

        /** Goes on behind a step at the first suitable position of a range. */
        private boolean few(int from, int low, int high) {
            int literal = literal(from + 2); // behind the mark
            for (int position = low; position <= high; position++) {
                if (suits(position, literal) && take(from, position)) {
                    push(from * 2 + 1, position + 1, high);
                    at = position;
                    step = from + 1;
                    return true;
                }
            }
            return false;
        }

        /** The character that must come next, where that is certain; -1 otherwise. */
        private int literal(int next) {
            return next < steps.length
                            && steps[next] == CHARACTER
                            && !anyCase
                            && first[next] < Character.MIN_HIGH_SURROGATE
                    ? first[next]
                    : -1;
        }

        private boolean suits(int position, int literal) {
            if (literal >= 0) {
                return position < length && text.charAt(position) == literal;
            }
            return position == length
                    || position == 0
                    || !Character.isLowSurrogate(text.charAt(position))
                    || !Character.isHighSurrogate(text.charAt(position - 1));
        }

        /** Whether it is the first time that the machine goes on from here. */
        private boolean take(int from, int position) {
            int way = from * (length + 1) + position;
            boolean first = (taken[way >>> 6] & 1L << way) == 0;
            taken[way >>> 6] |= 1L << way;
            return first;
        }

        private void push(int where, int position, int extra) {
            if (depth + 3 > open.length) {
                open = Arrays.copyOf(open, open.length * 2);
            }
            open[depth++] = where;
            open[depth++] = position;
            open[depth++] = extra;
        }
    }

    /** Where the text goes on behind the character that a step takes; -1 where it does not take it. */
    private int accept(int step, String text, int at) {
        int c = text.charAt(at);
        int next = at + 1;
        if (c >= Character.MIN_HIGH_SURROGATE && c <= Character.MAX_LOW_SURROGATE) {
            c = text.codePointAt(at);
            next = at + Character.charCount(c);
        }
        boolean takes =
                switch (steps[step]) {
                    case CHARACTER -> c == first[step] || (anyCase && fold(c) == first[step]);
                    case ONE -> c != '/';
                    default -> c != '/' && in(sets[first[step]], c) != (second[step] == 1);
                };
        return takes ? next : -1;
    }

    private boolean in(int[] ranges, int c) {
        for (int i = 0; i < ranges.length; i += 2) {
            if (c >= ranges[i] && c <= ranges[i + 1]) {
                return true;
            }
            if (anyCase) {
                int lower = Character.toLowerCase(c);
                int upper = Character.toUpperCase(c);
                if ((lower >= ranges[i] && lower <= ranges[i + 1]) || (upper >= ranges[i] && upper <= ranges[i + 1])) {
                    return true;
                }
            }
        }
        return false;
    }
}
