package dev.hapster.core.read.preview;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.apache.commons.compress.compressors.CompressorStreamFactory;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class PeekTest {

    @TempDir
    private Path folder;

    private Path file(byte[] bytes) throws IOException {
        return Files.write(folder.resolve("file"), bytes);
    }

    private static List<String> shown(Peek peek) {
        return peek.lines().stream()
                .map(line -> line.number() + " " + line.text())
                .toList();
    }

    @Test
    void whatCannotBeSeenIsMadeVisible() throws IOException {
        Path file = file("\ufeffa\tb\r\n\u00a0x \u200b  \ny\u0000\rlast".getBytes(StandardCharsets.UTF_8));
        Peek peek = Peek.from(Files.newInputStream(file), StandardCharsets.UTF_8, 1, 10);
        assertThat(shown(peek)).containsExactly("1 \\uFEFFa\\tb", "2 \\u00A0x \\u200B··", "3 y\\x00", "4 last");
        assertThat(peek.lineEnds()).isEqualTo("CR, CRLF, LF");
        assertThat(peek.more()).isFalse();
        assertThat(shown(Peek.from(
                        Files.newInputStream(file(new byte[] {'a', (byte) 0xe4, 'b', '\n'})),
                        StandardCharsets.UTF_8,
                        1,
                        1)))
                .containsExactly("1 a\\xE4b");
        assertThat(shown(Peek.from(
                        Files.newInputStream(file("ä\nö\n".getBytes(StandardCharsets.UTF_16))),
                        StandardCharsets.UTF_16,
                        2,
                        1)))
                .containsExactly("2 ö");
    }

    @Test
    void firstLastAndAnyLinesAreThereOfALargeFileToo() throws Exception {
        Path file = folder.resolve("large");
        try (OutputStream out = Files.newOutputStream(file)) {
            for (int i = 1; i <= 200_000; i++) {
                out.write(("line " + i + "\n").getBytes(StandardCharsets.UTF_8));
            }
        }
        assertThat(shown(Peek.from(Files.newInputStream(file), StandardCharsets.UTF_8, 1, 2)))
                .containsExactly("1 line 1", "2 line 2");
        assertThat(Peek.from(Files.newInputStream(file), StandardCharsets.UTF_8, 1, 2)
                        .more())
                .isTrue();
        assertThat(shown(Peek.from(Files.newInputStream(file), StandardCharsets.UTF_8, 123_456, 1)))
                .containsExactly("123456 line 123456");
        assertThat(shown(Peek.last(Files.newByteChannel(file), StandardCharsets.UTF_8, 2)))
                .containsExactly("-2 line 199999", "-1 line 200000");
        assertThat(shown(Peek.last(
                        Files.newByteChannel(file("a\nb".getBytes(StandardCharsets.UTF_8))),
                        StandardCharsets.UTF_8,
                        5)))
                .as("a small file is counted")
                .containsExactly("1 a", "2 b");
        assertThat(Peek.from(Files.newInputStream(file), StandardCharsets.UTF_8, 300_000, 5)
                        .lines())
                .isEmpty();

        Path packed = folder.resolve("packed");
        try (OutputStream out = new CompressorStreamFactory()
                .createCompressorOutputStream(CompressorStreamFactory.GZIP, Files.newOutputStream(packed))) {
            out.write("a\nb\nc\n".getBytes(StandardCharsets.UTF_8));
        }
        Peek peek = Peek.last(Files.newByteChannel(packed), StandardCharsets.UTF_8, 2);
        assertThat(shown(peek)).containsExactly("2 b", "3 c");
        assertThat(peek.packed()).contains("gzip");
    }

    @Test
    void aLineWithoutEndNeedsNoMemory() throws IOException {
        Path file = file("x".repeat(20_000_000).getBytes(StandardCharsets.UTF_8));
        assertThat(Peek.from(Files.newInputStream(file), StandardCharsets.UTF_8, 1, 1)
                        .lines())
                .singleElement()
                .satisfies(line -> {
                    assertThat(line.text()).hasSize(4000);
                    assertThat(line.cut()).isTrue();
                });
        assertThat(Peek.last(Files.newByteChannel(file), StandardCharsets.UTF_8, 1)
                        .lines())
                .hasSize(1);
    }
}
