package dev.hapster.core.read.parquet;

import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import java.util.Arrays;
import org.apache.parquet.column.Dictionary;
import org.apache.parquet.io.api.Binary;
import org.apache.parquet.io.api.PrimitiveConverter;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;

/** Takes the values of one column as parquet-java reads them, and gives them as texts. Used by one thread. */
public abstract class ParquetValue extends PrimitiveConverter {

    /** Entries of a dictionary whose texts are remembered. */
    private static final int MOST_ENTRIES = 50_000;
    /** Bytes of a text that is. */
    private static final int MOST_REMEMBERED = 256;

    private final PrimitiveTypeName type;
    private final ParquetTexts texts;
    private Dictionary dictionary;
    /** What the entries of the dictionary are as texts, once they were met; with their kind as the last byte. */
    private byte[][] entries = new byte[0][];

    protected ParquetValue(PrimitiveType type) {
        this.type = type.getPrimitiveTypeName();
        texts = new ParquetTexts(type);
    }

    /**
     * Takes a value.
     *
     * @param kind one of {@link dev.hapster.core.row.RawBatch}
     * @param text UTF-8, followed by other bytes
     * @param length of the text in bytes
     * @throws ParquetFile.Passing with what goes wrong
     */
    protected abstract void take(byte kind, byte[] text, int length);

    /** The record of which the value is, counted from 1. */
    protected abstract long record();

    private void take(byte[] text) {
        take(texts.kind(), text, text.length);
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
            take(known[known.length - 1], known, known.length - 1);
            return;
        }
        byte[] text = entry(id);
        if (id < entries.length && text.length < MOST_REMEMBERED) {
            entries[id] = Arrays.copyOf(text, text.length + 1);
            entries[id][text.length] = texts.kind();
        }
        take(text);
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
            throw new ParquetFile.Passing(new FileRejectedException(Reasons.recordTooLong(record(), texts.most())));
        }
        return texts.of(value);
    }

    @Override
    public void addBoolean(boolean value) {
        take(texts.of(value));
    }

    @Override
    public void addFloat(float value) {
        take(texts.of(value));
    }

    @Override
    public void addDouble(double value) {
        take(texts.of(value));
    }

    @Override
    public void addInt(int value) {
        take(texts.of(value));
    }

    @Override
    public void addLong(long value) {
        take(texts.of(value));
    }

    @Override
    public void addBinary(Binary value) {
        take(binary(value));
    }
}
