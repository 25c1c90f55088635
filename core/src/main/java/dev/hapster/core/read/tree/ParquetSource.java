package dev.hapster.core.read.tree;

import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.SeekableByteChannel;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import org.apache.parquet.ParquetReadOptions;
import org.apache.parquet.column.Dictionary;
import org.apache.parquet.column.page.PageReadStore;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.hadoop.metadata.BlockMetaData;
import org.apache.parquet.hadoop.metadata.ColumnChunkMetaData;
import org.apache.parquet.io.ColumnIOFactory;
import org.apache.parquet.io.RecordReader;
import org.apache.parquet.io.api.Binary;
import org.apache.parquet.io.api.Converter;
import org.apache.parquet.io.api.GroupConverter;
import org.apache.parquet.io.api.PrimitiveConverter;
import org.apache.parquet.io.api.RecordMaterializer;
import org.apache.parquet.schema.GroupType;
import org.apache.parquet.schema.LogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.DecimalLogicalTypeAnnotation;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;
import org.apache.parquet.schema.Type;

/**
 * A Parquet file, record by record. The element that a list has for itself is left out: its members have the list's
 * name. The line of an element is the number of its record, counted from 1.
 */
final class ParquetSource implements TreeSource {

    /** Places that a decimal may have: far more than anybody counts with. */
    private static final int MOST_PLACES = 1_000;
    /** Entries of a dictionary whose texts are remembered. */
    private static final int MOST_ENTRIES = 50_000;
    /** Bytes of a text that is. */
    private static final int MOST_REMEMBERED = 256;

    private final ParquetFileReader file;
    private final MessageType schema;
    private long left;
    private long record;
    private RecordReader<Boolean> records;
    private TreeSink sink;

    /** @param bytes closed with the source, and where there is none */
    ParquetSource(SeekableByteChannel bytes) throws IOException, FileRejectedException {
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
            long size = bytes.size();
            for (BlockMetaData block : opened.getFooter().getBlocks()) {
                for (ColumnChunkMetaData chunk : block.getColumns()) {
                    if (chunk.getStartingPos() < 0
                            || chunk.getTotalSize() < 0
                            || chunk.getStartingPos() + chunk.getTotalSize() > size) {
                        throw new FileRejectedException(Reasons.damaged(
                                "is a Parquet file whose footer speaks of bytes that it does not have"));
                    }
                }
            }
            schema = opened.getFileMetaData().getSchema();
            whole = true;
        } catch (RuntimeException | IOException wrong) {
            throw refusal(wrong);
        } finally {
            if (!whole) {
                (opened == null ? bytes : opened).close();
            }
        }
        file = opened;
    }

    private static FileRejectedException refusal(Exception wrong) {
        String message = String.valueOf(
                        wrong.getMessage() == null ? wrong.getClass().getSimpleName() : wrong.getMessage())
                .replaceAll("([a-z]+\\.)+[A-Z]\\w+: ?", "")
                .replaceAll("(/\\S+/)", "")
                .replaceAll("\\s+", " ");
        return new FileRejectedException(
                Reasons.damaged("is a Parquet file that cannot be read: it was cut off or damaged (" + message + ")"));
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

    /** Shows the sink every field that there is, without a value. */
    void describe(TreeSink to) throws IOException, FileRejectedException {
        to.begin("", 1);
        for (Type field : schema.getFields()) {
            describe(field, field.getName(), to);
        }
        to.end();
    }

    private static void describe(Type type, String name, TreeSink to) throws IOException, FileRejectedException {
        if (type.getLogicalTypeAnnotation() instanceof DecimalLogicalTypeAnnotation decimal
                && decimal.getScale() > MOST_PLACES) {
            throw new FileRejectedException(Reasons.structureRejected(
                    "has a column of decimals with " + decimal.getScale() + " places, " + Reasons.quote(name)));
        }
        if (type.isPrimitive()) {
            to.begin(name, 1);
            to.value(RawBatch.NOTHING, new byte[0], 0, 0);
            to.end();
            return;
        }
        GroupType group = type.asGroupType();
        boolean wraps = wraps(group);
        if (!wraps) {
            to.begin(name, 1);
        }
        for (Type field : group.getFields()) {
            describe(field, wraps ? name : field.getName(), to);
        }
        if (!wraps) {
            to.end();
        }
    }

    /** Whether a group is but the frame of a list or a map, and its members have its name. */
    private static boolean wraps(GroupType group) {
        LogicalTypeAnnotation meaning = group.getLogicalTypeAnnotation();
        boolean outer = meaning instanceof LogicalTypeAnnotation.ListLogicalTypeAnnotation
                || meaning instanceof LogicalTypeAnnotation.MapLogicalTypeAnnotation;
        boolean inner = group.isRepetition(Type.Repetition.REPEATED)
                && group.getFieldCount() == 1
                && (group.getName().equals("list") || group.getName().equals("bag"));
        return (outer && group.getFieldCount() == 1) || inner;
    }

    @Override
    public boolean advance(TreeSink to) throws IOException, FileRejectedException {
        sink = to;
        try {
            while (left == 0) {
                PageReadStore group = file.readNextRowGroup();
                if (group == null) {
                    return false;
                }
                left = group.getRowCount();
                records = new ColumnIOFactory(file.getFileMetaData().getCreatedBy())
                        .getColumnIO(schema)
                        .getRecordReader(group, new Emitting());
            }
            left--;
            record++;
            records.read();
            return true;
        } catch (Passing passing) {
            if (passing.getCause() instanceof FileRejectedException told) {
                throw told;
            }
            throw (IOException) passing.getCause();
        } catch (RuntimeException | IOException wrong) {
            throw refusal(wrong);
        }
    }

    /** Carries what a sink throws through code that does not expect it. */
    private static final class Passing extends RuntimeException {
        Passing(Exception cause) {
            super(cause);
        }
    }

    private interface Step {
        void take() throws IOException, FileRejectedException;
    }

    private static void pass(Step step) {
        try {
            step.take();
        } catch (IOException | FileRejectedException wrong) {
            throw new Passing(wrong);
        }
    }

    /** Gives each record to the sink while it is put together. */
    private final class Emitting extends RecordMaterializer<Boolean> {
        private final GroupConverter root = new Group(schema, "", false);

        @Override
        public Boolean getCurrentRecord() {
            return true;
        }

        @Override
        public GroupConverter getRootConverter() {
            return root;
        }
    }

    private final class Group extends GroupConverter {
        private final String name;
        private final boolean wraps;
        private final Converter[] fields;

        Group(GroupType type, String name, boolean wraps) {
            this.name = name;
            this.wraps = wraps;
            List<Type> all = type.getFields();
            fields = new Converter[all.size()];
            for (int i = 0; i < fields.length; i++) {
                Type field = all.get(i);
                String called = wraps ? name : field.getName();
                fields[i] = field.isPrimitive()
                        ? new Value(called, field.asPrimitiveType())
                        : new Group(field.asGroupType(), called, ParquetSource.wraps(field.asGroupType()));
            }
        }

        @Override
        public Converter getConverter(int field) {
            return fields[field];
        }

        @Override
        public void start() {
            if (!wraps) {
                pass(() -> sink.begin(name, record));
            }
        }

        @Override
        public void end() {
            if (!wraps) {
                pass(sink::end);
            }
        }
    }

    private final class Value extends PrimitiveConverter {
        private final String name;
        private final PrimitiveTypeName type;
        private final ParquetTexts texts;
        private Dictionary dictionary;
        /** What the entries of the dictionary are as texts, once they were met; with their kind as the last byte. */
        private byte[][] entries = new byte[0][];

        Value(String name, PrimitiveType type) {
            this.name = name;
            this.type = type.getPrimitiveTypeName();
            texts = new ParquetTexts(type);
        }

        private void emit(byte[] text, int length) {
            try {
                sink.begin(name, record);
                sink.value(texts.kind(), text, 0, length);
                sink.end();
            } catch (IOException | FileRejectedException wrong) {
                throw new Passing(wrong);
            }
        }

        private void emit(byte[] text) {
            emit(text, text.length);
        }

        @Override
        public boolean hasDictionarySupport() {
            return true;
        }

        @Override
        public void setDictionary(Dictionary entriesOf) {
            dictionary = entriesOf;
            entries = new byte[Math.min(MOST_ENTRIES, dictionary.getMaxId() + 1)][];
        }

        @Override
        public void addValueFromDictionary(int id) {
            byte[] known = id < entries.length ? entries[id] : null;
            if (known != null) {
                texts.kind(known[known.length - 1]);
                emit(known, known.length - 1);
                return;
            }
            byte[] text = entry(id);
            if (id < entries.length && text.length < MOST_REMEMBERED) {
                entries[id] = Arrays.copyOf(text, text.length + 1);
                entries[id][text.length] = texts.kind();
            }
            emit(text);
        }

        private byte[] entry(int id) {
            return switch (type) {
                case BOOLEAN -> texts.of(dictionary.decodeToBoolean(id));
                case INT32 -> texts.of(dictionary.decodeToInt(id));
                case INT64 -> texts.of(dictionary.decodeToLong(id));
                case FLOAT -> texts.of(dictionary.decodeToFloat(id));
                case DOUBLE -> texts.of(dictionary.decodeToDouble(id));
                default -> binary(dictionary.decodeToBinary(id));
            };
        }

        private byte[] binary(Binary value) {
            if (value.length() > texts.most()) {
                throw new Passing(new FileRejectedException(Reasons.recordTooLong(record, texts.most())));
            }
            return texts.of(value);
        }

        @Override
        public void addBoolean(boolean value) {
            emit(texts.of(value));
        }

        @Override
        public void addFloat(float value) {
            emit(texts.of(value));
        }

        @Override
        public void addDouble(double value) {
            emit(texts.of(value));
        }

        @Override
        public void addInt(int value) {
            emit(texts.of(value));
        }

        @Override
        public void addLong(long value) {
            emit(texts.of(value));
        }

        @Override
        public void addBinary(Binary value) {
            emit(binary(value));
        }
    }

    @Override
    public void close() throws IOException {
        file.close();
    }
}
