package dev.hapster.core.store;

import java.io.IOException;
import java.nio.ByteBuffer;
import org.apache.parquet.bytes.BytesInput;
import org.apache.parquet.compression.CompressionCodecFactory;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;
import org.xerial.snappy.Snappy;

/** Parts are written with Snappy; nothing else is needed to read them. */
@SuppressWarnings("deprecation") // the codec is given bytes, and no stream
final class SnappyOnly implements CompressionCodecFactory {
    @Override
    public BytesInputCompressor getCompressor(CompressionCodecName codec) {
        return new Compressor();
    }

    /** Compresses pages, without the detour over Hadoop's streams. Thread-safe: it keeps nothing. */
    static final class Compressor implements BytesInputCompressor {

        @Override
        public BytesInput compress(BytesInput bytes) throws IOException {
            return BytesInput.from(Snappy.compress(bytes.toByteArray()));
        }

        @Override
        public CompressionCodecName getCodecName() {
            return CompressionCodecName.SNAPPY;
        }

        @Override
        public void release() {
            // nothing is held
        }
    }

    @Override
    public BytesInputDecompressor getDecompressor(CompressionCodecName codec) {
        if (codec != CompressionCodecName.SNAPPY) {
            throw new IllegalStateException("A part is compressed with " + codec + ", and no part of ours is");
        }
        return new BytesInputDecompressor() {
            @Override
            public BytesInput decompress(BytesInput bytes, int size) throws IOException {
                ByteBuffer buffer = bytes.toByteBuffer();
                if (!buffer.hasArray()) {
                    return BytesInput.from(Snappy.uncompress(bytes.toByteArray()));
                }
                int from = buffer.arrayOffset() + buffer.position();
                byte[] plain = new byte[Snappy.uncompressedLength(buffer.array(), from, buffer.remaining())];
                Snappy.uncompress(buffer.array(), from, buffer.remaining(), plain, 0);
                return BytesInput.from(plain);
            }

            @Override
            public void decompress(ByteBuffer input, int compressed, ByteBuffer output, int size) throws IOException {
                byte[] bytes = new byte[compressed];
                input.get(bytes);
                output.put(Snappy.uncompress(bytes));
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
