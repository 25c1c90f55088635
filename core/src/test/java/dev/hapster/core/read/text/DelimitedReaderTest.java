package dev.hapster.core.read.text;

import static java.nio.charset.StandardCharsets.UTF_16;
import static java.nio.charset.StandardCharsets.UTF_8;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import de.siegmar.fastcsv.writer.CsvWriter;
import de.siegmar.fastcsv.writer.QuoteStrategies;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.ReadAhead;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.row.RawBatch;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.SequenceInputStream;
import java.io.StringWriter;
import java.nio.charset.Charset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

class DelimitedReaderTest {

    private static final Read PLAIN = rules(',', UTF_8, 0, List.of());

    private static Read rules(char separator, Charset encoding, int above, List<String> names) {
        return Read.USUAL
                .with(ReadSection.SEPARATOR, List.of(String.valueOf(separator)))
                .with(ReadSection.ENCODING, List.of(encoding))
                .with(ReadSection.LINES_ABOVE, above)
                .with(ReadSection.NAMES, names);
    }

    /** Header and records, each record with its line and its fields. */
    private record Content(List<String> header, List<List<String>> records, List<Long> lines, List<String> originals) {}

    /** What a reader reads, and the same where the next batch is read while the present one is looked at. */
    private static Content read(InputStream in, Read rules) throws IOException, FileRejectedException {
        byte[] bytes = in.readAllBytes();
        Content content = all(new DelimitedReader(new ByteArrayInputStream(bytes), rules));
        int[] asked = {0};
        try (RecordReader ahead =
                new ReadAhead(new DelimitedReader(new ByteArrayInputStream(bytes), rules), () -> asked[0]++ % 3 > 0)) {
            assertThat(all(ahead)).isEqualTo(content);
        }
        return content;
    }

    private static Content all(RecordReader reader) throws IOException, FileRejectedException {
        Header header = reader.header();
        RawBatch batch = RecordReader.batchFor(header);
        List<List<String>> records = new ArrayList<>();
        List<Long> lines = new ArrayList<>();
        List<String> originals = new ArrayList<>();
        while (reader.next(batch)) {
            for (int row = 0; row < batch.rows; row++) {
                List<String> fields = new ArrayList<>();
                for (int i = 0; i < Math.min(batch.fields[row], batch.width); i++) {
                    fields.add(batch.text(row, i));
                }
                records.add(fields);
                lines.add(batch.line[row]);
                originals.add(batch.original(row));
            }
        }
        assertThat(reader.records()).isEqualTo(records.size());
        return new Content(header.names(), records, lines, originals);
    }

    private static Content read(String text) throws IOException, FileRejectedException {
        return read(new ByteArrayInputStream(text.getBytes(UTF_8)), PLAIN);
    }

    private static FileRejectedException refused(byte[] bytes, Read rules) {
        FileRejectedException plain =
                catchThrowableOfType(FileRejectedException.class, () -> read(new ByteArrayInputStream(bytes), rules));
        FileRejectedException ahead = catchThrowableOfType(
                FileRejectedException.class,
                () -> all(new ReadAhead(new DelimitedReader(new ByteArrayInputStream(bytes), rules), () -> true)));
        assertThat(ahead.reason()).isEqualTo(plain.reason());
        return plain;
    }

    @Test
    void quotesLineBreaksAndLineNumbersAreAsTheStandardHasThem() throws Exception {
        Content content =
                read("a,b\r\n1,\"two \"\"quoted\"\" words\"\r\n\"line\r\nbreak\",x\n\n \"\",5\" pipe\r3,last");

        assertThat(content.header()).containsExactly("a", "b");
        assertThat(content.records())
                .containsExactly(
                        List.of("1", "two \"quoted\" words"),
                        List.of("line\r\nbreak", "x"),
                        List.of(" \"\"", "5\" pipe"),
                        List.of("3", "last"));
        assertThat(content.lines()).containsExactly(2L, 3L, 6L, 7L);
    }

    @Test
    void rowsWithAWrongNumberOfFieldsAreDeliveredAndMarked() throws Exception {
        DelimitedReader reader =
                new DelimitedReader(new ByteArrayInputStream("a,b\n1\n1,2,3\n\"x\"y,2\n".getBytes(UTF_8)), PLAIN);
        RawBatch batch = RecordReader.batchFor(reader.header());

        assertThat(reader.next(batch)).isTrue();
        assertThat(batch.fields).startsWith(1, 3, 2);
        assertThat(batch.misquoted).startsWith(false, false, true);
        assertThat(batch.original(1)).isEqualTo("1,2,3");
    }

    @Test
    void marksAndEncodingsNeverReachTheFirstName() throws Exception {
        assertThat(read("\ufeffid,b\n1,2\n").header()).containsExactly("id", "b");
        assertThat(read(
                                new ByteArrayInputStream("id;b\n\u00e4;\u20ac\n".getBytes("windows-1252")),
                                rules(';', Charset.forName("windows-1252"), 0, List.of()))
                        .records())
                .containsExactly(List.of("\u00e4", "\u20ac"));
        assertThat(read(
                        new ByteArrayInputStream("id,b\n\u00e4,\ud83c\udf0a\n".getBytes(UTF_16)),
                        rules(',', UTF_16, 0, List.of())))
                .satisfies(content -> assertThat(content.header()).containsExactly("id", "b"))
                .satisfies(content -> assertThat(content.records()).containsExactly(List.of("\u00e4", "\ud83c\udf0a")));
    }

    @Test
    void linesAboveAreSkippedAndNamesMayBeDeclared() throws Exception {
        Content content = read(
                new ByteArrayInputStream("Title \"open\nDate\n\na|b\n1|2\n".getBytes(UTF_8)),
                rules('|', UTF_8, 3, List.of()));
        assertThat(content.header()).containsExactly("a", "b");
        assertThat(content.lines()).containsExactly(5L);
        assertThat(read(new ByteArrayInputStream("1|2\n".getBytes(UTF_8)), rules('|', UTF_8, 0, List.of("x", "y")))
                        .records())
                .containsExactly(List.of("1", "2"));
    }

    @Test
    void whatMakesAFileUnfitIsNamedWithItsPlace() {
        assertThat(refused(new byte[0], PLAIN).reason().code()).isEqualTo(ReasonCode.FILE_EMPTY);
        assertThat(refused("one\ntwo\n".getBytes(UTF_8), rules(',', UTF_8, 3, List.of()))
                        .reason()
                        .sentence())
                .contains("ends after 2 lines");
        assertThat(refused(new byte[4096], PLAIN).reason().sentence())
                .startsWith("holds a NUL byte at line 1 (byte 0)");
        assertThat(refused("a,b\n1,2\n3,\u00e4\n".getBytes(java.nio.charset.StandardCharsets.ISO_8859_1), PLAIN)
                        .reason()
                        .sentence())
                .isEqualTo("is not UTF-8: byte 0xE4 at line 3 (byte 10); it looks like windows-1252");
        assertThat(refused("a,b\n".getBytes(UTF_16), PLAIN).reason().code()).isEqualTo(ReasonCode.ENCODING_DIFFERS);
        assertThat(refused("a,b\n1,2\n3,\"open\n4,5\n".getBytes(UTF_8), PLAIN)
                        .reason()
                        .sentence())
                .isEqualTo("a quote opened in line 3 is not closed");
        assertThat(refused("a,b\n1,2\n".concat("x".repeat(5_000_000)).getBytes(UTF_8), PLAIN)
                        .reason()
                        .sentence())
                .isEqualTo("the row at line 3 is longer than 1 048 576 bytes");
        assertThat(refused("x,".repeat(20_000).getBytes(UTF_8), PLAIN).reason().code())
                .isEqualTo(ReasonCode.TOO_MANY_COLUMNS);
        assertThat(refused(
                                "a,b\n1,\u00e4\u00e4".getBytes(UTF_8).length > 0
                                        ? new byte[] {'a', '\n', (byte) 0xc3}
                                        : null,
                                PLAIN)
                        .reason()
                        .code())
                .isEqualTo(ReasonCode.ENCODING_DIFFERS);
    }

    @Test
    void anOpenQuoteInAHugeFileIsFoundWithoutReadingTheRest() {
        long[] taken = new long[1];
        InputStream endless = new InputStream() {
            @Override
            public int read() {
                taken[0]++;
                return 'x';
            }

            @Override
            public int read(byte[] target, int offset, int length) {
                java.util.Arrays.fill(target, offset, offset + length, (byte) (taken[0] % 7 == 0 ? '\n' : 'x'));
                taken[0] += length;
                return length;
            }
        };
        InputStream in =
                new SequenceInputStream(new ByteArrayInputStream("a,b\n1,2\n3,\"open\n".getBytes(UTF_8)), endless);

        assertThat(catchThrowableOfType(FileRejectedException.class, () -> all(new DelimitedReader(in, PLAIN)))
                        .reason()
                        .sentence())
                .isEqualTo("a quote opened in line 3 is not closed");
        assertThat(taken[0]).isLessThan(4_000_000);
    }

    @Property(tries = 200)
    void whatAnotherLibraryWritesIsReadBack(
            @ForAll("records") List<List<String>> records,
            @ForAll boolean always,
            @ForAll @IntRange(min = 1, max = 7) int piece)
            throws Exception {
        StringWriter text = new StringWriter();
        try (CsvWriter csv = CsvWriter.builder()
                .quoteStrategy(always ? QuoteStrategies.ALWAYS : QuoteStrategies.EMPTY)
                .build(text)) {
            csv.writeRecord("x", "y");
            records.forEach(csv::writeRecord);
        }
        assertThat(read(new Pieces(text.toString().getBytes(UTF_8), piece), PLAIN)
                        .records())
                .isEqualTo(records);
    }

    @Provide
    Arbitrary<List<List<String>>> records() {
        Arbitrary<String> field = Arbitraries.of(
                        "a", "\u00e4", "\ud83c\udf0a", ",", "\"", "\n", "\r", "\r\n", " ", "0", "long words and more")
                .list()
                .ofMaxSize(5)
                .map(pieces -> String.join("", pieces));
        return field.list().ofSize(2).list().ofMaxSize(30);
    }

    @Test
    void recordsAcrossManyWindowsStayWhole() throws Exception {
        StringBuilder text = new StringBuilder("id,text\n");
        for (int i = 0; i < 60_000; i++) {
            text.append(i).append(",\"\u00e4 ").append("w".repeat(i % 90)).append("\"\"\"\n");
        }
        Content content = read(text.toString());
        assertThat(content.records()).hasSize(60_000);
        assertThat(content.records().get(59_999)).containsExactly("59999", "\u00e4 " + "w".repeat(59_999 % 90) + "\"");
        assertThat(content.lines().get(59_999)).isEqualTo(60_001);
    }

    /** Gives few bytes at a time, as networks do. */
    private static final class Pieces extends InputStream {
        private final ByteArrayInputStream bytes;
        private final int most;

        Pieces(byte[] bytes, int most) {
            this.bytes = new ByteArrayInputStream(bytes);
            this.most = most;
        }

        @Override
        public int read() {
            return bytes.read();
        }

        @Override
        public int read(byte[] target, int offset, int length) {
            return bytes.read(target, offset, Math.min(length, most));
        }
    }

    private static Read from(String yaml) throws Exception {
        return dev.hapster.core.TestJobs.job(
                        dev.hapster.core.TestJobs.dataset("{name: a, type: text}"), "read: {" + yaml + "}\n")
                .read();
    }

    private static Content read(String text, String yaml) throws Exception {
        return read(new ByteArrayInputStream(text.getBytes(UTF_8)), from(yaml));
    }

    @Test
    void separatorsMayHaveSeveralCharactersAndCharactersMayBeEscaped() throws Exception {
        assertThat(read("a||b\n1|2||\"x||\"\"y\"\r\n||\n", "separator: '||'").records)
                .containsExactly(List.of("1|2", "x||\"y"), List.of("", ""));
        assertThat(read("a¦b\n1¦ä\n", "separator: '¦'").records).containsExactly(List.of("1", "ä"));
        assertThat(read("a;b\n1\\;2;\"x\\\"y\\\\\"\n\\n;3", "separator: ';', escape: '\\'").records)
                .containsExactly(List.of("1;2", "x\"y\\"), List.of("n", "3"));
        assertThat(read("a;b\n'x\ny';z\n1;2", "separator: ';', quote: \"'\", escape: '\\'").lines)
                .containsExactly(2L, 4L);
    }

    @Test
    void linesThatAreNoRowsArePassedOver() throws Exception {
        String text = "Report\nfor March\nid,name\n# a remark, with \"quotes\n1,x\nid,name\n2,\"# y\"\nTotal,2\n"
                + "Signed,Mira\n";
        assertThat(read(text, "header_contains: 'id,', comment: '#', ends_at: Total").records)
                .containsExactly(List.of("1", "x"), List.of("2", "# y"));
        assertThat(read(text, "lines_above: 2, comment: '# ', lines_below: 2").records)
                .hasSize(2);
        assertThat(read(text, "lines_above: 2, comment: '# ', lines_below: 2").lines)
                .containsExactly(5L, 7L);
        assertThat(read("a\n1\n2\n3", "lines_below: 1").records).containsExactly(List.of("1"), List.of("2"));
        assertThat(catchThrowableOfType(FileRejectedException.class, () -> read("a\n1\n", "lines_below: 5"))
                        .reason()
                        .sentence())
                .isEqualTo("ends after 0 lines, before any header");
        assertThat(catchThrowableOfType(FileRejectedException.class, () -> read(text, "header_contains: nobody"))
                        .reason()
                        .sentence())
                .isEqualTo("none of its 9 lines holds \"nobody\", by which the header is known");
    }

    @Test
    void raggedRowsAreTakenAsDeclared() throws Exception {
        String text = "a,b,c\n1\n1,2,3,4\n1,2,3\n";
        assertThat(read(text, "short_rows: fill, long_rows: cut").records)
                .containsExactly(List.of("1", "", ""), List.of("1", "2", "3"), List.of("1", "2", "3"));
        DelimitedReader reader =
                new DelimitedReader(new ByteArrayInputStream(text.getBytes(UTF_8)), from("short_rows: fill"));
        RawBatch batch = RecordReader.batchFor(reader.header());
        assertThat(reader.next(batch)).isTrue();
        assertThat(batch.fields).startsWith(3, 4, 3);
        assertThat(reader.notes()).containsExactly("1 row with too few fields filled up");
    }

    @Property(tries = 300)
    void theSlowWayReadsWhatTheQuickOneReads(
            @ForAll("tables") List<List<String>> table, @ForAll @IntRange(min = 1, max = 9) int chunk)
            throws Exception {
        StringWriter text = new StringWriter();
        try (CsvWriter writer =
                CsvWriter.builder().quoteStrategy(QuoteStrategies.REQUIRED).build(text)) {
            writer.writeRecord(table.get(0).stream().map(name -> "h").toList());
            table.forEach(writer::writeRecord);
        }
        byte[] bytes = text.toString().getBytes(UTF_8);
        Read quick = from("separator: ','");
        Read slow = quick.with(ReadSection.ESCAPE, Optional.of('\u0001'))
                .with(ReadSection.COMMENT, Optional.of("\u0002"))
                .with(ReadSection.ENDS_AT, Optional.of("\u0003"));
        assertThat(read(new Chunked(bytes, chunk), slow)).isEqualTo(read(new ByteArrayInputStream(bytes), quick));
    }

    @Provide
    Arbitrary<List<List<String>>> tables() {
        Arbitrary<String> field = Arbitraries.of("", "a", "\"", ",", "\n", "\r\n", "ä🜁", " ", "x\"\"y")
                .list()
                .ofMaxSize(3)
                .map(pieces -> String.join("", pieces));
        return Arbitraries.integers()
                .between(1, 4)
                .flatMap(width -> field.list().ofSize(width).list().ofMinSize(1).ofMaxSize(5));
    }

    /** Gives so many bytes at a time. */
    private static final class Chunked extends ByteArrayInputStream {
        private final int most;

        Chunked(byte[] bytes, int most) {
            super(bytes);
            this.most = most;
        }

        @Override
        public synchronized int read(byte[] target, int offset, int length) {
            return super.read(target, offset, Math.min(most, length));
        }
    }

    @Test
    void longRecordsWithDoubledQuotesFitWhereverTheyBegin() throws Exception {
        String field = "\"" + "x\"\"".repeat(100_000) + "\"";
        String record = field + "," + field + "," + field;
        String text = "a,b,c\n" + record + "\n" + record + "\n" + record + "\n";
        assertThat(read(text, "separator: ','").records).hasSize(3).allSatisfy(row -> assertThat(row.get(2))
                .hasSize(200_000));
    }
}
