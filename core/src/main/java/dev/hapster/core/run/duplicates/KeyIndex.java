package dev.hapster.core.run.duplicates;

import com.dynatrace.hash4j.hashing.HashValue128;
import dev.hapster.core.arrival.RowRule;
import dev.hapster.core.arrival.RowRule.Scope;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.LongBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.roaringbitmap.RoaringBitmap;

/**
 * Tells which rows of several parts do not count because of other rows with the same key ({@link KeyHash}). Rows may be
 * added in any order. What does not fit into {@value #IN_MEMORY} entries goes to files, which are settled one after
 * another. Memory: 40 bytes an entry, of a 64th part of all; besides a compressed bit for each row that does not count.
 * Not thread-safe.
 */
public final class KeyIndex implements AutoCloseable {

    /** Entries that are held without going to disk. */
    private static final int IN_MEMORY = 1 << 19;

    private static final int SHARDS = 64;
    private static final int ENTRY = 5;
    private static final int BUFFERED = 2048;
    /** Rows of which is remembered which one they give way to; of others it is only known that they do. */
    private static final int MOST_NAMED = 100_000;
    /** The value of a row that does not say how new it is. */
    static final long OLDEST = Long.MIN_VALUE;

    /**
     * The rows of one part.
     *
     * @param rank its place in the order of arrivals; parts of one file have the same
     * @param run the run that first saw the file
     */
    record Member(int rank, long run, RowRule rule) {}

    /** Where a row is; {@code line} is negative where it says that others are to go. */
    public record Spot(int source, long line) {}

    /**
     * What was found.
     *
     * @param dropped rows that do not count, by source
     * @param instead which row is there in their place, for the first of them: by source, shifted by 32 bits, and row
     * @param counted rows that repeat others and are only counted, by source
     */
    public record Found(Map<Integer, RoaringBitmap> dropped, Map<Long, Spot> instead, Map<Integer, Long> counted) {

        public long count(int source) {
            return dropped.containsKey(source) ? dropped.get(source).getLongCardinality() : 0;
        }
    }

    private final Path scratch;
    private final List<Member> members;
    private long[] held = new long[1024 * ENTRY];
    private int used;
    private Path folder;
    private FileChannel[] shards;
    private LongBuffer[] views;
    private ByteBuffer[] buffers;
    private final Map<Integer, RoaringBitmap> dropped = new HashMap<>();
    private final Map<Long, Spot> instead = new HashMap<>();
    private final Map<Integer, Long> counted = new HashMap<>();

    /** @param members the parts, by the numbers with which rows are added */
    KeyIndex(Path scratch, List<Member> members) {
        this.scratch = scratch;
        this.members = List.copyOf(members);
    }

    /**
     * Adds a row.
     *
     * @param line where it stands in its file
     * @param value how new it is, where the rule goes by that
     */
    void add(int source, int row, long line, HashValue128 hash, long value) throws IOException {
        entry(hash, (long) source << 32 | row, line * 2 + 1, value);
    }

    /**
     * A row that says that those before it with the same key are to go.
     *
     * @param before how many rows of its part stand before it
     */
    void delete(int source, int before, long line, HashValue128 hash, long value) throws IOException {
        entry(hash, (long) source << 32 | before, line * 2, value);
    }

    private void entry(HashValue128 hash, long spot, long line, long value) throws IOException {
        if (shards == null && used == IN_MEMORY * ENTRY) {
            spill();
        }
        long high = hash.getMostSignificantBits();
        long low = hash.getLeastSignificantBits();
        if (shards != null) {
            write(high, low, spot, line, value);
            return;
        }
        if (held.length == used) {
            held = Arrays.copyOf(held, Math.min(used * 2, IN_MEMORY * ENTRY));
        }
        held[used++] = high;
        held[used++] = low;
        held[used++] = spot;
        held[used++] = line;
        held[used++] = value;
    }

    private void spill() throws IOException {
        folder = Files.createTempDirectory(scratch, "keys-");
        shards = new FileChannel[SHARDS];
        buffers = new ByteBuffer[SHARDS];
        views = new LongBuffer[SHARDS];
        for (int i = 0; i < SHARDS; i++) {
            shards[i] = FileChannel.open(
                    folder.resolve(Integer.toString(i)),
                    StandardOpenOption.CREATE_NEW,
                    StandardOpenOption.WRITE,
                    StandardOpenOption.READ);
            buffers[i] = ByteBuffer.allocate(BUFFERED * ENTRY * 8);
            views[i] = buffers[i].asLongBuffer();
        }
        for (int at = 0; at < used; at += ENTRY) {
            write(held[at], held[at + 1], held[at + 2], held[at + 3], held[at + 4]);
        }
        held = new long[0];
        used = 0;
    }

    private void write(long high, long low, long spot, long line, long value) throws IOException {
        int shard = (int) (high >>> 58);
        views[shard].put(high).put(low).put(spot).put(line).put(value);
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
        return new Found(dropped, instead, counted);
    }

    /** Chains entries of one key, and settles each chain of more than one. */
    private void settle(long[] entries, int length) {
        int count = length / ENTRY;
        int size = Integer.highestOneBit(Math.max(16, count * 2)) * 2;
        int[] table = new int[size];
        int[] next = new int[count + 1];
        boolean[] several = new boolean[count + 1];
        for (int at = 0, number = 1; at < length; at += ENTRY, number++) {
            int slot = (int) entries[at + 1] & size - 1;
            while (table[slot] != 0
                    && (entries[(table[slot] - 1) * ENTRY] != entries[at]
                            || entries[(table[slot] - 1) * ENTRY + 1] != entries[at + 1])) {
                slot = slot + 1 & size - 1;
            }
            next[number] = table[slot];
            several[number] = table[slot] != 0;
            table[slot] = number;
        }
        Comparator<Integer> order = order(entries);
        List<Integer> same = new ArrayList<>();
        for (int number : table) {
            if (number != 0 && several[number]) {
                same.clear();
                for (int one = number; one != 0; one = next[one]) {
                    same.add((one - 1) * ENTRY);
                }
                same.sort(order);
                fold(entries, same);
            }
        }
    }

    private Comparator<Integer> order(long[] entries) {
        return (a, b) -> {
            int byRank = Integer.compare(
                    member(entries, a).rank(), member(entries, b).rank());
            if (byRank != 0) {
                return byRank;
            }
            int byLine = Long.compare(entries[a + 3] >> 1, entries[b + 3] >> 1);
            if (byLine != 0) {
                return byLine;
            }
            int byRow = Integer.compare((int) entries[a + 2], (int) entries[b + 2]);
            return byRow != 0 ? byRow : Long.compare(entries[a + 3], entries[b + 3]);
        };
    }

    private Member member(long[] entries, int at) {
        return members.get((int) (entries[at + 2] >>> 32));
    }

    /**
     * Goes through the rows of one key in the order of arrival: each meets those that are there by the rule of its own
     * arrival.
     */
    private void fold(long[] entries, List<Integer> same) {
        List<Integer> there = new ArrayList<>();
        int deletion = -1;
        for (int at : same) {
            Member member = member(entries, at);
            boolean byValue = member.rule().newest().isPresent();
            if ((entries[at + 3] & 1) == 0) {
                there.removeIf(
                        other -> (!byValue || entries[other + 4] <= entries[at + 4]) && drop(entries, other, at));
                deletion = deletion < 0 || entries[at + 4] >= entries[deletion + 4] ? at : deletion;
                continue;
            }
            switch (member.rule().kind()) {
                case NONE -> there.add(at);
                case COUNT -> {
                    if (there.stream().anyMatch(other -> within(entries, member, other))) {
                        counted.merge((int) (entries[at + 2] >>> 32), 1L, Long::sum);
                    }
                    there.add(at);
                }
                case UPDATE -> {
                    int newer = !byValue
                            ? -1
                            : there.stream()
                                    .filter(other -> entries[other + 4] > entries[at + 4])
                                    .findFirst()
                                    .orElse(-1);
                    if (byValue && newer < 0 && deletion >= 0 && entries[deletion + 4] > entries[at + 4]) {
                        newer = deletion;
                    }
                    if (newer >= 0) {
                        drop(entries, at, newer);
                    } else {
                        there.forEach(other -> drop(entries, other, at));
                        there.clear();
                        there.add(at);
                    }
                }
                case FIRST, REJECT -> {
                    int first = there.stream()
                            .filter(other -> within(entries, member, other))
                            .findFirst()
                            .orElse(-1);
                    if (first >= 0) {
                        drop(entries, at, first);
                    } else {
                        there.add(at);
                    }
                }
                case LAST -> {
                    there.removeIf(other -> within(entries, member, other) && drop(entries, other, at));
                    there.add(at);
                }
            }
        }
    }

    private boolean within(long[] entries, Member member, int other) {
        return member.rule().scope() == Scope.DATASET || member(entries, other).run() == member.run();
    }

    private boolean drop(long[] entries, int gone, int stays) {
        long spot = entries[gone + 2];
        dropped.computeIfAbsent((int) (spot >>> 32), source -> new RoaringBitmap())
                .add((int) spot);
        if (instead.size() < MOST_NAMED) {
            long line = entries[stays + 3] >> 1;
            instead.put(spot, new Spot((int) (entries[stays + 2] >>> 32), (entries[stays + 3] & 1) == 0 ? -1 : line));
        }
        return true;
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
