package dev.hapster.core.read;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.read.Contents.All;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

/**
 * Files that others have made, from Debian's packages {@code unicode-data} and {@code iso-codes}; {@code ./dev test}
 * installs them.
 */
class RealDataTest {

    private static Path file(String path) {
        Path file = Path.of(path);
        assertThat(file)
                .as("Install it: apt-get install unicode-data iso-codes")
                .exists();
        return file;
    }

    @Test
    void unicodeDataHasNoHeaderAndSemicolons() throws Exception {
        Path file = file("/usr/share/unicode/UnicodeData.txt");
        All all = Contents.read(
                file,
                "as: delimited, separator: \";\", quote: none, names: [code, name, category, combining, bidi, "
                        + "decomposition, decimal, digit, numeric, mirrored, old_name, comment, "
                        + "upper, lower, title]");
        assertThat(all.rows())
                .hasSize(Files.readAllLines(file).size())
                .hasSizeGreaterThan(34_000)
                .allMatch(row -> row.size() == 15);
        assertThat(all.rows().get(0x41))
                .startsWith("0041", "LATIN CAPITAL LETTER A", "Lu")
                .endsWith("", "0061", "");
        assertThat(all.lines().get(0x41)).isEqualTo(0x42);
        // One letter a code point, but for ranges, which have a first and a last line.
        long letters = all.rows().stream()
                .filter(row -> Character.getType(Integer.parseInt(row.get(0), 16)) == Character.UPPERCASE_LETTER)
                .filter(row -> row.get(2).equals("Lu"))
                .count();
        assertThat(letters)
                .isEqualTo(java.util.stream.IntStream.rangeClosed(0, Character.MAX_CODE_POINT)
                        .filter(c -> Character.getType(c) == Character.UPPERCASE_LETTER)
                        .count());
    }

    @Test
    void countryPartsAreAListAtAPath() throws Exception {
        Path file = file("/usr/share/iso-codes/json/iso_3166-2.json");
        All all = Contents.read(file, "as: json, rows: \"3166-2[]\"");
        assertThat(all.rows())
                .hasSize((int) Files.readAllLines(file).stream()
                        .filter(line -> line.contains("\"code\":"))
                        .count())
                .hasSizeGreaterThan(5_000);
        assertThat(all.names()).containsExactlyInAnyOrder("code", "name", "type", "parent");
        int code = all.names().indexOf("code");
        int name = all.names().indexOf("name");
        assertThat(all.rows())
                .anyMatch(row -> row.get(code).equals("AT-9") && row.get(name).equals("Wien"));
        List<List<String>> money = Contents.read(
                        file("/usr/share/iso-codes/json/iso_4217.json"), "as: json, rows: \"4217\"")
                .rows();
        assertThat(money).contains(Arrays.asList("EUR", "Euro", "978")).hasSizeGreaterThan(150);
    }
}
