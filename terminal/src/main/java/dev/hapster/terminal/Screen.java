package dev.hapster.terminal;

import java.io.BufferedReader;
import java.io.FileDescriptor;
import java.io.FileOutputStream;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The terminal: results on standard output, progress and complaints on standard error; colour only where a person
 * looks. The start script says with {@code HAPSTER_TTY} which of the two are terminals ({@code o}, {@code e}), and with
 * {@code COLUMNS} how wide they are.
 */
public final class Screen {

    private static final int USUAL_WIDTH = 100;
    private static final String WIDTH = "\\d{2,4}";
    private static final java.time.format.DateTimeFormatter TIME =
            java.time.format.DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm z", Locale.ROOT);

    private final PrintStream out;
    private final PrintStream err;
    private final boolean outIsTerminal;
    private final boolean errIsTerminal;
    private static final Pattern UNSAFE =
            Pattern.compile("(?!\u001b\\[(?:0|1|2|31|36)m)[\\p{Cc}\\p{Cf}\\u2028\\u2029&&[^\n\t]]");

    private final boolean asks;
    private final int width;
    /** Whether lines may be as long as they are: where nobody looks at a terminal, and nobody named a width. */
    private final boolean unlimited;

    private boolean live;

    /** The process's own output. */
    public Screen() {
        this(
                new FileOutputStream(FileDescriptor.out),
                new FileOutputStream(FileDescriptor.err),
                System.getenv().getOrDefault("HAPSTER_TTY", ""),
                System.getenv("COLUMNS"));
    }

    /**
     * @param terminals which of the two are terminals: {@code o}, {@code e}, both or none; {@code i} where standard
     *     input is one, too
     * @param columns how wide they are; null for the usual width
     */
    public Screen(OutputStream out, OutputStream err, String terminals, String columns) {
        this.out = new PrintStream(out, true, StandardCharsets.UTF_8);
        this.err = new PrintStream(err, true, StandardCharsets.UTF_8);
        outIsTerminal = terminals.contains("o");
        errIsTerminal = terminals.contains("e");
        asks = outIsTerminal && terminals.contains("i");
        width = width(columns);
        unlimited = !outIsTerminal && (columns == null || !columns.matches(WIDTH));
    }

    /** Whether a person can be asked. */
    public boolean asks() {
        return asks;
    }

    /** Asks for a yes; anything else, also the end of the input, is a no. */
    public boolean confirms(String question) {
        out.print(safe(question) + " [y/N] ");
        out.flush();
        try {
            String answer = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8)).readLine();
            return answer != null && answer.strip().toLowerCase(Locale.ROOT).matches("y|yes");
        } catch (IOException closed) {
            return false; // nobody answers
        }
    }

    public PrintStream out() {
        return out;
    }

    public PrintStream err() {
        return err;
    }

    private static int width(String columns) {
        return columns != null && columns.matches(WIDTH) ? Math.max(60, Integer.parseInt(columns)) : USUAL_WIDTH;
    }

    public int width() {
        return width;
    }

    /** Shows a table; on a terminal so that it fits, with the columns named that are left out. */
    public void table(Table table) {
        table.lines(limit()).forEach(this::line);
        List<String> dropped = table.dropped();
        if (!dropped.isEmpty()) {
            line(faint("not shown, since the terminal is too narrow: " + String.join(", ", dropped)));
        }
    }

    /** How long a line may be. */
    public int limit() {
        return unlimited ? Integer.MAX_VALUE : width;
    }

    /** A text as long as it may be behind so many other characters. */
    public String fitting(String text, int before) {
        return unlimited ? text : shorten(text, Math.max(20, width - before));
    }

    public void line(String text) {
        clearLive();
        out.println(safe(text));
    }

    public void line() {
        line("");
    }

    public void complain(String text) {
        clearLive();
        err.println(safe(text));
    }

    /** Shows a line that the next one takes the place of; on a terminal only. */
    public void live(String text) {
        if (errIsTerminal) {
            String shown = safe(text);
            err.print("\r\u001b[2K" + (shown.length() < width ? shown : shown.substring(0, width - 1)));
            err.flush();
            live = true;
        }
    }

    public boolean showsLive() {
        return errIsTerminal;
    }

    public void clearLive() {
        if (live) {
            err.print("\r\u001b[2K");
            err.flush();
            live = false;
        }
    }

    public String good(String text) {
        return colour(text, "36");
    }

    public String bad(String text) {
        return colour(text, "31");
    }

    public String faint(String text) {
        return colour(text, "2");
    }

    public String strong(String text) {
        return colour(text, "1");
    }

    private String colour(String text, String code) {
        return outIsTerminal && System.getenv("NO_COLOR") == null ? "\u001b[" + code + "m" + text + "\u001b[0m" : text;
    }

    /** A number with a space between groups of three digits. */
    public static String grouped(long number) {
        return String.format(Locale.ROOT, "%,d", number).replace(',', ' ');
    }

    /** {@code 1 row}, {@code 2 rows}. */
    public static String count(long number, String one) {
        return grouped(number) + " " + (number == 1 ? one : plural(one));
    }

    /** {@code files}, {@code entries}, {@code days}. */
    public static String plural(String noun) {
        return noun.matches(".*[^aeiou]y") ? noun.substring(0, noun.length() - 1) + "ies" : noun + "s";
    }

    /** A size for people, in units of 1000. */
    public static String size(long bytes) {
        if (bytes < 1000) {
            return bytes + " B";
        }
        double value = bytes;
        String[] units = {"B", "kB", "MB", "GB", "TB"};
        int unit = 0;
        while (value >= 999.5 && unit < units.length - 1) {
            value /= 1000;
            unit++;
        }
        return String.format(Locale.ROOT, value < 10 ? "%.1f %s" : "%.0f %s", value, units[unit]);
    }

    /** A moment in the machine's own zone, with the zone. */
    public static String time(String instant) {
        return instant == null || instant.isEmpty()
                ? ""
                : TIME.format(java.time.Instant.parse(instant).atZone(java.time.ZoneId.systemDefault()));
    }

    /**
     * A text that does nothing to a terminal but to be shown: of all that names and values may hold, line breaks, tabs
     * and our own colours pass, and everything else that moves, hides or turns something is shown as what it is.
     */
    static String safe(String text) {
        Matcher unsafe = UNSAFE.matcher(text);
        return unsafe.find()
                ? unsafe.replaceAll(
                        found -> String.format("\\\\u%04x", found.group().codePointAt(0)))
                : text;
    }

    /** A text on one line: line breaks and other characters that would move the cursor are shown as what they are. */
    public static String visible(String text) {
        if (text.chars().noneMatch(c -> Character.isISOControl(c) || Character.getType(c) == Character.FORMAT)) {
            return text;
        }
        StringBuilder shown = new StringBuilder();
        text.chars()
                .forEach(c -> shown.append(
                        c == '\n'
                                ? "\\n"
                                : c == '\r'
                                        ? "\\r"
                                        : c == '\t'
                                                ? "\\t"
                                                : Character.isISOControl(c) || Character.getType(c) == Character.FORMAT
                                                        ? String.format("\\u%04x", c)
                                                        : String.valueOf((char) c)));
        return shown.toString();
    }

    public static String shorten(String text, int most) {
        return text.length() <= most ? text : most < 2 ? "…" : text.substring(0, most - 1) + "…";
    }

    /** A bar as long as its share of the largest number; of at least one mark where there is anything at all. */
    public static String bar(double number, double most, int longest) {
        return number <= 0 ? "" : "▪".repeat((int) Math.max(1, Math.round(number * longest / most)));
    }

    /** Prints a text broken at the screen's edge, its further lines below the first. */
    public void paragraph(String head, String text) {
        StringBuilder line = new StringBuilder(head);
        for (String word : text.split(" ")) {
            if (line.length() + word.length() + 1 > width() && line.length() > head.length()) {
                line(line.toString().stripTrailing());
                line = new StringBuilder(" ".repeat(head.length()));
            }
            line.append(word).append(' ');
        }
        line(line.toString().stripTrailing());
    }
}
