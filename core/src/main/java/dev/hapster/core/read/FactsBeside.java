package dev.hapster.core.read;

import dev.hapster.core.definition.read.FactPlace;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.pattern.CellName;
import dev.hapster.core.pattern.Fact;
import dev.hapster.core.read.bytes.Transcoded;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.read.workbook.Grid;
import dev.hapster.core.read.workbook.GridRow;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Values that stand beside a table: in lines above it, or in cells. */
public final class FactsBeside {

    /** Characters of a file that are looked at. */
    private static final int MOST_CHARACTERS = 1_000_000;

    private static final int LONGEST = 10_000;

    private FactsBeside() {}

    /**
     * @param sheet the sheet whose table is read; empty for the first one
     * @throws FileRejectedException where a value is not where the job looks for it
     */
    public static Map<String, Fact> of(Content content, Read rules, Optional<String> sheet)
            throws IOException, FileRejectedException {
        Map<String, FactPlace> places = rules.get(ReadSection.FACTS);
        if (places.isEmpty()) {
            return Map.of();
        }
        try {
            if (rules.as() == Format.WORKBOOK) {
                return cells(content, places, sheet);
            }
            Beginning beginning = beginning(content, places, rules);
            try {
                return lines(beginning.lines(), places, rules);
            } catch (FileRejectedException missing) {
                if (beginning.brokenOff().isPresent()) {
                    throw new FileRejectedException(beginning.brokenOff().get());
                }
                throw missing;
            }
        } catch (Unpacked.DamagedException damaged) {
            throw RejectingReader.rejected(damaged);
        }
    }

    /**
     * The first lines of a file.
     *
     * @param brokenOff why they are not all that was wanted; empty where they are
     */
    private record Beginning(List<String> lines, Optional<Reason> brokenOff) {}

    private static Beginning beginning(Content content, Map<String, FactPlace> places, Read rules)
            throws IOException, FileRejectedException {
        boolean searches = places.values().stream().anyMatch(place -> place.line() == 0);
        int last = searches
                ? FactPlace.MOST_LINES
                : places.values().stream().mapToInt(FactPlace::line).max().orElse(0);
        List<String> lines = new ArrayList<>();
        try (BufferedReader text = new BufferedReader(
                new InputStreamReader(new Transcoded(content.stream(), rules.encoding()), StandardCharsets.UTF_8))) {
            StringBuilder line = new StringBuilder();
            int seen = 0;
            int before = 0;
            for (int c = text.read(); c >= 0 && lines.size() < last && seen < MOST_CHARACTERS; c = text.read()) {
                seen++;
                if (c == '\n' && before == '\r') {
                    before = c;
                    continue;
                }
                if (c == '\n' || c == '\r') {
                    lines.add(line.toString());
                    line.setLength(0);
                } else if (seen > 1 || c != '\uFEFF') {
                    line.append((char) c);
                }
                before = c;
            }
            if (line.length() > 0 && lines.size() < last) {
                lines.add(line.toString());
            }
        } catch (Transcoded.WrongByteException wrong) {
            return before(wrong, content, rules.encoding());
        }
        return new Beginning(lines, Optional.empty());
    }

    /** What stands before a byte that is not in the encoding, its own line included. */
    private static Beginning before(Transcoded.WrongByteException wrong, Content content, Charset encoding)
            throws IOException, FileRejectedException {
        try (InputStream bytes = content.stream()) {
            int count = (int) Math.min(wrong.offset, 4L * MOST_CHARACTERS);
            List<String> lines =
                    new String(bytes.readNBytes(count), encoding).lines().toList();
            return new Beginning(
                    lines,
                    Optional.of(Reasons.encodingDiffers(
                            encoding.name(),
                            Math.max(1, lines.size()),
                            wrong.offset,
                            String.format("0x%02X", wrong.value),
                            encoding.equals(StandardCharsets.UTF_8) ? "windows-1252" : "")));
        }
    }

    private static Map<String, Fact> lines(List<String> lines, Map<String, FactPlace> places, Read rules)
            throws FileRejectedException {
        Map<String, Fact> facts = new LinkedHashMap<>();
        for (Map.Entry<String, FactPlace> entry : places.entrySet()) {
            FactPlace place = entry.getValue();
            String name = entry.getKey();
            String line;
            if (place.line() > 0) {
                if (place.line() > lines.size()) {
                    throw missing(
                            name,
                            "the file has " + lines.size() + " lines, and it is to stand in line " + place.line());
                }
                line = lines.get(place.line() - 1);
            } else {
                String after = place.after().orElse("");
                line = lines.stream()
                        .filter(one -> one.contains(after))
                        .findFirst()
                        .orElseThrow(() -> missing(
                                name,
                                (lines.isEmpty()
                                                ? "the file is empty, and no line"
                                                : "none of the first " + lines.size() + " lines")
                                        + " holds " + Reasons.quote(after)));
            }
            List<String> fields = place.field() > 0 || place.after().isPresent() ? fields(line, rules) : List.of(line);
            facts.put(name, fact(name, fields, place, "line " + place.line()));
        }
        return facts;
    }

    /** The fields of a line, as those of the table are told apart. */
    private static List<String> fields(String line, Read rules) {
        if (rules.as() != Format.DELIMITED) {
            return List.of(line);
        }
        String separator = rules.separator();
        char quote = rules.get(ReadSection.QUOTE).orElse('\0');
        List<String> fields = new ArrayList<>();
        StringBuilder field = new StringBuilder();
        boolean quoted = false;
        for (int at = 0; at < line.length(); at++) {
            char c = line.charAt(at);
            if (c == quote && quote != '\0') {
                boolean doubled = quoted && at + 1 < line.length() && line.charAt(at + 1) == quote;
                if (doubled) {
                    field.append(c);
                    at++;
                } else {
                    quoted = !quoted;
                }
            } else if (!quoted && line.startsWith(separator, at)) {
                fields.add(field.toString());
                field.setLength(0);
                at += separator.length() - 1;
            } else {
                field.append(c);
            }
        }
        fields.add(field.toString());
        return fields;
    }

    /**
     * Behind {@code after}, the rest of the field that holds it; where nothing is left, the next that holds anything.
     */
    private static Fact fact(String name, List<String> fields, FactPlace place, String where)
            throws FileRejectedException {
        if (place.field() > fields.size()) {
            throw missing(
                    name,
                    where + " has " + fields.size() + (fields.size() == 1 ? " field" : " fields")
                            + ", and it is to stand in field " + place.field());
        }
        List<String> all = place.field() > 0 ? fields.subList(place.field() - 1, place.field()) : fields;
        String value = String.join("", all);
        if (place.after().isPresent()) {
            String after = place.after().get();
            int holds = 0;
            while (holds < all.size() && !all.get(holds).contains(after)) {
                holds++;
            }
            if (holds == all.size()) {
                throw missing(name, where + " holds " + Reasons.quote(value) + ", without " + Reasons.quote(after));
            }
            value = all.get(holds).substring(all.get(holds).indexOf(after) + after.length());
            for (holds++; bare(value).isEmpty() && holds < all.size(); holds++) {
                value = all.get(holds);
            }
        }
        value = bare(value);
        if (value.isEmpty()) {
            throw missing(name, "nothing stands in " + place);
        }
        if (value.length() > LONGEST) {
            throw missing(
                    name, where + " holds " + Reasons.grouped(value.length()) + " characters, far more than a fact");
        }
        return new Fact(value, Optional.empty());
    }

    /** Without the white space, separators and quotation marks that a line of a table has around a single value. */
    private static String bare(String text) {
        return text.replaceAll("^[\\s;,|\"]+|[\\s;,|\"]+$", "");
    }

    private static Map<String, Fact> cells(Content content, Map<String, FactPlace> places, Optional<String> sheet)
            throws IOException, FileRejectedException {
        Map<String, Map<String, FactPlace>> bySheet = new LinkedHashMap<>();
        places.forEach((name, place) -> bySheet.computeIfAbsent(sheet(place, sheet), one -> new LinkedHashMap<>())
                .put(name, place));
        Map<String, Fact> found = new LinkedHashMap<>();
        for (Map.Entry<String, Map<String, FactPlace>> one : bySheet.entrySet()) {
            try (Formats.OpenSheet open =
                    Formats.sheet(content, Optional.of(one.getKey()).filter(name -> !name.isEmpty()))) {
                found.putAll(cells(open.grid(), one.getValue()));
            }
        }
        Map<String, Fact> ordered = new LinkedHashMap<>();
        places.keySet().forEach(name -> ordered.put(name, found.get(name)));
        return ordered;
    }

    private static String sheet(FactPlace place, Optional<String> own) {
        String cell = place.cell().orElse("");
        int mark = cell.lastIndexOf('!');
        return mark > 0 ? cell.substring(0, mark).replaceAll("^'|'$", "") : own.orElse("");
    }

    private static Map<String, Fact> cells(Grid grid, Map<String, FactPlace> places)
            throws IOException, FileRejectedException {
        Map<String, String> texts = new LinkedHashMap<>();
        Map<String, CellName> wanted = new LinkedHashMap<>();
        places.forEach((name, place) -> wanted.put(
                name, CellName.of(FactPlace.inSheet(place.cell().orElseThrow())).orElseThrow()));
        long last = wanted.values().stream().mapToInt(CellName::row).max().orElse(0);
        GridRow row = new GridRow();
        for (boolean more = grid.next(row); more && row.number <= last; more = grid.next(row)) {
            for (Map.Entry<String, CellName> one : wanted.entrySet()) {
                CellName cell = one.getValue();
                int column = cell.column() - 1;
                if (cell.row() == row.number && column < row.width) {
                    if (row.kinds[column] == RawBatch.FAULT) {
                        throw missing(one.getKey(), "an error stands in " + places.get(one.getKey()));
                    }
                    texts.put(one.getKey(), row.text(column));
                }
            }
        }
        Map<String, Fact> facts = new LinkedHashMap<>();
        for (Map.Entry<String, FactPlace> one : places.entrySet()) {
            String text = texts.getOrDefault(one.getKey(), "");
            facts.put(
                    one.getKey(),
                    fact(
                            one.getKey(),
                            List.of(text),
                            one.getValue(),
                            one.getValue().toString()));
        }
        return facts;
    }

    private static FileRejectedException missing(String fact, String why) {
        return new FileRejectedException(Reasons.factMissing(fact, why));
    }
}
