package dev.hapster.core.draft.column;

/**
 * A set of hashes with open addressing, to see whether a value stands twice: sixteen bytes a value at least, within
 * what all columns of a table may have together. Not thread-safe.
 */
public final class UniqueValues {

    /** Room that the columns of a table share; a slot is eight bytes. */
    public static final class Room {
        private int slots;

        /** @param slots for all columns together */
        public Room(int slots) {
            this.slots = slots;
        }

        private boolean take(int many) {
            if (many > slots) {
                return false;
            }
            slots -= many;
            return true;
        }

        private void give(int many) {
            slots += many;
        }
    }

    private static final int FIRST = 16;

    private final Room room;
    private long[] slots = new long[FIRST];
    private int size;
    private boolean full;

    UniqueValues(Room room) {
        this.room = room;
    }

    /** Whether there was no room for some of the values, which were not compared. */
    boolean isFull() {
        return full;
    }

    /** Gives back the room. */
    void close() {
        room.give(slots.length - FIRST);
        slots = new long[0];
    }

    /** Whether it was not there, or there is no room to know. The hash is not 0. */
    boolean add(long hash) {
        if (full) {
            return true;
        }
        if (size * 2 >= slots.length) {
            if (!room.take(slots.length)) {
                full = true;
                return true;
            }
            long[] old = slots;
            slots = new long[old.length * 2];
            for (long one : old) {
                if (one != 0) {
                    put(one);
                }
            }
        }
        boolean fresh = put(hash);
        size += fresh ? 1 : 0;
        return fresh;
    }

    private boolean put(long hash) {
        int at = (int) (hash ^ hash >>> 32) & (slots.length - 1);
        while (slots[at] != 0) {
            if (slots[at] == hash) {
                return false;
            }
            at = (at + 1) & (slots.length - 1);
        }
        slots[at] = hash;
        return true;
    }

    boolean addAll(UniqueValues other) {
        full |= other.full;
        for (long one : other.slots) {
            if (one != 0 && !full && !add(one)) {
                return false;
            }
        }
        return true;
    }
}
