package dev.hapster.core.draft.reading;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.io.JsonEOFException;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/** Finds out how a text file is read. */
public final class TextReading {

    static final List<String> SEPARATORS = List.of(",", ";", "\t", "|", ":", "^", "~");
    private static final List<String> COMMENTS = List.of("#", "%", "//", "--", "!");
    private static final int ROWS = 2_000;
    /** Rows by which ways to read are compared. */
    private static final int SCORED = 400;

    private static final int LINES = 200;
    private static final int MOST_BELOW = 20;
    /** Of 100 rows, how many must have the same number of fields. */
    private static final int MOST_ALIKE = 60;

    private final Head head;
    private final ReadChoice choice;
    private final List<String> lines;
    private final Split.Text text;
    private final List<Evidence> evidence = new ArrayList<>();
    private final List<String> doubts = new ArrayList<>();

    private TextReading(Head head, ReadChoice choice) {
        this.head = head;
        this.choice = choice;
        lines = head.text().lines().toList();
        text = new Split.Text(lines, head.text().getBytes(StandardCharsets.UTF_8), head.whole());
    }

    /**
     * Finds out how a text file is read.
     *
     * @param choice what people decided
     * @throws FileRejectedException where it is none that can be read, such as a web page
     */
    public static Reading of(Content content, ReadChoice choice) throws IOException, FileRejectedException {
        Head head = Head.of(content, choice.encoding());
        if (head.text().isBlank()) {
            throw new FileRejectedException(Reasons.fileEmpty());
        }
        if (head.text().indexOf('\u0000') >= 0) {
            throw new FileRejectedException(Reasons.damaged("holds bytes of 0, so it is not text"));
        }
        return new TextReading(head, choice).read(content);
    }

    private Reading read(Content content) throws IOException, FileRejectedException {
        String start = head.text().stripLeading();
        if (start.startsWith("<")) {
            return xml(content, start);
        }
        if (start.startsWith("{") || start.startsWith("[")) {
            Optional<Format> json = json(start);
            if (json.isPresent()) {
                evidence.add(new Evidence(
                        "as",
                        json.get().word(),
                        json.get() == Format.JSON ? "it is one JSON value" : "each line is a JSON value"));
                encoding();
                return TreeReading.of(content, with(json.get()), evidence, doubts, head.ascii());
            }
        }
        return delimited();
    }

    private Read with(Format format) {
        return Read.USUAL.with(ReadSection.AS, format).with(ReadSection.ENCODING, List.of(head.charset()));
    }

    private void encoding() {
        if (!head.ascii()) {
            evidence.add(new Evidence("encoding", head.charset().name().toLowerCase(Locale.ROOT), head.why()));
        }
        if (!head.doubt().isEmpty()) {
            doubts.add(head.doubt());
        }
    }

    private Reading xml(Content content, String start) throws IOException, FileRejectedException {
        String lower = start.substring(0, Math.min(start.length(), 2_000)).toLowerCase(Locale.ROOT);
        if (lower.startsWith("<!doctype html") || lower.contains("<html")) {
            throw new FileRejectedException(Reasons.damaged("is a web page and holds no table that Hapster reads"));
        }
        evidence.add(new Evidence("as", "xml", "it begins with a tag"));
        return TreeReading.of(content, Read.USUAL.with(ReadSection.AS, Format.XML), evidence, doubts, head.ascii());
    }

    /** Whether the beginning is JSON: one value for all, or one a line. */
    private Optional<Format> json(String start) {
        int values = 0;
        int depth = 0;
        try (JsonParser parser = new JsonFactory().createParser(head.whole() ? start : closed(start))) {
            for (JsonToken token = parser.nextToken(); token != null; token = parser.nextToken()) {
                depth += token.isStructStart() ? 1 : token.isStructEnd() ? -1 : 0;
                values += depth == 0 ? 1 : 0;
                if (values > 1) {
                    return Optional.of(Format.JSON_LINES);
                }
            }
        } catch (IOException wrong) {
            if (wrong instanceof JsonEOFException || wrong.getMessage().startsWith("Unexpected end-of-input")) {
                return Optional.of(Format.JSON); // more comes, or the file was cut off, which reading it will say
            }
            return values > 0 ? Optional.of(Format.JSON_LINES) : Optional.empty();
        }
        return Optional.of(Format.JSON);
    }

    /**
     * The beginning up to its last comma or line: what is cut off within a number or a word would not be JSON, whatever
     * the whole is.
     */
    private static String closed(String start) {
        return start.substring(0, Math.max(start.lastIndexOf(','), start.lastIndexOf('\n')) + 1);
    }

    // delimited text

    private Reading delimited() throws IOException, FileRejectedException {
        Optional<String> comment = comment();
        List<Split> splits = new ArrayList<>();
        for (String separator : choice.separator().map(List::of).orElse(SEPARATORS)) {
            if (choice.separator().isPresent() || isCommon(separator)) {
                splits.add(split(separator, comment, Optional.of('"'), Optional.empty(), SCORED));
            }
        }
        List<Split> likely = splits.stream()
                .filter(split -> choice.separator().isPresent() || (split.width() > 1 && split.alike() >= MOST_ALIKE))
                .sorted(Comparator.comparing((Split split) -> -split.alike())
                        .thenComparing(Split::dirty)
                        .thenComparing(split -> -split.width())
                        .thenComparing(split -> SEPARATORS.indexOf(split.separator())))
                .toList();
        encoding();
        if (likely.isEmpty()) {
            return FixedLook.of(head.text()).map(look -> fixed(look)).orElseGet(() -> lines(comment));
        }
        Split best = likely.get(0);
        Quote quote = quote(best, comment);
        if (!quote.usual() || best.rows().size() == SCORED) {
            best = split(best.separator(), comment, quote.mark, quote.escape, ROWS);
        }
        return table(best, likely, comment, quote);
    }

    /** Whether many of the first lines have it. */
    private boolean isCommon(String separator) {
        int looked = 0;
        int with = 0;
        for (int i = 0; i < lines.size() && looked < LINES; i++) {
            looked += lines.get(i).isBlank() ? 0 : 1;
            with += lines.get(i).contains(separator) ? 1 : 0;
        }
        return with * 3 >= looked;
    }

    /** The mark of quotes, and of what takes away their meaning. */
    private record Quote(Optional<Character> mark, Optional<Character> escape, String why) {
        boolean usual() {
            return mark.equals(Optional.of('"')) && escape.isEmpty();
        }
    }

    private Split split(
            String separator, Optional<String> comment, Optional<Character> quote, Optional<Character> escape, int most)
            throws IOException, FileRejectedException {
        return Split.of(text, new Split.Marks(separator, comment, quote, escape), most);
    }

    /** What some lines begin with and most do not, the first one among them. */
    private Optional<String> comment() {
        List<String> filled =
                lines.stream().filter(line -> !line.isBlank()).limit(ROWS).toList();
        return COMMENTS.stream()
                .filter(start -> filled.get(0).startsWith(start))
                .filter(start -> {
                    long with = filled.stream()
                            .filter(line -> line.startsWith(start))
                            .count();
                    return with > 1 && with < filled.size();
                })
                .findFirst();
    }

    private Quote quote(Split split, Optional<String> comment) throws IOException, FileRejectedException {
        long wrong = split.rows().stream().filter(Row::misquoted).count();
        if (wrong > 0) {
            String first = split.rows().stream()
                    .filter(Row::misquoted)
                    .map(row -> "line " + row.line())
                    .findFirst()
                    .orElseThrow();
            if (head.text().contains("\\\"")) {
                Split escaped = split(split.separator(), comment, Optional.of('"'), Optional.of('\\'), SCORED);
                if (escaped.rows().stream().noneMatch(Row::misquoted)) {
                    return new Quote(Optional.of('"'), Optional.of('\\'), "\\\" stands within quotes (" + first + ")");
                }
            }
            Split bare = split(split.separator(), comment, Optional.empty(), Optional.empty(), SCORED);
            if (bare.alike() >= split.alike()) {
                return new Quote(
                        Optional.empty(),
                        Optional.empty(),
                        "quotes stand within fields, and around none (" + first + ")");
            }
        }
        long single = split.rows().stream()
                .filter(row -> row.cells().stream()
                        .anyMatch(cell -> cell.length() > 1 && cell.startsWith("'") && cell.endsWith("'")))
                .count();
        if (single > 0 && single * 2 > split.rows().size() && !head.text().contains("\"")) {
            return new Quote(Optional.of('\''), Optional.empty(), single + " lines have fields between ' and '");
        }
        return new Quote(Optional.of('"'), Optional.empty(), "");
    }

    private TableStart start(Split best, int narrowest) {
        List<Row> rows = even(best, narrowest);
        TableStart start = TableStart.of(rows, best.width());
        if (choice.linesAbove().isPresent()) {
            int first = 0;
            while (first < rows.size() - 1
                    && rows.get(first).line() <= choice.linesAbove().getAsInt()) {
                first++;
            }
            start = TableStart.at(rows, first, best.width());
        }
        return choice.header().isEmpty()
                ? start
                : new TableStart(start.first(), choice.header().get(), ReadChoice.WHY, "");
    }

    private Reading table(Split best, List<Split> likely, Optional<String> comment, Quote quote) {
        int narrowest = narrowest(best);
        TableStart start = start(best, narrowest);
        if (!start.doubt().isEmpty() && commented(best, comment).isPresent()) {
            start = new TableStart(start.first(), false, "the names stand in the comment above", "");
        }
        Read read = with(Format.DELIMITED).with(ReadSection.SEPARATOR, List.of(best.separator()));
        long table = best.rows().stream().skip(start.first()).count();
        long alike = best.rows().stream()
                .skip(start.first())
                .filter(row -> row.fields() == best.width())
                .count();
        String first = head.whole() ? "" : "the first ";
        evidence.add(new Evidence(
                "separator",
                best.separator().equals("\t") ? "\\t" : best.separator(),
                (choice.separator().isPresent() ? ReadChoice.WHY + "; " : "")
                        + Reasons.separator(best.separator()) + " gives " + best.width() + " fields in "
                        + (alike != table
                                ? alike + " of " + first + table + " lines"
                                : table == 1
                                        ? "the only line"
                                        : "all " + (first.isEmpty() ? "" : "of " + first) + table + " lines")
                        + runnerUp(best, likely)));
        long shorter = best.rows().stream()
                .skip(start.first())
                .filter(row -> row.fields() < best.width() && row.fields() >= narrowest)
                .count();
        if (narrowest < best.width() && shorter > 0) {
            read = read.with(ReadSection.FILL_SHORT, true);
            evidence.add(new Evidence(
                    "short_rows", "fill", shorter + " lines have fewer fields; what is missing is at their end"));
        }
        if (!quote.usual()) {
            read = read.with(ReadSection.QUOTE, quote.mark).with(ReadSection.ESCAPE, quote.escape);
            String what = quote.escape.isPresent() ? "escape" : "quote";
            evidence.add(new Evidence(
                    what,
                    quote.escape.isPresent()
                            ? "\\"
                            : quote.mark.map(String::valueOf).orElse("none"),
                    quote.why));
        }
        if (comment.isPresent()) {
            read = read.with(ReadSection.COMMENT, comment);
            evidence.add(new Evidence("comment", comment.get(), beginning(comment.get()) + " lines begin with it"));
        }
        Row top = best.rows().get(start.first());
        int above = above(top.line(), comment);
        if (above > 0) {
            read = read.with(ReadSection.LINES_ABOVE, above);
            evidence.add(new Evidence("lines_above", String.valueOf(above), "the table begins in line " + top.line()));
        }
        int below = below(best);
        if (below > 0) {
            read = read.with(ReadSection.LINES_BELOW, below);
            evidence.add(new Evidence(
                    "lines_below",
                    String.valueOf(below),
                    "the last " + (below == 1 ? "line has" : below + " lines have") + " another number of fields"));
        }
        List<String> names = start.header()
                ? top.cells().stream().map(String::strip).toList()
                : commented(best, comment).orElse(List.of());
        evidence.add(new Evidence("header", start.header() ? "line " + top.line() : "none", start.why()));
        if (!start.doubt().isEmpty()) {
            doubts.add(start.doubt());
        }
        return new Reading(read, names, best.width(), evidence, doubts, head.ascii(), start.header());
    }

    /**
     * The fewest fields with which a line is a row all the same: in some files the last fields are left away where they
     * are empty.
     */
    private static int narrowest(Split best) {
        long shorter = best.rows().stream()
                .filter(row -> row.fields() < best.width() && row.fields() > 1 && row.fields() * 2 >= best.width())
                .count();
        return shorter * 20 >= best.rows().size() && best.width() > 2
                ? Math.max(2, (best.width() + 1) / 2)
                : best.width();
    }

    /** The rows, where those that are only shorter count as whole. */
    private static List<Row> even(Split best, int narrowest) {
        return best.rows().stream()
                .map(row -> row.fields() >= narrowest && row.fields() < best.width() ? row.filled(best.width()) : row)
                .toList();
    }

    private String runnerUp(Split best, List<Split> likely) {
        return likely.stream()
                .filter(other -> !other.separator().equals(best.separator()))
                .findFirst()
                .map(other -> "; " + Reasons.separator(other.separator()) + " gives " + other.range())
                .orElse("");
    }

    private long beginning(String start) {
        return lines.stream().filter(line -> line.startsWith(start)).count();
    }

    /** Lines above the table that no other rule takes away. */
    private int above(long line, Optional<String> comment) {
        List<String> above = lines.subList(0, (int) Math.min(lines.size(), line - 1));
        boolean nothing =
                above.stream().allMatch(one -> one.isBlank() || (comment.isPresent() && one.startsWith(comment.get())));
        return nothing ? 0 : (int) line - 1;
    }

    private int below(Split best) {
        if (!head.whole()) {
            return 0;
        }
        List<Row> rows = best.rows();
        int last = rows.size() - 1;
        while (last >= 0
                && (rows.get(last).fields() > best.width()
                        || rows.get(last).fields() < narrowest(best)
                        || isTotal(rows, last))) {
            last--;
        }
        if (last < 0 || last == rows.size() - 1) {
            return 0;
        }
        int below = (int) (lines.size() - rows.get(last + 1).line() + 1);
        return below > MOST_BELOW ? 0 : below;
    }

    /** Whether the last row fills few fields of a table that is full otherwise. */
    private static boolean isTotal(List<Row> rows, int at) {
        return at == rows.size() - 1
                && rows.size() > 5
                && rows.get(at).filled() * 2 < rows.get(at).fields()
                && rows.subList(Math.max(1, rows.size() - 6), at).stream()
                        .allMatch(row -> row.filled() * 10 >= row.fields() * 8);
    }

    /** Names that stand in the last comment above the rows. */
    private Optional<List<String>> commented(Split best, Optional<String> comment) {
        if (comment.isEmpty()) {
            return Optional.empty();
        }
        List<String> above = lines.stream()
                .takeWhile(line -> line.isBlank() || line.startsWith(comment.get()))
                .filter(line -> !line.isBlank())
                .toList();
        return above.isEmpty()
                ? Optional.empty()
                : Optional.of(above.get(above.size() - 1)
                                .substring(comment.get().length()))
                        .map(line -> List.of(line.split(java.util.regex.Pattern.quote(best.separator()), -1)))
                        .map(names -> names.stream().map(String::strip).toList())
                        .filter(names ->
                                names.size() == best.width() && names.stream().allMatch(TextReading::isName));
    }

    /** Whether it looks like a name; what stands in comments may be anything. */
    private static boolean isName(String text) {
        return !text.isEmpty()
                && Character.isLetter(text.codePointAt(0))
                && !text.contains("..")
                && !text.contains(":");
    }

    private Reading fixed(FixedLook look) {
        Read read = with(Format.FIXED)
                .with(ReadSection.COLUMNS, look.spans())
                .with(ReadSection.LINES_ABOVE, look.header() ? 1 : 0);
        evidence.add(new Evidence(
                "as",
                "fixed",
                "the same places are blank in all lines: " + look.spans().size() + " columns"));
        evidence.add(new Evidence("header", look.header() ? "line 1" : "none", look.why()));
        return new Reading(
                read,
                look.spans().stream()
                        .map(dev.hapster.core.definition.read.Span::name)
                        .toList(),
                look.spans().size(),
                evidence,
                doubts,
                head.ascii(),
                false);
    }

    private Reading lines(Optional<String> comment) {
        List<String> first =
                lines.stream().filter(line -> !line.isBlank()).limit(3).toList();
        evidence.add(new Evidence(
                "as",
                "lines",
                "no character separates fields in the same way in most lines ("
                        + first.stream()
                                .map(line -> '"' + (line.length() > 30 ? line.substring(0, 29) + "…" : line) + '"')
                                .collect(Collectors.joining(", "))
                        + ")"));
        return new Reading(
                with(Format.LINES).with(ReadSection.COMMENT, comment),
                List.of("line"),
                1,
                evidence,
                doubts,
                head.ascii(),
                false);
    }
}
