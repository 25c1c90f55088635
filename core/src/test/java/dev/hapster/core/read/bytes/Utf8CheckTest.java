package dev.hapster.core.read.bytes;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.List;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

class Utf8CheckTest {

    private static boolean wellFormed(byte[] bytes, int to) {
        for (int i = 0; i < to; i++) {
            if (bytes[i] == 0) {
                return false;
            }
        }
        try {
            StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(bytes, 0, to));
            return true;
        } catch (CharacterCodingException wrong) {
            return false;
        }
    }

    /** The longest well-formed beginning, found with the platform's own decoder. */
    private static int expected(byte[] bytes) {
        int longest = 0;
        for (int to = 0; to <= bytes.length; to++) {
            longest = wellFormed(bytes, to) ? to : longest;
        }
        return longest;
    }

    @Property
    void agreesWithThePlatformOnAnyBytes(@ForAll("pieces") List<byte[]> pieces) {
        ByteBuffer all = ByteBuffer.allocate(
                pieces.stream().mapToInt(piece -> piece.length).sum());
        pieces.forEach(all::put);
        byte[] bytes = all.array();
        assertThat(Utf8Check.wellFormedUntil(bytes, 0, bytes.length)).isEqualTo(expected(bytes));
    }

    @Provide
    Arbitrary<List<byte[]>> pieces() {
        Arbitrary<byte[]> good = Arbitraries.of("a", "eight ch", "\u00e4", "\u20ac", "\ud83c\udf0a", "\n", "\uffff")
                .map(text -> text.getBytes(StandardCharsets.UTF_8));
        Arbitrary<byte[]> bad = Arbitraries.of(
                new byte[] {0},
                new byte[] {(byte) 0x80},
                new byte[] {(byte) 0xc0, (byte) 0x80},
                new byte[] {(byte) 0xed, (byte) 0xa0, (byte) 0x80},
                new byte[] {(byte) 0xf5},
                new byte[] {(byte) 0xe2, (byte) 0x82},
                new byte[] {(byte) 0xf0, (byte) 0x8f, (byte) 0xbf, (byte) 0xbf});
        return Arbitraries.frequencyOf(net.jqwik.api.Tuple.of(9, good), net.jqwik.api.Tuple.of(1, bad))
                .list()
                .ofMaxSize(20);
    }

    @Test
    void aSequenceCutOffMayContinueAndAWrongOneMayNot() {
        byte[] euro = "\u20ac".getBytes(StandardCharsets.UTF_8);
        assertThat(Utf8Check.mayContinue(euro, 0, 1)).isTrue();
        assertThat(Utf8Check.mayContinue(euro, 0, 2)).isTrue();
        assertThat(Utf8Check.mayContinue(new byte[] {(byte) 0xe2, 'a'}, 0, 2)).isFalse();
        assertThat(Utf8Check.mayContinue(new byte[] {(byte) 0xff}, 0, 1)).isFalse();
    }

    @Property(tries = 100)
    void everyEncodingComesOutAsUtf8(@ForAll("texts") String text, @ForAll("charsets") String charset)
            throws IOException {
        Charset encoding = Charset.forName(charset);
        if (!encoding.newEncoder().canEncode(text)) {
            return;
        }
        Transcoded in = new Transcoded(new ByteArrayInputStream(text.repeat(150).getBytes(encoding)), encoding);
        java.io.ByteArrayOutputStream out = new java.io.ByteArrayOutputStream();
        byte[] target = new byte[97];
        for (int i = 0, count = 0; count >= 0; i++) {
            count = in.read(target, 0, 1 + i * 7 % 97); // also less room than one character needs
            out.write(target, 0, Math.max(0, count));
        }
        assertThat(out.toString(StandardCharsets.UTF_8).equals(text.repeat(150)))
                .isTrue();
    }

    @Provide
    Arbitrary<String> texts() {
        return Arbitraries.of("a", "\u00e4", "\u20ac", "\ud83c\udf0a", "x".repeat(700), "\n")
                .list()
                .ofMaxSize(6)
                .map(pieces -> String.join("", pieces));
    }

    @Provide
    Arbitrary<String> charsets() {
        return Arbitraries.of(
                "windows-1252", "ISO-8859-1", "UTF-16LE", "UTF-16BE", "UTF-16", "UTF-32", "Shift_JIS", "GB18030");
    }
}
