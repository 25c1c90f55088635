package dev.hapster.core.definition.key;

import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.definition.yaml.YamlMap;
import dev.hapster.core.pattern.Durations;
import java.nio.charset.Charset;
import java.nio.charset.IllegalCharsetNameException;
import java.nio.charset.StandardCharsets;
import java.nio.charset.UnsupportedCharsetException;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/** The ways in which values are written. */
public final class Shapes {

    private static final Map<String, Object> SCALAR = Map.of("type", List.of("string", "number", "boolean"));
    private static final int MOST_IN_A_LINE = 200;

    private Shapes() {}

    /** Any single value, taken as text. */
    public static Shape<String> text() {
        return Shape.of((map, key, usual) -> map.text(key, usual), SCALAR, Function.identity());
    }

    /** A text of which editors say whether it has a form; who reads it says what is wrong. */
    public static Shape<String> matching(String rule) {
        return Shape.of(
                (map, key, usual) -> map.text(key, usual),
                Map.of("type", "string", "pattern", "^" + rule + "$"),
                Function.identity());
    }

    /** A text that may be absent. */
    public static Shape<Optional<String>> some() {
        return Shape.of((map, key, usual) -> map.text(key), SCALAR, value -> value.orElse(""));
    }

    /** A text of 1 to 200 characters that stands on one line. */
    public static Shape<Optional<String>> line() {
        return Shape.of(
                (map, key, usual) -> {
                    String text = map.text(key, "");
                    if (text.isEmpty()
                            || text.length() > MOST_IN_A_LINE
                            || text.indexOf('\n') >= 0
                            || text.indexOf('\r') >= 0) {
                        map.wrong(
                                key,
                                "'" + key + "' must be a text of 1 to " + MOST_IN_A_LINE + " characters on one line",
                                "");
                        return usual;
                    }
                    return Optional.of(text);
                },
                Map.of("type", "string", "minLength", 1, "maxLength", MOST_IN_A_LINE),
                value -> value.orElse(""));
    }

    public static Shape<Boolean> flag() {
        return Shape.of((map, key, usual) -> map.flag(key, usual), Map.of("type", "boolean"), String::valueOf);
    }

    /** A whole number between two bounds, both included. */
    public static Shape<Integer> whole(int least, int most) {
        return Shape.of(
                (map, key, usual) -> map.number(key, usual, least, most),
                Map.of("type", "integer", "minimum", least, "maximum", most),
                String::valueOf);
    }

    /** One of the words of an enum, in lower case. */
    public static <E extends Enum<E>> Shape<E> word(Class<E> words) {
        List<String> all =
                Arrays.stream(words.getEnumConstants()).map(Key::word).toList();
        return Shape.of(
                (map, key, usual) -> choose(map, key, Key.word(usual), all, "")
                        .map(found -> words.getEnumConstants()[all.indexOf(found)])
                        .orElse(usual),
                Map.of("enum", all),
                Key::word);
    }

    /** One of two words, of which the second means yes. */
    public static Shape<Boolean> either(String no, String yes) {
        return either(no, yes, "");
    }

    /** @param hint what to do where it is neither of the two */
    public static Shape<Boolean> either(String no, String yes, String hint) {
        List<String> both = List.of(no, yes);
        return Shape.of(
                (map, key, usual) -> choose(map, key, usual ? yes : no, both, hint)
                        .map(yes::equals)
                        .orElse(usual),
                Map.of("enum", both),
                value -> value ? yes : no);
    }

    private static Optional<String> choose(YamlMap map, String key, String usual, List<String> words, String hint) {
        String text = map.text(key, usual);
        if (words.contains(text)) {
            return Optional.of(text);
        }
        String near = Nearest.word(text, words)
                .map(word -> "Did you mean '" + word + "'?")
                .orElse(hint);
        map.wrong(key, "'" + key + "' must be " + or(words) + ", not '" + text + "'", near);
        return Optional.empty();
    }

    private static String or(List<String> words) {
        return words.size() == 2 ? String.join(" or ", words) : "one of " + String.join(", ", words);
    }

    /** A list of texts; a single text counts as a list of one. */
    public static Shape<List<String>> texts() {
        return Shape.of((map, key, usual) -> map.texts(key), oneOrMore(SCALAR, 0), Shapes::list);
    }

    /** A list of texts that may be absent. */
    public static Shape<Optional<List<String>>> someTexts() {
        return texts().optional(List.of());
    }

    private static String list(List<String> texts) {
        return texts.isEmpty()
                ? ""
                : texts.stream().map(text -> "\"" + text + "\"").collect(Collectors.joining(", ", "[", "]"));
    }

    /** Texts by name, in the order written. */
    public static Shape<Map<String, String>> pairs() {
        return Shape.of(
                (map, key, usual) -> map.pairs(key),
                Map.of("type", "object", "additionalProperties", SCALAR),
                value -> "");
    }

    /** One ASCII character that is neither a letter nor a digit. */
    public static Shape<Character> character(char fallback) {
        return Shape.of(
                (map, key, usual) -> character(map, key, map.text(key, String.valueOf(fallback)), usual),
                Map.of("type", "string", "minLength", 1, "maxLength", 1),
                String::valueOf);
    }

    /** The character that a text is; one that does not fit is a problem of the file. */
    public static char character(YamlMap map, String key, String text, char usual) {
        boolean fits = text.length() == 1 && text.charAt(0) < 0x7f && (text.charAt(0) >= ' ' || text.charAt(0) == '\t');
        if (!fits || Character.isLetterOrDigit(text.charAt(0))) {
            map.wrong(
                    key,
                    "'" + key + "' must be one ASCII character that is not a letter and no digit, not '" + text + "'",
                    "A tab is written \"\\t\", in double quotes");
            return usual;
        }
        return text.charAt(0);
    }

    /** One of a few characters. */
    public static Shape<Character> oneOf(String allowed) {
        List<String> each =
                allowed.chars().mapToObj(c -> String.valueOf((char) c)).toList();
        return Shape.of(
                (map, key, usual) -> {
                    String text = map.text(key, "");
                    if (text.length() == 1 && allowed.indexOf(text.charAt(0)) >= 0) {
                        return text.charAt(0);
                    }
                    map.wrong(
                            key,
                            "'" + key + "' must be one of "
                                    + each.stream()
                                            .map(one -> "\"" + one + "\"")
                                            .collect(Collectors.joining(" ")),
                            "");
                    return allowed.charAt(0);
                },
                Map.of("enum", each),
                String::valueOf);
    }

    /** A character encoding that Java knows. */
    public static Shape<Charset> encoding() {
        return Shape.of(
                (map, key, usual) -> encoding(map, key, map.text(key, usual.name()), usual),
                Map.of("type", "string"),
                Charset::name);
    }

    /** One encoding or several, of which those behind the first are used where it does not suit. */
    public static Shape<List<Charset>> encodings() {
        return Shape.of(
                (map, key, usual) -> {
                    List<Charset> all = new ArrayList<>();
                    for (String name : map.texts(key)) {
                        Charset charset = encoding(map, key, name, usual.get(0));
                        if (all.contains(charset)) {
                            map.wrong(key, "'" + key + "' names " + charset.name() + " twice", "");
                            return usual;
                        }
                        if (!all.isEmpty() && takesAll(all.get(all.size() - 1))) {
                            map.wrong(
                                    key,
                                    "nearly all bytes are characters in "
                                            + all.get(all.size() - 1).name() + ", so " + charset.name()
                                            + " behind it would never be used",
                                    "Put the encoding of one byte a character last, such as [utf-8, windows-1252]");
                            return usual;
                        }
                        all.add(charset);
                    }
                    if (all.isEmpty()) {
                        map.wrong(key, "'" + key + "' needs an encoding", "");
                        return usual;
                    }
                    return List.copyOf(all);
                },
                oneOrMore(Map.of("type", "string"), 1),
                all -> all.stream().map(Charset::name).collect(Collectors.joining(" ")));
    }

    private static boolean takesAll(Charset charset) {
        return !charset.equals(StandardCharsets.US_ASCII)
                && charset.canEncode()
                && charset.newEncoder().maxBytesPerChar() == 1;
    }

    private static Charset encoding(YamlMap map, String key, String name, Charset usual) {
        try {
            return Charset.forName(name);
        } catch (IllegalCharsetNameException | UnsupportedCharsetException unknown) {
            map.wrong(
                    key,
                    "unknown encoding '" + name + "'",
                    Nearest.word(name, Charset.availableCharsets().keySet())
                            .map(word -> "Did you mean '" + word + "'?")
                            .orElse("Common ones are UTF-8, ISO-8859-1, windows-1252, UTF-16"));
            return usual;
        }
    }

    /** A stretch of time: {@code 2s}, {@code 5 min}, {@code 7d}. */
    public static Shape<Duration> duration() {
        return Shape.of(
                (map, key, usual) -> {
                    try {
                        return Durations.parse(map.text(key, ""));
                    } catch (IllegalArgumentException wrong) {
                        map.wrong(key, wrong.getMessage(), "");
                        return usual;
                    }
                },
                Map.of("type", "string"),
                Durations::format);
    }

    /** A time zone by its name, such as {@code Europe/Vienna}. */
    public static Shape<Optional<ZoneId>> zone() {
        return Shape.of(
                (map, key, usual) -> {
                    String name = map.text(key, "");
                    try {
                        return Optional.of(ZoneId.of(name));
                    } catch (DateTimeException unknown) {
                        map.wrong(
                                key,
                                "unknown time zone '" + name + "'",
                                Nearest.word(name, ZoneId.getAvailableZoneIds())
                                        .map(word -> "Did you mean '" + word + "'?")
                                        .orElse("Write it like Europe/Vienna or UTC"));
                        return usual;
                    }
                },
                Map.of("type", "string"),
                zone -> zone.map(ZoneId::toString).orElse(""));
    }

    /** A section of its own. Its keys are checked; what they say is read by who needs it. */
    public static Shape<Optional<YamlMap>> section(Section section) {
        return Shape.of((map, key, usual) -> Optional.of(section.check(map.map(key))), section.schema(), value -> "");
    }

    /** A value whose parts are read one by one elsewhere; here only what it may look like. */
    public static Shape<Boolean> form(Map<String, Object> schema) {
        return Shape.of((map, key, usual) -> true, schema, value -> "");
    }

    /** The schema of any single value. */
    public static Map<String, Object> scalar() {
        return SCALAR;
    }

    /** The schema of an item, or a list of such. */
    public static Map<String, Object> oneOrMore(Map<String, Object> item, int least) {
        Map<String, Object> list = new LinkedHashMap<>();
        list.put("type", "array");
        list.put("items", item);
        if (least > 0) {
            list.put("minItems", least);
        }
        return Map.of("oneOf", List.of(item, list));
    }
}
