package dev.hapster.core.definition.key;

import dev.hapster.core.definition.yaml.YamlMap;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Function;

/**
 * One key of a definition file, declared once. Immutable; two keys are the same only where they are one object.
 *
 * @param <T> what its value is once it is read
 */
public final class Key<T> {

    private final String name;
    private final Shape<T> shape;
    private final T usual;
    private final String means;
    private final List<String> formats;
    private final Function<T, String> sentence;

    private Key(
            String name, Shape<T> shape, T usual, String means, List<String> formats, Function<T, String> sentence) {
        this.name = name;
        this.shape = shape;
        this.usual = usual;
        this.means = means;
        this.formats = formats;
        this.sentence = sentence;
    }

    /**
     * @param usual what holds where the key is not there
     * @param means what it does, in Markdown, as the part of a sentence: no capital, no full stop, not the default
     */
    public static <T> Key<T> of(String name, Shape<T> shape, T usual, String means) {
        return new Key<>(name, shape, usual, means, List.of(), value -> "");
    }

    /** The same for a key that goes only with some formats of files. */
    public Key<T> with(Enum<?>... some) {
        return new Key<>(
                name, shape, usual, means, Arrays.stream(some).map(Key::word).toList(), sentence);
    }

    /** The same for a key of which the explanation of a job tells, where its value is not the usual one. */
    public Key<T> says(Function<T, String> words) {
        return new Key<>(name, shape, usual, means, formats, words);
    }

    /** As it is written in a file. */
    public String name() {
        return name;
    }

    /** What holds where a file does not say it; never null. */
    public T usual() {
        return usual;
    }

    /** In Markdown. */
    public String means() {
        return means;
    }

    /** The words of the formats that it goes with; empty where it goes with all. */
    public List<String> formats() {
        return formats;
    }

    /** What holds where it is not there, as a file would say it; empty where there is nothing to say. */
    public String usualWords() {
        return shape.words(usual);
    }

    /** Whether a file says it, rightly or not. */
    public boolean isIn(YamlMap map) {
        return map.has(name);
    }

    /** Its value in a section; the usual one where it is not there or wrong. */
    public T in(YamlMap map) {
        return map.has(name) ? shape.read(map, name, usual) : usual;
    }

    /** What the explanation of a job says of a value; empty for the usual one. */
    public String sentence(T value) {
        return value.equals(usual) ? "" : sentence.apply(value);
    }

    /** As a JSON Schema (draft 2020-12). */
    public Map<String, Object> schema() {
        Map<String, Object> schema = new LinkedHashMap<>(shape.schema());
        String plain = means.replaceAll("\\[([^]]*)]\\([^)]*\\)", "$1").replace("`", "");
        String usually = usualWords();
        schema.put(
                "description",
                plain.substring(0, 1).toUpperCase(Locale.ROOT) + plain.substring(1) + "."
                        + (usually.isEmpty() ? "" : " Default: " + usually + "."));
        if (!formats.isEmpty()) {
            schema.put("x-formats", formats); // for forms: validators pass over what they do not know
        }
        return schema;
    }

    static String word(Enum<?> one) {
        return one.name().toLowerCase(Locale.ROOT);
    }

    @Override
    public String toString() {
        return name;
    }
}
