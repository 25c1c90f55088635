package dev.hapster.core.store;

import java.io.IOException;
import java.nio.ByteBuffer;
import org.apache.parquet.bytes.BytesInput;
import org.apache.parquet.compression.CompressionCodecFactory;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;

/** Parts are written with Snappy, by {@code PartWriter}; nothing else is needed to read them. */
@SuppressWarnings("deprecation") // the codec is given bytes, and no stream
public final class SnappyOnly implements CompressionCodecFactory {
    @Override
    public BytesInputCompressor getCompressor(CompressionCodecName codec) {
        throw new UnsupportedOperationException("Parts are only read here");
    }

    @Override
    public BytesInputDecompressor getDecompressor(CompressionCodecName codec) {
        if (codec != CompressionCodecName.SNAPPY) {
            throw new IllegalStateException("A part is compressed with " + codec + ", and no part of ours is");
        }
        return new BytesInputDecompressor() {
            @Override
            public BytesInput decompress(BytesInput bytes, int size) throws IOException {
                return BytesInput.from(org.xerial.snappy.Snappy.uncompress(bytes.toByteArray()));
            }

            @Override
            public void decompress(ByteBuffer input, int compressed, ByteBuffer output, int size) throws IOException {
                byte[] bytes = new byte[compressed];
                input.get(bytes);
                output.put(org.xerial.snappy.Snappy.uncompress(bytes));
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
