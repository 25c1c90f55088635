package dev.hapster.core.definition.read;

import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.key.Settings;
import java.nio.charset.Charset;
import java.util.List;

/**
 * How the bytes of a file become rows, as the section {@code read} of a job says it. Each format looks at the keys that
 * concern it. Immutable.
 *
 * @param settings the values of the keys of {@link ReadSection}
 */
public record Read(Settings settings) {

    /** What holds where a job says nothing: delimited text in UTF-8, with commas and a header. */
    public static final Read USUAL = new Read(Settings.USUAL);

    /** The name of the one column that lines of text are. */
    private static final String LINE = "line";

    /** The value of one of the keys of {@link ReadSection}. */
    public <T> T get(Key<T> key) {
        return settings.get(key);
    }

    /** The same, but for one key. */
    public <T> Read with(Key<T> key, T value) {
        return new Read(settings.with(key, value));
    }

    /** What stands between fields; of several that are declared the first. */
    public String separator() {
        return get(ReadSection.SEPARATOR).get(0);
    }

    /** How bytes become characters; of several that are declared the first. */
    public Charset encoding() {
        return get(ReadSection.ENCODING).get(0);
    }

    /** The format that the job declares. */
    public Format as() {
        return get(ReadSection.AS);
    }

    /** The columns' names where the job gives them; empty where the files do. */
    public List<String> names() {
        List<String> names = get(ReadSection.NAMES);
        return switch (as()) {
            case FIXED -> get(ReadSection.COLUMNS).stream().map(Span::name).toList();
            case LINES -> names.isEmpty() ? List.of(LINE) : names;
            default -> names;
        };
    }

    /** Whether the files name their columns. */
    public boolean hasHeader() {
        return names().isEmpty();
    }

    /** How whole files of another format are read, of which nothing is declared but the encoding. */
    public Read whole(Format format) {
        return USUAL.with(ReadSection.AS, format).with(ReadSection.ENCODING, get(ReadSection.ENCODING));
    }
}
