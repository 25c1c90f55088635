package dev.hapster.core.pattern;

import java.math.BigDecimal;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Sizes as people write them: {@code 10 MB} is 10 times 1000 times 1000 bytes, {@code 10 MiB} is 10 times 1024 times
 * 1024.
 */
public final class ByteSize {

    private static final Map<String, Long> UNITS = Map.of(
            "b",
            1L,
            "kb",
            1_000L,
            "mb",
            1_000_000L,
            "gb",
            1_000_000_000L,
            "tb",
            1_000_000_000_000L,
            "kib",
            1L << 10,
            "mib",
            1L << 20,
            "gib",
            1L << 30,
            "tib",
            1L << 40);
    private static final Pattern SIZE = Pattern.compile("(\\d{1,15}(?:\\.\\d{1,6})?)\\s*([A-Za-z]*)");

    private ByteSize() {}

    /**
     * Bytes, rounded down to whole ones. A number alone is bytes.
     *
     * @throws IllegalArgumentException with a sentence for people, where the text is not a size
     */
    public static long parse(String text) {
        Matcher size = SIZE.matcher(text.strip());
        Long unit = size.matches()
                ? UNITS.get(size.group(2).isEmpty() ? "b" : size.group(2).toLowerCase(java.util.Locale.ROOT))
                : null;
        if (unit == null) {
            throw new IllegalArgumentException(
                    "'" + text
                            + "' is not a size. Write 500 B, 10 kB, 10 MB, 2 GB (units of 1000) or KiB, MiB, GiB (units of 1024)");
        }
        BigDecimal bytes = new BigDecimal(size.group(1)).multiply(BigDecimal.valueOf(unit));
        if (bytes.compareTo(BigDecimal.valueOf(Long.MAX_VALUE)) > 0) {
            throw new IllegalArgumentException("'" + text + "' is larger than any file");
        }
        return bytes.longValue();
    }
}
