package dev.hapster.core.read.tree;

import dev.hapster.core.read.parquet.ParquetFile;
import dev.hapster.core.read.parquet.ParquetValue;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.IOException;
import java.nio.channels.SeekableByteChannel;
import java.util.List;
import org.apache.parquet.column.page.PageReadStore;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.io.ColumnIOFactory;
import org.apache.parquet.io.RecordReader;
import org.apache.parquet.io.api.Converter;
import org.apache.parquet.io.api.GroupConverter;
import org.apache.parquet.io.api.RecordMaterializer;
import org.apache.parquet.schema.GroupType;
import org.apache.parquet.schema.LogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.DecimalLogicalTypeAnnotation;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.Type;

/**
 * A Parquet file, record by record. The element that a list has for itself is left out: its members have the list's
 * name. The line of an element is the number of its record, counted from 1.
 */
final class ParquetSource implements TreeSource {

    /** Places that a decimal may have: far more than anybody counts with. */
    private static final int MOST_PLACES = 1_000;

    private final ParquetFileReader file;
    private final MessageType schema;
    private long left;
    private long record;
    private RecordReader<Boolean> records;
    private TreeSink sink;

    /** @param bytes closed with the source, and where there is none */
    ParquetSource(SeekableByteChannel bytes) throws IOException, FileRejectedException {
        file = ParquetFile.open(bytes);
        schema = file.getFileMetaData().getSchema();
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
        } catch (RuntimeException | IOException wrong) {
            throw ParquetFile.refusal(wrong);
        }
    }

    private interface Step {
        void take() throws IOException, FileRejectedException;
    }

    private static void pass(Step step) {
        try {
            step.take();
        } catch (IOException | FileRejectedException wrong) {
            throw new ParquetFile.Passing(wrong);
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

    private final class Value extends ParquetValue {
        private final String name;

        Value(String name, PrimitiveType type) {
            super(type);
            this.name = name;
        }

        @Override
        protected void take(byte kind, byte[] text, int length) {
            try {
                sink.begin(name, record);
                sink.value(kind, text, 0, length);
                sink.end();
            } catch (IOException | FileRejectedException wrong) {
                throw new ParquetFile.Passing(wrong);
            }
        }

        @Override
        protected long record() {
            return record;
        }
    }

    @Override
    public void close() throws IOException {
        file.close();
    }
}
