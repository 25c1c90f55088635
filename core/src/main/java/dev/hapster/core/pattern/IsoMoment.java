package dev.hapster.core.pattern;

/**
 * Moments as ISO 8601 writes them, and days of the calendar in microseconds since 1970-01-01T00:00; straight from
 * bytes, since most dates of most files are written so.
 */
final class IsoMoment {

    private IsoMoment() {}

    static long compose(int year, int month, int day, int hour, int minute, int second, int micros) {
        if (month < 1
                || month > 12
                || day < 1
                || day > length(year, month)
                || hour > 23
                || minute > 59
                || second > 59) {
            return DatePattern.NO_SUCH_DAY;
        }
        return epochDay(year, month, day) * DatePattern.MICROS_PER_DAY
                + ((hour * 60L + minute) * 60 + second) * 1_000_000
                + micros;
    }

    private static final int[] LENGTHS = {0, 31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31};
    private static final int[] DAYS_BEFORE = {0, 0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334};
    /** From 0000-01-01 to 1970-01-01. */
    private static final int DAYS_TO_1970 = 719_528;

    private static boolean isLeap(int year) {
        return (year & 3) == 0 && (year % 100 != 0 || year % 400 == 0);
    }

    private static int length(int year, int month) {
        return LENGTHS[month] + (month == 2 && isLeap(year) ? 1 : 0);
    }

    /** Days since 1970-01-01 in the proleptic Gregorian calendar, for years from 0 on. */
    private static long epochDay(int year, int month, int day) {
        long leaps = (year + 3L) / 4 - (year + 99L) / 100 + (year + 399L) / 400; // in the years before this one
        return 365L * year + leaps + DAYS_BEFORE[month] + (month > 2 && isLeap(year) ? 1 : 0) + day - 1 - DAYS_TO_1970;
    }

    /** The most usual form, {@code 2026-03-01 12:30:00}: all digits are looked at before anything is decided. */
    private static long isoSeconds(byte[] b, int p) {
        int y1 = b[p] - '0';
        int y2 = b[p + 1] - '0';
        int y3 = b[p + 2] - '0';
        int y4 = b[p + 3] - '0';
        int m1 = b[p + 5] - '0';
        int m2 = b[p + 6] - '0';
        int d1 = b[p + 8] - '0';
        int d2 = b[p + 9] - '0';
        int h1 = b[p + 11] - '0';
        int h2 = b[p + 12] - '0';
        int n1 = b[p + 14] - '0';
        int n2 = b[p + 15] - '0';
        int s1 = b[p + 17] - '0';
        int s2 = b[p + 18] - '0';
        // Negative where any of them is below 0 or above 9.
        int wrong = y1 | y2 | y3 | y4 | m1 | m2 | d1 | d2 | h1 | h2 | n1 | n2 | s1 | s2 | 9 - y1 | 9 - y2 | 9 - y3
                | 9 - y4 | 9 - m1 | 9 - m2 | 9 - d1 | 9 - d2 | 9 - h1 | 9 - h2 | 9 - n1 | 9 - n2 | 9 - s1 | 9 - s2;
        byte between = b[p + 10];
        boolean marks = b[p + 4] == '-'
                && b[p + 7] == '-'
                && b[p + 13] == ':'
                && b[p + 16] == ':'
                && (between == ' ' || between == 'T' || between == 't');
        return wrong < 0 || !marks
                ? DatePattern.UNREADABLE
                : compose(
                        y1 * 1000 + y2 * 100 + y3 * 10 + y4,
                        m1 * 10 + m2,
                        d1 * 10 + d2,
                        h1 * 10 + h2,
                        n1 * 10 + n2,
                        s1 * 10 + s2,
                        0);
    }

    static long parse(byte[] b, int from, int to) {
        int n = to - from;
        if (n == 19) {
            long quick = isoSeconds(b, from);
            if (quick != DatePattern.UNREADABLE) {
                return quick;
            }
        }
        if (n >= 5 && b[from + 2] == ':') {
            return isoTime(b, from, to, 1970, 1, 1);
        }
        if (n < 10 || b[from + 4] != '-' || b[from + 7] != '-') {
            return DatePattern.UNREADABLE;
        }
        int year = two(b, from) * 100 + two(b, from + 2);
        int month = two(b, from + 5);
        int day = two(b, from + 8);
        if (year < 0 || two(b, from + 2) < 0 || month < 0 || day < 0) {
            return DatePattern.UNREADABLE;
        }
        if (n == 10) {
            return compose(year, month, day, 0, 0, 0, 0);
        }
        byte between = b[from + 10];
        return between == 'T' || between == 't' || between == ' '
                ? isoTime(b, from + 11, to, year, month, day)
                : DatePattern.UNREADABLE;
    }

    private static long isoTime(byte[] b, int from, int to, int year, int month, int day) {
        if (to - from < 5 || b[from + 2] != ':') {
            return DatePattern.UNREADABLE;
        }
        int hour = two(b, from);
        int minute = two(b, from + 3);
        int second = 0;
        int micros = 0;
        int at = from + 5;
        if (at + 2 < to && b[at] == ':') {
            second = two(b, at + 1);
            at += 3;
            if (at < to && (b[at] == '.' || b[at] == ',')) {
                int unit = 100_000;
                int first = ++at;
                while (at < to && b[at] >= '0' && b[at] <= '9') {
                    if (unit == 0 && b[at] != '0') {
                        return DatePattern.UNREADABLE;
                    }
                    micros += (b[at++] - '0') * unit;
                    unit /= 10;
                }
                if (at == first) {
                    return DatePattern.UNREADABLE;
                }
            }
        }
        if (hour < 0 || minute < 0 || second < 0) {
            return DatePattern.UNREADABLE;
        }
        long local = compose(year, month, day, hour, minute, second, micros);
        if (at == to || local == DatePattern.NO_SUCH_DAY) {
            return at == to ? local : DatePattern.NO_SUCH_DAY;
        }
        if ((b[at] == 'Z' || b[at] == 'z') && at + 1 == to) {
            return local;
        }
        if (b[at] != '+' && b[at] != '-') {
            return DatePattern.UNREADABLE;
        }
        int hours = at + 3 <= to ? two(b, at + 1) : -1;
        int minutesAt = at + 3 < to && b[at + 3] == ':' ? at + 4 : at + 3;
        int minutes = minutesAt == to ? 0 : minutesAt + 2 == to ? two(b, minutesAt) : -1;
        if (hours < 0 || minutes < 0 || hours > 18 || minutes > 59) {
            return DatePattern.UNREADABLE;
        }
        long offset = (hours * 60L + minutes) * 60_000_000;
        return b[at] == '+' ? local - offset : local + offset;
    }

    /** Two digits as a number; a large negative number where they are no digits. */
    private static int two(byte[] b, int at) {
        int tens = b[at] - '0';
        int ones = b[at + 1] - '0';
        return tens < 0 || tens > 9 || ones < 0 || ones > 9 ? -1_000_000 : tens * 10 + ones;
    }
}
