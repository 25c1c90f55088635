package dev.hapster.core.run;

import com.dynatrace.hash4j.hashing.HashValue128;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.LongBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;

/**
 * Tells which rows have the same key ({@link KeyHash}) as another one. What does not fit into {@value #IN_MEMORY} entries goes to files, which are
 * settled one after another. Memory: 32 bytes an entry, of a 64th part of all; besides a bit a row. Not thread-safe.
 */
final class KeyIndex implements AutoCloseable {

    /** Entries that are held without going to disk. */
    private static final int IN_MEMORY = 1 << 19;
    private static final int SHARDS = 64;
    private static final int ENTRY = 4;
    private static final int BUFFERED = 2048;
    /** Rows of which is remembered which one they repeat; of others it is only known that they do. */
    private static final int MOST_NAMED = 100_000;
    private static final long DELETION = -1;

    /** Where a row is. */
    record Spot(int source, long line) {
    }

    /**
     * What was found.
     *
     * @param dropped rows that do not stay, by source
     * @param instead which row stays in their place, for the first of them: by source, shifted by 32 bits, and row
     */
    record Found(Map<Integer, BitSet> dropped, Map<Long, Spot> instead) {

        long count(int source) {
            return dropped.containsKey(source) ? dropped.get(source).cardinality() : 0;
        }
    }

    private final Path scratch;
    private final boolean keepLast;
    private long[] held = new long[1024];
    private int used;
    private Path folder;
    private FileChannel[] shards;
    private LongBuffer[] views;
    private ByteBuffer[] buffers;
    private final Map<Integer, BitSet> dropped = new HashMap<>();
    private final Map<Long, Spot> instead = new HashMap<>();

    /** @param keepLast whether the last of several rows stays; otherwise the first */
    KeyIndex(Path scratch, boolean keepLast) {
        this.scratch = scratch;
        this.keepLast = keepLast;
    }

    /** Adds a row. Rows come in order, the first first. */
    void add(int source, int row, long line, HashValue128 hash) throws IOException {
        entry(hash, (long) source << 32 | row, line);
    }

    /** A row that says that those before it with the same key are to go. */
    void delete(int source, HashValue128 hash) throws IOException {
        entry(hash, (long) source << 32, DELETION);
    }

    private void entry(HashValue128 hash, long spot, long line) throws IOException {
        if (shards == null && used == IN_MEMORY * ENTRY) {
            spill();
        }
        long high = hash.getMostSignificantBits();
        long low = hash.getLeastSignificantBits();
        if (shards != null) {
            write(high, low, spot, line);
            return;
        }
        if (held.length == used) {
            held = Arrays.copyOf(held, used * 2);
        }
        held[used++] = high;
        held[used++] = low;
        held[used++] = spot;
        held[used++] = line;
    }

    private void spill() throws IOException {
        folder = Files.createTempDirectory(scratch, "keys-");
        shards = new FileChannel[SHARDS];
        buffers = new ByteBuffer[SHARDS];
        views = new LongBuffer[SHARDS];
        for (int i = 0; i < SHARDS; i++) {
            shards[i] = FileChannel.open(folder.resolve(Integer.toString(i)), StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE, StandardOpenOption.READ);
            buffers[i] = ByteBuffer.allocate(BUFFERED * ENTRY * 8);
            views[i] = buffers[i].asLongBuffer();
        }
        for (int at = 0; at < used; at += ENTRY) {
            write(held[at], held[at + 1], held[at + 2], held[at + 3]);
        }
        held = new long[0];
        used = 0;
    }

    private void write(long high, long low, long spot, long line) throws IOException {
        int shard = (int) (high >>> 58);
        views[shard].put(high).put(low).put(spot).put(line);
        if (!views[shard].hasRemaining()) {
            flush(shard);
        }
    }

    private void flush(int shard) throws IOException {
        ByteBuffer bytes = buffers[shard].duplicate().limit(views[shard].position() * 8);
        while (bytes.hasRemaining()) {
            shards[shard].write(bytes);
        }
        views[shard].clear();
    }

    /** Settles all that was added. */
    Found settle() throws IOException {
        if (shards == null) {
            settle(held, used);
        } else {
            for (int shard = 0; shard < SHARDS; shard++) {
                flush(shard);
                ByteBuffer bytes = ByteBuffer.allocate(Math.toIntExact(shards[shard].size()));
                while (bytes.hasRemaining() && shards[shard].read(bytes, bytes.position()) >= 0) {
                    continue;
                }
                long[] entries = new long[bytes.position() / 8];
                bytes.flip().asLongBuffer().get(entries);
                settle(entries, entries.length);
            }
        }
        return new Found(dropped, instead);
    }

    private void settle(long[] entries, int length) {
        int size = Integer.highestOneBit(Math.max(16, length / ENTRY * 2)) * 2;
        int[] table = new int[size];
        for (int at = 0; at < length; at += ENTRY) {
            int slot = (int) entries[at + 1] & size - 1;
            while (table[slot] != 0 && (entries[table[slot] - 1] != entries[at] || entries[table[slot]] != entries[at + 1])) {
                slot = slot + 1 & size - 1;
            }
            int before = table[slot] - 1;
            boolean deletes = entries[at + 3] == DELETION;
            boolean stands = before >= 0 && entries[before + 3] != DELETION;
            if (deletes && stands) {
                drop(entries, before, at);
            } else if (stands && keepLast) {
                drop(entries, before, at);
            } else if (stands) {
                drop(entries, at, before);
                continue;
            }
            table[slot] = at + 1;
        }
    }

    private void drop(long[] entries, int gone, int stays) {
        long spot = entries[gone + 2];
        dropped.computeIfAbsent((int) (spot >>> 32), source -> new BitSet()).set((int) spot);
        if (instead.size() < MOST_NAMED) {
            instead.put(spot, new Spot((int) (entries[stays + 2] >>> 32), entries[stays + 3]));
        }
    }

    @Override
    public void close() throws IOException {
        if (shards != null) {
            for (int i = 0; i < SHARDS; i++) {
                if (shards[i] != null) {
                    shards[i].close();
                    Files.deleteIfExists(folder.resolve(Integer.toString(i)));
                }
            }
            Files.deleteIfExists(folder);
        }
    }
}
