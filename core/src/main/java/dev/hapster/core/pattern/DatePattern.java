package dev.hapster.core.pattern;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.nio.charset.StandardCharsets;
import java.text.ParsePosition;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.Month;
import java.time.Year;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.time.format.ResolverStyle;
import java.time.format.TextStyle;
import java.time.temporal.ChronoField;
import java.time.temporal.IsoFields;
import java.time.temporal.TemporalAccessor;
import java.time.temporal.TemporalQueries;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * A pattern of dates and times in the letters of CLDR (UTS #35), such as {@code dd.MM.yyyy HH:mm}, or ISO 8601.
 *
 * <p>Patterns of digits only are read by a small program of our own directly from bytes; others (names of months,
 * zones) by {@code java.time}, with names of English or of a language that is named. Reading is strict: {@code dd} is
 * two digits, and the 31st of February is not a day. Two-digit years are read as POSIX does: 69 to 99 are 1969 to 1999,
 * 00 to 68 are 2000 to 2068. A value with an offset from UTC is turned into UTC. Immutable and thread-safe.
 */
public final class DatePattern {

    /** The text is not written in this pattern. */
    public static final long UNREADABLE = Long.MIN_VALUE;
    /** The text is written in this pattern, and there is no such day or time. */
    public static final long NO_SUCH_DAY = Long.MIN_VALUE + 1;

    public static final long MICROS_PER_DAY = 86_400_000_000L;

    /**
     * ISO 8601 dates, times, and both with {@code T} or a space between; seconds, fraction and offset may be absent.
     */
    public static final DatePattern ISO = new DatePattern("ISO 8601", null, null, null, true, true);

    /** Seconds since 1970-01-01T00:00Z (POSIX), with or without decimals. */
    private static final DatePattern EPOCH = new DatePattern("epoch", null, null, null, true, true);
    /** Milliseconds since then. */
    private static final DatePattern EPOCH_MS = new DatePattern("epoch_ms", null, null, null, true, true);
    /** Digits of seconds that lie within the years 1 to 9999. */
    private static final BigDecimal FIRST_SECOND = BigDecimal.valueOf(-62_135_596_800L);

    private static final BigDecimal LAST_SECOND = BigDecimal.valueOf(253_402_300_799L);
    private static final int LONGEST_EPOCH = 32;
    private static final Pattern NUMBER = Pattern.compile("-?\\d+(\\.\\d+)?");

    /** The parts of ISO 8601 dates and times, whether or not there is such a day. */
    private static final DateTimeFormatter ISO_FIELDS =
            DateTimeFormatter.ofPattern("[uuuu-MM-dd]['T'][' '][HH:mm[:ss]]", Locale.ENGLISH);

    private static final List<String> WORDS = List.of("iso", "epoch", "epoch_ms");
    private static final int LITERAL = 0x10000;

    private final String written;
    /** Pairs of (letter, digits) or (LITERAL, byte); null where {@code java.time} reads. */
    private final int[] program;

    private final DateTimeFormatter formatter;
    /** Names that are read; null for those of English. */
    private final Names names;

    private final boolean date;
    private final boolean time;

    private DatePattern(
            String written, int[] program, DateTimeFormatter formatter, Names names, boolean date, boolean time) {
        this.written = written;
        this.program = program;
        this.formatter = formatter;
        this.names = names;
        this.date = date;
        this.time = time;
    }

    /** Names of a language, whole or shortened as the pattern has them. */
    private record Names(DateNames of, boolean wholeMonth, boolean wholeDay) {

        /** A text with English names; a name that is shortened may have a point of which the pattern says nothing. */
        List<String> english(String text) {
            return List.of(of.english(text, wholeMonth, wholeDay, true), of.english(text, wholeMonth, wholeDay, false));
        }
    }

    /**
     * @param written a pattern, or a word: {@code iso} for ISO 8601, {@code epoch} and {@code epoch_ms} for seconds and
     *     milliseconds since 1970
     * @throws IllegalArgumentException with a sentence for people, where the pattern is not well-formed
     */
    public static DatePattern of(String written) {
        return switch (written) {
            case "iso" -> ISO;
            case "epoch" -> EPOCH;
            case "epoch_ms" -> EPOCH_MS;
            default -> of(written, false);
        };
    }

    /**
     * A pattern that need not give a whole day, such as {@code yyyy-MM}. What it leaves out is the first: the first
     * month of a year, the first day of a month or quarter.
     *
     * @throws IllegalArgumentException with a sentence for people, where the pattern is not well-formed
     */
    public static DatePattern partial(String written) {
        return WORDS.contains(written) ? of(written) : of(written, true);
    }

    /**
     * The same pattern for names of a language.
     *
     * @throws IllegalArgumentException with a sentence for people, where nothing is known of the language
     */
    public DatePattern in(Optional<String> language) {
        if (language.isEmpty() || !hasNames()) {
            return this;
        }
        DateNames known = DateNames.of(language.get())
                .orElseThrow(() -> new IllegalArgumentException("no names of months are known of the language "
                        + language.get() + "; it is a tag of BCP 47, such as de"));
        Names named = new Names(known, has("MMMM") || has("LLLL"), has("EEEE"));
        return new DatePattern(written, program, formatter, named, date, time);
    }

    /** Whether months or days of the week are read by their names. */
    public boolean hasNames() {
        return program == null && formatter != null && (has("MMM") || has("LLL") || has("EEE"));
    }

    private boolean has(String letters) {
        return written.replaceAll("'[^']*'", "").contains(letters);
    }

    /** What the formatter reads of a text: itself, or with English names. */
    private List<String> english(String text) {
        return names == null ? List.of(text) : names.english(text);
    }

    private static DatePattern of(String written, boolean partial) {
        DateTimeFormatterBuilder builder = new DateTimeFormatterBuilder().parseCaseInsensitive();
        int[] program = new int[written.length() * 8 + 8];
        int used = 0;
        boolean simple = true;
        StringBuilder letters = new StringBuilder();
        for (int at = 0; at < written.length(); ) {
            char c = written.charAt(at);
            String literal;
            if (Character.isLetter(c) && c < 0x80) {
                int end = at;
                while (end < written.length() && written.charAt(end) == c) {
                    end++;
                }
                int count = end - at;
                letters.append(c);
                simple &= c == 'S'
                        ? count <= 9
                        : "yuMdHms".indexOf(c) >= 0 && (count <= 2 || (count == 4 && (c == 'y' || c == 'u')));
                append(builder, c, count, written);
                program[used++] = c == 'u' ? 'y' : c;
                program[used++] = count;
                at = end;
                continue;
            } else if (c == '\'') {
                int end = written.indexOf('\'', at + 1);
                if (end < 0) {
                    throw new IllegalArgumentException("a quote in the date pattern " + written + " is never closed");
                }
                literal = end == at + 1 ? "'" : written.substring(at + 1, end);
                at = end + 1;
            } else {
                literal = String.valueOf(c);
                at++;
            }
            builder.appendLiteral(literal);
            for (byte b : literal.getBytes(StandardCharsets.UTF_8)) {
                if (used + 2 <= program.length) {
                    program[used++] = LITERAL;
                    program[used++] = b;
                }
            }
        }
        String named = letters.toString();
        if (partial) {
            if (named.isEmpty()) {
                throw new IllegalArgumentException("the date pattern " + written
                        + " has no letters of a date; they are yyyy, MM, dd, HH, mm, ss (CLDR)");
            }
            complete(builder, named);
        }
        boolean date = hasDate(named) || (partial && (named.indexOf('y') >= 0 || named.indexOf('u') >= 0));
        boolean time = letters.indexOf("H") >= 0
                || ((letters.indexOf("h") >= 0 || letters.indexOf("K") >= 0) && letters.indexOf("a") >= 0)
                || letters.indexOf("k") >= 0;
        if (!date && !time && !partial) {
            throw new IllegalArgumentException(
                    "the date pattern " + written + " names neither a whole day (yyyy, MM, dd) nor an hour (HH)");
        }
        boolean repeated = letters.chars().distinct().count() != letters.length();
        return new DatePattern(
                written,
                simple && !repeated && (date || !partial) ? java.util.Arrays.copyOf(program, used) : null,
                builder.toFormatter(Locale.ENGLISH).withResolverStyle(ResolverStyle.STRICT),
                null,
                date,
                time);
    }

    /** Sets what a partial pattern leaves out to the first. */
    private static void complete(DateTimeFormatterBuilder builder, String letters) {
        boolean month = letters.indexOf('M') >= 0 || letters.indexOf('L') >= 0;
        if (letters.indexOf('Q') >= 0 || letters.indexOf('q') >= 0) {
            builder.parseDefaulting(IsoFields.DAY_OF_QUARTER, 1);
        } else if (letters.indexOf('D') < 0 && letters.indexOf('w') < 0) {
            if (!month) {
                builder.parseDefaulting(ChronoField.MONTH_OF_YEAR, 1);
            }
            if (letters.indexOf('d') < 0) {
                builder.parseDefaulting(ChronoField.DAY_OF_MONTH, 1);
            }
        }
    }

    /** How many characters a text in this pattern has; 0 where that differs from text to text. */
    int width() {
        int width = 0;
        for (int at = 0; at < written.length(); ) {
            char c = written.charAt(at);
            int end = at + 1;
            while (end < written.length() && written.charAt(end) == c) {
                end++;
            }
            int count = end - at;
            if (c == '\'') {
                return 0; // quoted text: rare, and told apart by the characters around it
            }
            boolean letter = Character.isLetter(c) && c < 0x80;
            boolean fixed =
                    switch (c) {
                        case 'y', 'u' -> count == 2 || count == 4;
                        case 'M', 'L', 'E' -> count == 3 || (c != 'E' && count == 2);
                        case 'd', 'H', 'h', 'k', 'K', 'm', 's' -> count == 2;
                        case 'D' -> count == 3;
                        case 'S' -> true;
                        case 'Q' -> count == 1;
                        default -> !letter;
                    };
            if (!fixed) {
                return 0;
            }
            width += count;
            at = end;
        }
        return width;
    }

    /** What a text means as a date or a time, in ISO 8601; empty where it is not written in this pattern. */
    public Optional<String> meaning(String text) {
        if (program == null && formatter != null) {
            return fact(text).flatMap(Fact::iso);
        }
        long micros = parse(text);
        return micros <= NO_SUCH_DAY ? Optional.empty() : Optional.of(iso(micros));
    }

    /**
     * What a text means; a partial pattern may mean no day, such as {@code MM}. Empty where it is not written in this
     * pattern.
     */
    Optional<Fact> fact(String text) {
        if (program != null) {
            long micros = parse(text);
            return micros <= NO_SUCH_DAY ? Optional.empty() : Optional.of(new Fact(text, Optional.of(iso(micros))));
        }
        TemporalAccessor found = null;
        for (String english : english(text)) {
            try {
                found = found == null ? formatter.parse(english) : found;
            } catch (DateTimeException no) {
                // the next may be one
            }
        }
        if (found == null) {
            return Optional.empty();
        }
        LocalDate day = date ? found.query(TemporalQueries.localDate()) : null;
        LocalTime hour = time ? found.query(TemporalQueries.localTime()) : null;
        return Optional.of(new Fact(
                text,
                Optional.ofNullable(day)
                        .map(known -> hour == null
                                ? known.toString()
                                : known.atTime(hour).toString())));
    }

    /** Whether {@link #fact} gives one. */
    boolean reads(String text) {
        return program != null ? parse(text) > NO_SUCH_DAY : fact(text).isPresent();
    }

    private String iso(long micros) {
        LocalDate day = LocalDate.ofEpochDay(Math.floorDiv(micros, MICROS_PER_DAY));
        return time
                ? day.atTime(LocalTime.ofNanoOfDay(Math.floorMod(micros, MICROS_PER_DAY) * 1000))
                        .toString()
                : day.toString();
    }

    /**
     * Writes a moment in this pattern.
     *
     * @throws IllegalArgumentException where a letter asks for what the moment does not have
     */
    public String format(TemporalAccessor moment) {
        try {
            return formatter.format(moment);
        } catch (DateTimeException wrong) {
            throw new IllegalArgumentException(
                    "a date cannot be written as " + written + ": " + wrong.getMessage(), wrong);
        }
    }

    private static boolean hasDate(String letters) {
        boolean year = letters.indexOf('y') >= 0 || letters.indexOf('u') >= 0;
        boolean month = letters.indexOf('M') >= 0 || letters.indexOf('L') >= 0;
        return (year && ((month && letters.indexOf('d') >= 0) || letters.indexOf('D') >= 0))
                || (letters.indexOf('Y') >= 0
                        && letters.indexOf('w') >= 0
                        && (letters.indexOf('e') >= 0 || letters.indexOf('E') >= 0));
    }

    private static void append(DateTimeFormatterBuilder builder, char letter, int count, String written) {
        if ((letter == 'y' || letter == 'u') && count == 2) {
            builder.appendValueReduced(ChronoField.YEAR, 2, 2, 1969);
            return;
        }
        char own = letter == 'y' ? 'u' : letter;
        try {
            builder.appendPattern(String.valueOf(own).repeat(count));
        } catch (IllegalArgumentException wrong) {
            throw new IllegalArgumentException(
                    "'" + String.valueOf(letter).repeat(count) + "' in the date pattern " + written
                            + " means nothing (letters are those of CLDR, UTS #35)",
                    wrong);
        }
    }

    /** Whether the pattern gives a whole day. */
    public boolean hasDate() {
        return date;
    }

    /** Whether the pattern gives an hour. */
    public boolean hasTime() {
        return time;
    }

    /**
     * Reads a text. A pattern without a day gives the time of day, one without an hour the midnight of the day.
     *
     * @return microseconds since 1970-01-01T00:00, {@link #UNREADABLE} or {@link #NO_SUCH_DAY}
     */
    public long parse(byte[] bytes, int from, int to) {
        if (program != null) {
            return run(bytes, from, to);
        }
        if (this == EPOCH || this == EPOCH_MS) {
            return epoch(bytes, from, to);
        }
        return formatter == null
                ? IsoMoment.parse(bytes, from, to)
                : general(new String(bytes, from, to - from, StandardCharsets.UTF_8));
    }

    /** Decimals beyond microseconds are cut off, as they are for other ways of writing. */
    private long epoch(byte[] bytes, int from, int to) {
        if (to - from > LONGEST_EPOCH) {
            return UNREADABLE;
        }
        String text = new String(bytes, from, to - from, StandardCharsets.UTF_8);
        if (!NUMBER.matcher(text).matches()) {
            return UNREADABLE;
        }
        BigDecimal seconds = new BigDecimal(text).movePointLeft(this == EPOCH ? 0 : 3);
        if (seconds.compareTo(FIRST_SECOND) < 0 || seconds.compareTo(LAST_SECOND) > 0) {
            return NO_SUCH_DAY;
        }
        return seconds.movePointRight(6).setScale(0, RoundingMode.FLOOR).longValueExact();
    }

    /** The same for a text. */
    public long parse(String text) {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        return parse(bytes, 0, bytes.length);
    }

    /**
     * Why a text that is written in this pattern is neither a day nor a time, for people: {@code February has no day
     * 30}. Empty where that cannot be told.
     */
    public String flaw(String text) {
        if (this == EPOCH || this == EPOCH_MS) {
            return "it lies outside the years 1 to 9999";
        }
        TemporalAccessor fields = english(text.strip()).stream()
                .map(english ->
                        (formatter == null ? ISO_FIELDS : formatter).parseUnresolved(english, new ParsePosition(0)))
                .filter(Objects::nonNull)
                .findFirst()
                .orElse(null);
        if (fields == null) {
            return "";
        }
        long month = field(fields, ChronoField.MONTH_OF_YEAR, 1);
        if (month < 1 || month > 12) {
            return "there is no month " + month;
        }
        long year = field(fields, ChronoField.YEAR, 2000);
        long day = field(fields, ChronoField.DAY_OF_MONTH, 1);
        Month name = Month.of((int) month);
        if (day < 1 || day > name.length(Year.isLeap(year))) {
            return name.getDisplayName(TextStyle.FULL, Locale.ENGLISH) + (day == 29 ? " " + year : "") + " has no day "
                    + day;
        }
        for (ChronoField part :
                List.of(ChronoField.HOUR_OF_DAY, ChronoField.MINUTE_OF_HOUR, ChronoField.SECOND_OF_MINUTE)) {
            long value = field(fields, part, 0);
            if (!part.range().isValidValue(value)) {
                return "there is no "
                        + part.getBaseUnit().toString().toLowerCase(Locale.ROOT).replaceFirst("s$", "") + " " + value;
            }
        }
        return "";
    }

    private static long field(TemporalAccessor fields, ChronoField field, long usual) {
        return fields.isSupported(field) ? fields.getLong(field) : usual;
    }

    private long run(byte[] bytes, int from, int to) {
        int year = 1970;
        int month = 1;
        int day = 1;
        int hour = 0;
        int minute = 0;
        int second = 0;
        int micros = 0;
        int at = from;
        for (int i = 0; i < program.length; i += 2) {
            int letter = program[i];
            int count = program[i + 1];
            if (letter == LITERAL) {
                if (at >= to || bytes[at++] != count) {
                    return UNREADABLE;
                }
                continue;
            }
            int most = letter == 'S' ? count : letter == 'y' ? (count == 2 ? 2 : count == 1 ? 9 : 4) : 2;
            int number = 0;
            int digits = 0;
            while (digits < most && at < to && bytes[at] >= '0' && bytes[at] <= '9') {
                number = number * 10 + bytes[at++] - '0';
                digits++;
            }
            if (digits < count) {
                return UNREADABLE;
            }
            switch (letter) {
                case 'y' -> year = count == 2 ? number + (number < 69 ? 2000 : 1900) : number;
                case 'M' -> month = number;
                case 'd' -> day = number;
                case 'H' -> hour = number;
                case 'm' -> minute = number;
                case 's' -> second = number;
                default -> {
                    for (int d = digits; d < 6; d++) {
                        number *= 10;
                    }
                    for (int d = digits; d > 6; d--) {
                        if (number % 10 != 0) {
                            return UNREADABLE;
                        }
                        number /= 10;
                    }
                    micros = number;
                }
            }
        }
        return at == to ? IsoMoment.compose(year, month, day, hour, minute, second, micros) : UNREADABLE;
    }

    private long general(String text) {
        long read = UNREADABLE;
        for (String english : english(text)) {
            read = read <= NO_SUCH_DAY ? Math.max(read, plain(english)) : read;
        }
        return read;
    }

    private long plain(String text) {
        TemporalAccessor found;
        try {
            found = formatter.parse(text);
        } catch (DateTimeException wrong) {
            boolean isWritten = formatter.parseUnresolved(text, new ParsePosition(0)) != null;
            return isWritten && wrong.getCause() != null ? NO_SUCH_DAY : UNREADABLE;
        }
        LocalDate day = found.query(TemporalQueries.localDate());
        LocalTime hour = found.query(TemporalQueries.localTime());
        if ((date && day == null) || (time && hour == null)) {
            return UNREADABLE;
        }
        long micros =
                (day == null ? 0 : day.toEpochDay() * MICROS_PER_DAY) + (hour == null ? 0 : hour.toNanoOfDay() / 1000);
        ZoneOffset offset = found.query(TemporalQueries.offset());
        return offset == null ? micros : micros - offset.getTotalSeconds() * 1_000_000L;
    }

    @Override
    public String toString() {
        return names == null ? written : written + " (" + names.of.name() + ")";
    }
}
