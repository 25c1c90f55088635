package dev.hapster.core.disk;

import com.dynatrace.hash4j.hashing.HashStream128;
import com.dynatrace.hash4j.hashing.HashValue128;
import com.dynatrace.hash4j.hashing.Hashing;
import java.util.HexFormat;

/** XXH3-128 of bytes that come one after another, as {@code xxh128sum} prints it. Not thread-safe. */
public final class ContentHash {

    private final HashStream128 hash = Hashing.xxh3_128().hashStream();

    /** Adds what comes next. */
    public void add(byte[] bytes, int offset, int count) {
        hash.putBytes(bytes, offset, count);
    }

    /** Of what was added so far, in hexadecimal. */
    public String value() {
        HashValue128 value = hash.get();
        HexFormat hex = HexFormat.of();
        return hex.toHexDigits(value.getMostSignificantBits()) + hex.toHexDigits(value.getLeastSignificantBits());
    }
}
