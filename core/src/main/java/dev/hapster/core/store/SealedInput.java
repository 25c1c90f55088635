package dev.hapster.core.store;

import dev.hapster.core.disk.ContentHash;
import java.io.EOFException;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.apache.parquet.ParquetReadOptions;
import org.apache.parquet.column.ColumnReader;
import org.apache.parquet.column.impl.ColumnReadStoreImpl;
import org.apache.parquet.column.page.PageReadStore;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.io.InputFile;
import org.apache.parquet.io.SeekableInputStream;
import org.apache.parquet.io.api.Converter;
import org.apache.parquet.io.api.GroupConverter;
import org.apache.parquet.io.api.PrimitiveConverter;
import org.apache.parquet.schema.MessageType;

/**
 * A part while it is read: no byte of it is given out that is not what was written. Parts of earlier versions, and
 * those that have no final name yet, have no sums; of them the checksums of their pages are looked at alone. Not
 * thread-safe.
 */
public final class SealedInput implements InputFile {

    private static final Pattern SEAL = Pattern.compile("\\.([0-9a-f]{32})\\.parquet$");

    private final Path path;
    private final FileChannel file;
    private final long size;
    /** Null until the footer was read, and for parts without. */
    private Sums sums;

    private int held = -1;
    private final byte[] block = new byte[Sums.BLOCK];

    private SealedInput(Path path) throws IOException {
        this.path = path;
        try {
            file = FileChannel.open(path);
        } catch (NoSuchFileException gone) {
            throw new DamagedPartException(path, "is missing in the store");
        }
        size = file.size();
    }

    /**
     * Opens a part.
     *
     * @throws DamagedPartException where it is missing, or is not what was written
     */
    public static ParquetFileReader open(Path path) throws IOException {
        return open(path, Optional.empty());
    }

    /**
     * Opens a part about which something is asked: its footer is read once, as long as the file looks as it did.
     *
     * @throws DamagedPartException where it is missing, or is not what was written
     */
    public static ParquetFileReader openAgain(Path path) throws IOException {
        return open(path, Footers.look(path));
    }

    private static ParquetFileReader open(Path path, Optional<Footers.Look> look) throws IOException {
        Optional<Footers.Footer> known = look.flatMap(Footers::of);
        SealedInput input = new SealedInput(path);
        ParquetFileReader reader = null;
        boolean whole = false;
        try {
            ParquetReadOptions options = ParquetReadOptions.builder(new PlainParquetConfiguration())
                    .withCodecFactory(new SnappyOnly())
                    .usePageChecksumVerification()
                    .build();
            if (known.isPresent()) {
                reader = new ParquetFileReader(input, known.get().metadata(), options, input.newStream());
                input.sums = known.get().sums();
            } else {
                reader = ParquetFileReader.open(input, options);
                if (input.seal(reader) && look.isPresent()) {
                    Footers.keep(look.get(), new Footers.Footer(reader.getFooter(), input.sums));
                }
            }
            whole = true;
            return reader;
        } catch (DamagedPartException told) {
            throw told;
        } catch (IOException | RuntimeException damaged) {
            throw new DamagedPartException(path, "cannot be read as Parquet: " + damaged.getMessage());
        } finally {
            if (!whole) {
                input.file.close();
            }
        }
    }

    /** The columns of a row group, each to be gone through by itself. */
    public static ColumnReadStoreImpl columns(ParquetFileReader file, PageReadStore group, MessageType schema) {
        return new ColumnReadStoreImpl(
                group, new Ignoring(), schema, file.getFileMetaData().getCreatedBy());
    }

    /** Values are taken from the column readers directly; these converters are asked for and never used. */
    private static final class Ignoring extends GroupConverter {
        private final PrimitiveConverter primitive = new PrimitiveConverter() {};

        @Override
        public Converter getConverter(int index) {
            return primitive;
        }

        @Override
        public void start() {
            // no records are put together
        }

        @Override
        public void end() {
            // no records are put together
        }
    }

    /** Goes past the next rows of a column. */
    public static void pass(ColumnReader column, long rows) {
        int whole = column.getDescriptor().getMaxDefinitionLevel();
        for (long row = 0; row < rows; row++) {
            if (column.getCurrentDefinitionLevel() == whole) {
                column.skip();
            }
            column.consume();
        }
    }

    /**
     * By what the file is known: of a part a piece of its name, of what a part says is to go a note in the footer of
     * that part. Empty where there is none.
     */
    private String wanted() throws IOException {
        if (isOfDeletions()) {
            Path folder = path.toAbsolutePath().getParent();
            Path part = folder.getParent()
                    .resolveSibling(PartStore.PARTS)
                    .resolve(folder.getFileName())
                    .resolve(path.getFileName());
            return PartStore.notes(part).getOrDefault(PartStore.DELETED, "");
        }
        Matcher seal = SEAL.matcher(path.getFileName().toString());
        return seal.find() ? seal.group(1) : "";
    }

    private boolean isOfDeletions() {
        return path.toAbsolutePath().getParent().getParent().endsWith(PartStore.DELETED);
    }

    /**
     * Compares the footer with that by which the file is known.
     *
     * @return whether it is known by its own name
     */
    private boolean seal(ParquetFileReader reader) throws IOException {
        String text = reader.getFileMetaData().getKeyValueMetaData().get(Sums.NOTE);
        String wanted = wanted();
        if (text == null) {
            if (!wanted.isEmpty()) {
                throw new DamagedPartException(path, "is not the file that was written under this name");
            }
            return false;
        }
        Sums found;
        try {
            found = Sums.parse(text);
        } catch (IllegalArgumentException wrong) {
            throw new DamagedPartException(path, "is damaged: " + wrong.getMessage());
        }
        if (!wanted.isEmpty() && !rest(found.end()).equals(wanted)) {
            throw new DamagedPartException(
                    path, "is damaged, or is not the file that was written under this name: its footer differs");
        }
        sums = found;
        return !wanted.isEmpty() && !isOfDeletions();
    }

    private String rest(long from) throws IOException {
        ContentHash rest = new ContentHash();
        ByteBuffer buffer = ByteBuffer.allocate(Sums.BLOCK);
        for (long at = from; at < size; ) {
            buffer.clear();
            int count = file.read(buffer, at);
            if (count < 0) {
                break;
            }
            rest.add(buffer.array(), 0, count);
            at += count;
        }
        return rest.value();
    }

    /**
     * Reads a whole part.
     *
     * @return rows that it has
     * @throws DamagedPartException where it is not what was written
     */
    static long check(Path path) throws IOException {
        try (ParquetFileReader reader = open(path)) {
            Sums sums =
                    Sums.parse(reader.getFileMetaData().getKeyValueMetaData().getOrDefault(Sums.NOTE, NONE));
            SealedInput input = new SealedInput(path);
            try (FileChannel file = input.file) {
                input.sums = sums;
                for (int i = 0; i < sums.blocks().length && file.isOpen(); i++) {
                    input.hold(i);
                }
            }
            if (sums.blocks().length == 0) {
                while (reader.readNextRowGroup() != null) {
                    continue; // each page has a checksum of its own
                }
            }
            return reader.getRecordCount();
        } catch (DamagedPartException told) {
            throw told;
        } catch (RuntimeException damaged) {
            throw new DamagedPartException(path, "is damaged: " + damaged.getMessage());
        }
    }

    private static final String NONE = new Sums(0, new long[0]).text();

    /** Reads a block, and sees whether it is what was written. */
    private void hold(int number) throws IOException {
        if (held == number) {
            return;
        }
        held = -1;
        int length = sums.length(number);
        ByteBuffer target = ByteBuffer.wrap(block, 0, length);
        long from = (long) number * Sums.BLOCK;
        while (target.hasRemaining() && file.read(target, from + target.position()) >= 0) {
            continue;
        }
        if (target.hasRemaining() || Sums.of(block, length) != sums.blocks()[number]) {
            throw new DamagedPartException(
                    path, "is damaged: bytes " + from + " to " + (from + length - 1) + " are not what was written");
        }
        held = number;
    }

    @Override
    public long getLength() {
        return size;
    }

    @Override
    public SeekableInputStream newStream() {
        return new Stream();
    }

    private final class Stream extends SeekableInputStream {
        private long at;

        @Override
        public long getPos() {
            return at;
        }

        @Override
        public void seek(long place) {
            at = place;
        }

        @Override
        public int read() throws IOException {
            byte[] one = new byte[1];
            return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
        }

        @Override
        public int read(byte[] bytes, int from, int length) throws IOException {
            return read(ByteBuffer.wrap(bytes, from, length));
        }

        @Override
        public int read(ByteBuffer target) throws IOException {
            if (at >= size) {
                return target.hasRemaining() ? -1 : 0;
            }
            int count;
            if (sums == null || at >= sums.end()) {
                count = file.read(target, at);
            } else {
                hold((int) (at / Sums.BLOCK));
                int within = (int) (at % Sums.BLOCK);
                count = Math.min(target.remaining(), sums.length(held) - within);
                target.put(block, within, count);
            }
            at += Math.max(0, count);
            return count;
        }

        @Override
        public void readFully(byte[] bytes) throws IOException {
            readFully(bytes, 0, bytes.length);
        }

        @Override
        public void readFully(byte[] bytes, int from, int length) throws IOException {
            readFully(ByteBuffer.wrap(bytes, from, length));
        }

        @Override
        public void readFully(ByteBuffer target) throws IOException {
            while (target.hasRemaining()) {
                if (read(target) < 0) {
                    throw new EOFException(path.getFileName() + " ends at byte " + size);
                }
            }
        }

        @Override
        public void close() throws IOException {
            file.close();
        }
    }
}
