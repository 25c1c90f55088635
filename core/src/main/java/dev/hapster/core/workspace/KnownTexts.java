package dev.hapster.core.workspace;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.hapster.core.definition.yaml.DefinitionException;

/**
 * What was made of texts of files: a run asks for its dataset several times, and whoever tells people of runs asks each
 * job. What is made must be the same for the same text, and is shared: nobody may change it. Thread-safe.
 */
final class KnownTexts<T> {

    private static final int MOST_CHARACTERS = 2_000_000;

    private final Cache<Text, T> made = Caffeine.newBuilder()
            .maximumWeight(MOST_CHARACTERS)
            .weigher((Text of, T any) -> of.text().length())
            .build();

    private record Text(String file, String text) {}

    /** Makes something of a text; what is wrong with it is never kept. */
    interface Maker<T> {
        T make(String file, String text) throws DefinitionException;
    }

    T of(String file, String text, Maker<T> maker) throws DefinitionException {
        Text of = new Text(file, text);
        T known = made.getIfPresent(of);
        if (known == null) {
            known = maker.make(file, text);
            made.put(of, known);
        }
        return known;
    }
}
