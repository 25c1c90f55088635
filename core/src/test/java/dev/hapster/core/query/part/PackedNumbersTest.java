package dev.hapster.core.query.part;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Arrays;
import java.util.Random;
import org.apache.parquet.bytes.HeapByteBufferAllocator;
import org.apache.parquet.column.values.ValuesWriter;
import org.apache.parquet.column.values.delta.DeltaBinaryPackingValuesWriterForInteger;
import org.apache.parquet.column.values.delta.DeltaBinaryPackingValuesWriterForLong;
import org.apache.parquet.column.values.rle.RunLengthBitPackingHybridEncoder;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What the library of the format packs is unpacked as it was, and what is cut off or turned is a fault. */
@SuppressWarnings("deprecation") // bytes are copied, and no streams
class PackedNumbersTest {

    private static final int ENOUGH = 1 << 22;

    private static long[] numbers(Random random, int count, int bits) {
        long[] numbers = new long[count];
        for (int i = 0; i < count; i++) {
            numbers[i] = random.nextInt(9) == 0 && i > 0 ? numbers[i - 1] + 1 : random.nextLong() >> (64 - bits);
        }
        return numbers;
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 3, 8, 20, 31, 32, 40, 63, 64})
    void differencesAreUndone(int bits) throws Exception {
        Random random = new Random(bits);
        for (int count : new int[] {1, 2, 3, 31, 32, 33, 127, 128, 129, 130, 161, 256, 257, 5000}) {
            long[] numbers = numbers(random, count, bits);
            ValuesWriter writer = bits <= 32
                    ? new DeltaBinaryPackingValuesWriterForInteger(4096, ENOUGH, new HeapByteBufferAllocator())
                    : new DeltaBinaryPackingValuesWriterForLong(4096, ENOUGH, new HeapByteBufferAllocator());
            for (long number : numbers) {
                if (bits <= 32) {
                    writer.writeInteger((int) number);
                } else {
                    writer.writeLong(number);
                }
            }
            byte[] bytes = writer.getBytes().toByteArray();
            long[] found = new long[count];
            Differences.read(bytes, 0, bytes.length, bits <= 32, found, count);
            assertThat(found).isEqualTo(numbers);
            assertThatThrownBy(() -> Differences.read(bytes, 0, bytes.length / 2, bits <= 32, found, count))
                    .isInstanceOf(IllegalArgumentException.class);
            assertThatThrownBy(() -> Differences.read(bytes, 0, bytes.length, bits <= 32, found, count - 1))
                    .isInstanceOf(IllegalArgumentException.class);
        }
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 5, 8, 9, 17, 24, 31})
    void runsAndPackedBitsAreUndone(int bits) throws Exception {
        Random random = new Random(bits);
        for (int count : new int[] {1, 7, 8, 9, 63, 64, 65, 5000}) {
            int[] numbers = new int[count];
            for (int i = 0; i < count; i++) {
                numbers[i] = i > 0 && random.nextInt(4) > 0 ? numbers[i - 1] : random.nextInt() >>> (32 - bits);
            }
            RunLengthBitPackingHybridEncoder encoder =
                    new RunLengthBitPackingHybridEncoder(bits, 4096, ENOUGH, new HeapByteBufferAllocator());
            for (int number : numbers) {
                encoder.writeInt(number);
            }
            byte[] bytes = encoder.toBytes().toByteArray();
            int[] found = new int[count + 8];
            Runs.read(bytes, 0, bytes.length, bits, found, count);
            assertThat(Arrays.copyOf(found, count)).isEqualTo(numbers);
            assertThatThrownBy(() -> Runs.read(bytes, 0, 1, bits, found, count))
                    .isInstanceOf(IllegalArgumentException.class);
        }
    }
}
