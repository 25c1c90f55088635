package dev.hapster.core.store;

import java.io.IOException;
import org.apache.parquet.bytes.BytesInput;
import org.apache.parquet.compression.CompressionCodecFactory.BytesInputCompressor;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;

/** Compresses pages with Snappy, without the detour over Hadoop's streams. Not thread-safe. */
@SuppressWarnings("deprecation") // the codec is given bytes, and no stream
final class Snappy implements BytesInputCompressor {

    @Override
    public BytesInput compress(BytesInput bytes) throws IOException {
        return BytesInput.from(org.xerial.snappy.Snappy.compress(bytes.toByteArray()));
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
