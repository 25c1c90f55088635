package dev.hapster.core.read.parquet;

import com.github.luben.zstd.Zstd;
import io.airlift.compress.lz4.Lz4Decompressor;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.util.zip.GZIPInputStream;
import org.apache.parquet.bytes.BytesInput;
import org.apache.parquet.compression.CompressionCodecFactory;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;

/** Unpacks the pages of Parquet files: Snappy, gzip, Zstandard and LZ4. */
@SuppressWarnings("deprecation") // the codec is given bytes, and no stream
final class ParquetCodecs implements CompressionCodecFactory {

    private static final int MOST_PAGE_BYTES = 256 << 20;

    private interface Codec {
        byte[] unpack(byte[] packed, int size) throws IOException;
    }

    @Override
    public BytesInputCompressor getCompressor(CompressionCodecName codec) {
        throw new UnsupportedOperationException("Sources are only read");
    }

    @Override
    public BytesInputDecompressor getDecompressor(CompressionCodecName codec) {
        Codec how =
                switch (codec) {
                    case UNCOMPRESSED -> (packed, size) -> packed;
                    case SNAPPY -> (packed, size) -> org.xerial.snappy.Snappy.uncompress(packed);
                    case GZIP ->
                        (packed, size) -> {
                            try (GZIPInputStream in = new GZIPInputStream(new ByteArrayInputStream(packed))) {
                                return in.readNBytes(size);
                            }
                        };
                    case ZSTD -> (packed, size) -> Zstd.decompress(packed, size);
                    case LZ4_RAW ->
                        (packed, size) -> {
                            byte[] bytes = new byte[size];
                            int count = new Lz4Decompressor().decompress(packed, 0, packed.length, bytes, 0, size);
                            return count == size ? bytes : java.util.Arrays.copyOf(bytes, count);
                        };
                    default ->
                        throw new IllegalArgumentException("it is compressed with " + codec
                                + ", which is not read here; Snappy, gzip, Zstandard and LZ4 are");
                };
        return new BytesInputDecompressor() {
            @Override
            public BytesInput decompress(BytesInput bytes, int size) throws IOException {
                return BytesInput.from(unpack(bytes.toByteArray(), size));
            }

            @Override
            public void decompress(ByteBuffer input, int compressed, ByteBuffer output, int size) throws IOException {
                byte[] bytes = new byte[compressed];
                input.get(bytes);
                output.put(unpack(bytes, size));
            }

            private byte[] unpack(byte[] packed, int size) throws IOException {
                if (size < 0 || size > MOST_PAGE_BYTES) {
                    throw new IOException("a page claims to unpack to " + size + " bytes");
                }
                if (codec == CompressionCodecName.SNAPPY
                        && org.xerial.snappy.Snappy.uncompressedLength(packed) != size) {
                    throw new IOException("a page unpacks to another size than it claims");
                }
                return how.unpack(packed, size);
            }

            @Override
            public void release() {
                // nothing is held
            }
        };
    }

    @Override
    public void release() {
        // nothing is held
    }
}
