package dev.hapster.core.read.parquet;

import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.SeekableByteChannel;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import org.apache.parquet.ParquetReadOptions;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.hadoop.metadata.BlockMetaData;
import org.apache.parquet.hadoop.metadata.ColumnChunkMetaData;

/** Opens Parquet files, and says what is wrong with them. */
public final class ParquetFile {

    private ParquetFile() {}

    /** Carries what is thrown while a value is taken through code that does not expect it. */
    public static final class Passing extends RuntimeException {
        public Passing(Exception cause) {
            super(cause);
        }
    }

    /**
     * Opens a file whose footer is whole.
     *
     * @param bytes closed with the file, and where there is none
     * @throws FileRejectedException where the file was cut off or damaged
     */
    public static ParquetFileReader open(SeekableByteChannel bytes) throws IOException, FileRejectedException {
        ParquetFileReader opened = null;
        boolean whole = false;
        try {
            checkEnd(bytes);
            opened = ParquetFileReader.open(
                    new ChannelInput(bytes),
                    ParquetReadOptions.builder(new PlainParquetConfiguration())
                            .withCodecFactory(new ParquetCodecs())
                            .usePageChecksumVerification()
                            .build());
            checkChunks(opened, bytes.size());
            whole = true;
            return opened;
        } catch (RuntimeException | IOException wrong) {
            throw refusal(wrong);
        } finally {
            if (!whole) {
                (opened == null ? bytes : opened).close();
            }
        }
    }

    private static void checkChunks(ParquetFileReader file, long size) throws FileRejectedException {
        for (BlockMetaData block : file.getFooter().getBlocks()) {
            for (ColumnChunkMetaData chunk : block.getColumns()) {
                if (chunk.getStartingPos() < 0
                        || chunk.getTotalSize() < 0
                        || chunk.getStartingPos() + chunk.getTotalSize() > size) {
                    throw new FileRejectedException(
                            Reasons.damaged("is a Parquet file whose footer speaks of bytes that it does not have"));
                }
            }
        }
    }

    /** A whole file ends as it begins. */
    private static void checkEnd(SeekableByteChannel bytes) throws IOException, FileRejectedException {
        ByteBuffer end = ByteBuffer.allocate(4);
        if (bytes.size() < 12
                || bytes.position(bytes.size() - 4).read(end) < 4
                || !Arrays.equals(end.array(), "PAR1".getBytes(StandardCharsets.US_ASCII))) {
            throw new FileRejectedException(Reasons.damaged(
                    "is the beginning of a Parquet file; its end, which says what it holds, is missing"));
        }
    }

    /**
     * Why a file is rejected that could not be read on.
     *
     * @throws IOException where something else than the file is at fault, as it was passed through
     */
    public static FileRejectedException refusal(Exception wrong) throws IOException {
        if (wrong instanceof Passing) {
            if (wrong.getCause() instanceof FileRejectedException told) {
                return told;
            }
            throw (IOException) wrong.getCause();
        }
        String message = String.valueOf(
                        wrong.getMessage() == null ? wrong.getClass().getSimpleName() : wrong.getMessage())
                .replaceAll("([a-z]+\\.)+[A-Z]\\w+: ?", "")
                .replaceAll("(/\\S+/)", "")
                .replaceAll("\\s+", " ");
        return new FileRejectedException(
                Reasons.damaged("is a Parquet file that cannot be read: it was cut off or damaged (" + message + ")"));
    }
}
