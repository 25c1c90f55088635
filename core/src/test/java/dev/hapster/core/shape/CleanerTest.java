package dev.hapster.core.shape;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.definition.JobDef.Clean;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

/** Cleaning works on bytes; it must give what the same steps on text give. */
class CleanerTest {

    private static String clean(String text, Clean... steps) {
        Cleaner cleaner = new Cleaner(List.of(steps));
        byte[] around = ("##" + text + "##").getBytes(StandardCharsets.UTF_8);
        cleaner.apply(around, 2, around.length - 2);
        return new String(cleaner.bytes, cleaner.from, cleaner.to - cleaner.from, StandardCharsets.UTF_8);
    }

    @Property
    void stepsOnBytesAreStepsOnText(
            @ForAll("texts") String text, @ForAll("words") String old, @ForAll("words") String fresh) {
        assertThat(clean(text, new Clean.Upper())).isEqualTo(text.toUpperCase(Locale.ROOT));
        assertThat(clean(text, new Clean.Lower())).isEqualTo(text.toLowerCase(Locale.ROOT));
        assertThat(clean(text, new Clean.Remove(List.of(old)))).isEqualTo(text.replace(old, ""));
        assertThat(clean(
                        text,
                        new Clean.Replace(Map.of(old, fresh)),
                        new Clean.Upper(),
                        new Clean.Replace(Map.of(fresh, old))))
                .isEqualTo(text.replace(old, fresh).toUpperCase(Locale.ROOT).replace(fresh, old));
    }

    @Provide
    Arbitrary<String> texts() {
        return Arbitraries.of("a", "A", "ab", "\u00e4", "\u00c4", "\u20ac", " ", "-", "\ud83c\udf0a", "\u00df")
                .list()
                .ofMaxSize(12)
                .map(pieces -> String.join("", pieces));
    }

    @Provide
    Arbitrary<String> words() {
        return Arbitraries.of("a", "A", "ab", "\u00e4", "-", "long word", "\u20ac");
    }

    @Test
    void trimTakesOffWhatLooksLikeNothing() {
        assertThat(clean(" \t\u00a0\u202f\ufeff\u200b x y \u2003\n", new Clean.Trim()))
                .isEqualTo("x y");
        assertThat(clean(" \u00a0 ", new Clean.Trim())).isEmpty();
        assertThat(clean("\u00e4", new Clean.Trim())).isEqualTo("\u00e4");
    }
}
