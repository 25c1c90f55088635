package dev.hapster.core.read.tree;

import dev.hapster.core.read.bytes.Utf8Check;
import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.IOException;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.SeekableByteChannel;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.time.temporal.ChronoField;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.UUID;
import org.apache.parquet.ParquetReadOptions;
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
import org.apache.parquet.schema.LogicalTypeAnnotation.IntLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimeLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimeUnit;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimestampLogicalTypeAnnotation;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;
import org.apache.parquet.schema.Type;

/**
 * A Parquet file, record by record. The element that a list has for itself is left out: its members have the list's
 * name. The line of an element is the number of its record, counted from 1.
 */
final class ParquetSource implements TreeSource {

    private static final int JULIAN_EPOCH = 2_440_588;
    private static final DateTimeFormatter TIME = new DateTimeFormatterBuilder()
            .appendPattern("HH:mm:ss")
            .appendFraction(ChronoField.NANO_OF_SECOND, 0, 9, true)
            .toFormatter();
    private static final int[] FACTORS = {1_000_000, 1_000, 1};
    /** Bytes and places that a decimal may have: far more than anybody counts with. */
    private static final int MOST_DECIMAL_BYTES = 1_000;

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
                && decimal.getScale() > MOST_DECIMAL_BYTES) {
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
        private final PrimitiveType type;
        private final LogicalTypeAnnotation meaning;

        Value(String name, PrimitiveType type) {
            this.name = name;
            this.type = type;
            meaning = type.getLogicalTypeAnnotation();
        }

        private void emit(byte kind, String text) {
            byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
            pass(() -> {
                sink.begin(name, record);
                sink.value(kind, bytes, 0, bytes.length);
                sink.end();
            });
        }

        @Override
        public void addBoolean(boolean value) {
            emit(RawBatch.TRUTH, String.valueOf(value));
        }

        @Override
        public void addFloat(float value) {
            floating(value, Float.toString(value));
        }

        @Override
        public void addDouble(double value) {
            floating(value, Double.toString(value));
        }

        private void floating(double value, String text) {
            boolean number = !Double.isNaN(value) && !Double.isInfinite(value);
            emit(
                    number ? RawBatch.BINARY : RawBatch.TEXT,
                    !number
                            ? text
                            : value == Math.rint(value) && Math.abs(value) < 1e15
                                    ? Long.toString((long) value)
                                    : new BigDecimal(text).stripTrailingZeros().toPlainString());
        }

        @Override
        public void addInt(int value) {
            boolean unsigned = meaning instanceof IntLogicalTypeAnnotation whole && !whole.isSigned();
            addLong(unsigned ? Integer.toUnsignedLong(value) : value);
        }

        @Override
        public void addLong(long value) {
            if (meaning instanceof LogicalTypeAnnotation.DateLogicalTypeAnnotation) {
                emit(RawBatch.MOMENT, LocalDate.ofEpochDay(value).toString());
            } else if (meaning instanceof TimeLogicalTypeAnnotation time) {
                emit(
                        RawBatch.MOMENT,
                        TIME.format(LocalTime.ofNanoOfDay(
                                Math.floorMod(value * nanos(time.getUnit()), 86_400_000_000_000L))));
            } else if (meaning instanceof TimestampLogicalTypeAnnotation stamp) {
                emit(RawBatch.MOMENT, moment(value, nanos(stamp.getUnit())));
            } else if (meaning instanceof DecimalLogicalTypeAnnotation decimal) {
                emit(
                        RawBatch.NUMBER,
                        BigDecimal.valueOf(value, decimal.getScale()).toPlainString());
            } else if (meaning instanceof IntLogicalTypeAnnotation whole && !whole.isSigned()) {
                emit(RawBatch.NUMBER, Long.toUnsignedString(value));
            } else {
                emit(RawBatch.NUMBER, Long.toString(value));
            }
        }

        private static long nanos(TimeUnit unit) {
            return FACTORS[unit.ordinal()];
        }

        private static String moment(long value, long nanos) {
            long perSecond = 1_000_000_000L / nanos;
            LocalDateTime moment = LocalDateTime.ofEpochSecond(
                    Math.floorDiv(value, perSecond), (int) (Math.floorMod(value, perSecond) * nanos), ZoneOffset.UTC);
            return moment.toLocalDate() + "T" + TIME.format(moment);
        }

        @Override
        public void addBinary(Binary value) {
            boolean number = meaning instanceof DecimalLogicalTypeAnnotation;
            if (value.length() > (number ? MOST_DECIMAL_BYTES : DelimitedReader.MOST_RECORD_BYTES)) {
                throw new Passing(new FileRejectedException(Reasons.recordTooLong(
                        record, number ? MOST_DECIMAL_BYTES : DelimitedReader.MOST_RECORD_BYTES)));
            }
            if (meaning instanceof DecimalLogicalTypeAnnotation decimal) {
                emit(
                        RawBatch.NUMBER,
                        new BigDecimal(new BigInteger(value.getBytes()), decimal.getScale()).toPlainString());
            } else if (meaning instanceof LogicalTypeAnnotation.UUIDLogicalTypeAnnotation) {
                ByteBuffer bytes = value.toByteBuffer();
                emit(RawBatch.TEXT, new UUID(bytes.getLong(), bytes.getLong()).toString());
            } else if (type.getPrimitiveTypeName() == PrimitiveTypeName.INT96) {
                ByteBuffer bytes = value.toByteBuffer().order(ByteOrder.LITTLE_ENDIAN);
                long nanos = bytes.getLong();
                emit(
                        RawBatch.MOMENT,
                        LocalDate.ofEpochDay(bytes.getInt() - (long) JULIAN_EPOCH) + "T"
                                + TIME.format(LocalTime.ofNanoOfDay(nanos)));
            } else {
                byte[] bytes = value.getBytes();
                boolean text = meaning != null || type.getPrimitiveTypeName() == PrimitiveTypeName.BINARY;
                boolean whole = text
                        && Utf8Check.wellFormedUntil(Arrays.copyOf(bytes, bytes.length + 8), 0, bytes.length)
                                == bytes.length;
                emit(
                        RawBatch.TEXT,
                        whole
                                ? new String(bytes, StandardCharsets.UTF_8)
                                : "0x" + HexFormat.of().formatHex(bytes));
            }
        }
    }

    @Override
    public void close() throws IOException {
        file.close();
    }
}
