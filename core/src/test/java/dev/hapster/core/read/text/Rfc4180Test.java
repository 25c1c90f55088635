package dev.hapster.core.read.text;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/** RFC 4180, section 2, line by line: each rule of the text with its own examples. */
class Rfc4180Test {

    private static final Read NO_HEADER = Read.USUAL.with(ReadSection.NAMES, List.of("a", "b", "c"));
    private static final Read HEADER = Read.USUAL;

    private static List<List<String>> read(String text, Read rules) throws Exception {
        DelimitedReader reader =
                new DelimitedReader(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), rules);
        Header header = reader.header();
        List<List<String>> records = new ArrayList<>();
        if (rules.hasHeader()) {
            records.add(header.names());
        }
        RawBatch batch = RecordReader.batchFor(header);
        while (reader.next(batch)) {
            for (int row = 0; row < batch.rows; row++) {
                List<String> fields = new ArrayList<>();
                for (int i = 0; i < Math.min(batch.fields[row], batch.width); i++) {
                    fields.add(batch.text(row, i));
                }
                records.add(fields);
            }
        }
        return records;
    }

    @Test
    void rule1EachRecordIsOnALineOfItsOwn() throws Exception {
        assertThat(read("aaa,bbb,ccc\r\nzzz,yyy,xxx\r\n", NO_HEADER))
                .containsExactly(List.of("aaa", "bbb", "ccc"), List.of("zzz", "yyy", "xxx"));
    }

    @Test
    void rule2TheLastRecordMayHaveNoLineBreak() throws Exception {
        assertThat(read("aaa,bbb,ccc\r\nzzz,yyy,xxx", NO_HEADER))
                .containsExactly(List.of("aaa", "bbb", "ccc"), List.of("zzz", "yyy", "xxx"));
    }

    @Test
    void rule3TheFirstLineMayBeAHeader() throws Exception {
        assertThat(read("field_name,field_name2,field_name3\r\naaa,bbb,ccc\r\nzzz,yyy,xxx\r\n", HEADER))
                .containsExactly(
                        List.of("field_name", "field_name2", "field_name3"),
                        List.of("aaa", "bbb", "ccc"),
                        List.of("zzz", "yyy", "xxx"));
    }

    @Test
    void rule4SpacesBelongToAFieldAndNoCommaFollowsTheLast() throws Exception {
        assertThat(read("aaa, b b ,ccc\r\n", NO_HEADER)).containsExactly(List.of("aaa", " b b ", "ccc"));
        assertThat(read("aaa,bbb,\r\n", NO_HEADER))
                .as("a comma at the end begins another field")
                .containsExactly(List.of("aaa", "bbb", ""));
    }

    @Test
    void rule5FieldsMayBeQuotedOrNotAndQuotesStandInQuotedOnesOnly() throws Exception {
        assertThat(read("\"aaa\",\"bbb\",\"ccc\"\r\nzzz,yyy,xxx", NO_HEADER))
                .containsExactly(List.of("aaa", "bbb", "ccc"), List.of("zzz", "yyy", "xxx"));
    }

    @Test
    void rule6LineBreaksQuotesAndCommasAreQuoted() throws Exception {
        assertThat(read("\"aaa\",\"b\r\nbb\",\"ccc\"\r\nzzz,yyy,xxx", NO_HEADER))
                .containsExactly(List.of("aaa", "b\r\nbb", "ccc"), List.of("zzz", "yyy", "xxx"));
        assertThat(read("\"a,aa\",bbb,ccc", NO_HEADER)).containsExactly(List.of("a,aa", "bbb", "ccc"));
    }

    @Test
    void rule7AQuoteInAQuotedFieldIsDoubled() throws Exception {
        assertThat(read("\"aaa\",\"b\"\"bb\",\"ccc\"", NO_HEADER)).containsExactly(List.of("aaa", "b\"bb", "ccc"));
        assertThat(catchThrowableOfType(
                                FileRejectedException.class, () -> read("\"aaa\",\"b\"\"bb,ccc\r\nx", NO_HEADER))
                        .reason()
                        .sentence())
                .isEqualTo("a quote opened in line 1 is not closed");
    }
}
