package dev.hapster.core.read;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.hapster.core.read.bytes.Archive;
import dev.hapster.core.read.bytes.BlockInput;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.channels.SeekableByteChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.LongStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.example.data.Group;
import org.apache.parquet.example.data.simple.SimpleGroupFactory;
import org.apache.parquet.hadoop.ParquetWriter;
import org.apache.parquet.hadoop.example.ExampleParquetWriter;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;
import org.apache.parquet.io.LocalOutputFile;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.MessageTypeParser;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Files that are built to do harm, or are damaged in a way that does: each is a reason, soon, and in little memory. */
class HostileFilesTest {

    private static final long GIGABYTE = 1L << 30;

    @TempDir
    private Path folder;

    /** A stream of a text, and then as many bytes of one kind as are wanted; counts what was taken. */
    private static final class Endless extends BlockInput {
        private final byte[] start;
        private final byte rest;
        private final long length;
        private long at;

        Endless(String start, char rest, long length) {
            this.start = start.getBytes(StandardCharsets.UTF_8);
            this.rest = (byte) rest;
            this.length = length;
        }

        @Override
        public int read(byte[] target, int offset, int count) {
            if (at >= length) {
                return -1;
            }
            int some = (int) Math.min(count, length - at);
            for (int i = 0; i < some; i++, at++) {
                target[offset + i] =
                        at < start.length ? start[(int) at] : at % 100 == 0 && rest == 'n' ? (byte) '\n' : rest;
            }
            return some;
        }
    }

    private static Reason refusal(Endless stream, String rules) {
        return catchThrowableOfType(FileRejectedException.class, () -> {
                    Content content = new Content() {
                        @Override
                        public String name() {
                            return "endless";
                        }

                        @Override
                        public InputStream stream() {
                            stream.at = 0;
                            return stream;
                        }

                        @Override
                        public SeekableByteChannel seekable() throws IOException {
                            throw new IOException("this one is not a file");
                        }
                    };
                    try (RecordReader reader = Formats.open(
                            content, Contents.rules(rules), Optional.empty(), Optional.empty(), Long.MAX_VALUE)) {
                        var batch = RecordReader.batchFor(reader.header());
                        while (reader.next(batch)) {
                            assertThat(batch.rows).isPositive();
                        }
                    }
                })
                .reason();
    }

    @Test
    void aGigabyteThatIsOneFieldIsNotReadToItsEnd() {
        Endless field = new Endless("a,b\n1,", 'x', GIGABYTE);
        assertThat(refusal(field, "as: delimited").sentence())
                .isEqualTo("the row at line 2 is longer than 1 048 576 bytes");
        assertThat(field.at).isLessThan(4 << 20);
        Endless quote = new Endless("a,b\n1,2\n3,\"open\n", 'n', GIGABYTE);
        assertThat(refusal(quote, "as: delimited").sentence()).isEqualTo("a quote opened in line 3 is not closed");
        assertThat(quote.at).isLessThan(4 << 20);
        for (String rules : new String[] {"as: json", "as: json_lines", "as: lines"}) {
            Endless text = new Endless("[{\"a\": \"", 'x', GIGABYTE);
            assertThat(refusal(text, rules).code()).isIn(ReasonCode.STRUCTURE_REFUSED, ReasonCode.RECORD_TOO_LONG);
            assertThat(text.at).isLessThan(8 << 20);
        }
        Endless xml = new Endless("<r><a>", 'x', GIGABYTE);
        assertThat(refusal(xml, "as: xml").sentence()).contains("MB between two tags");
        assertThat(xml.at).isLessThan(16 << 20);
        Endless name = new Endless("<r><", 'x', 40 << 20);
        assertThat(refusal(name, "as: xml").sentence()).contains("MB between two tags");
    }

    @Test
    void bombsAreNotUnpacked() throws Exception {
        Path zip = folder.resolve("bomb.zip");
        byte[] zeros = new byte[1 << 20];
        try (ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(zip))) {
            out.putNextEntry(new ZipEntry("x.csv"));
            out.write("a\n".getBytes(StandardCharsets.UTF_8));
            Arrays.fill(zeros, (byte) '\n');
            for (int i = 0; i < 1_200; i++) {
                out.write(zeros);
            }
        }
        assertThat(Files.size(zip)).isLessThan(2 << 20);
        IOException wrong =
                catchThrowableOfType(IOException.class, () -> Archive.open(Files.newByteChannel(zip), "x.csv")
                        .transferTo(OutputStream.nullOutputStream()));
        assertThat(wrong).hasMessageContaining("more than 1000 times its size");
        Path book = folder.resolve("bomb.xlsx");
        new MiniBook().sheet("a", MiniBook.row(1, "'x"), "").write(book);
        Path inflated = folder.resolve("inflated.xlsx");
        try (java.util.zip.ZipFile plain = new java.util.zip.ZipFile(book.toFile());
                ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(inflated))) {
            for (var entry : java.util.Collections.list(plain.entries())) {
                out.putNextEntry(new ZipEntry(entry.getName()));
                if (entry.getName().contains("sheet1")) {
                    out.write("<worksheet><sheetData>".getBytes(StandardCharsets.UTF_8));
                    byte[] row = "<x/>".getBytes(StandardCharsets.UTF_8);
                    for (int at = 0; at < zeros.length; at++) {
                        zeros[at] = row[at % 4];
                    }
                    for (int i = 0; i < 400; i++) {
                        out.write(zeros);
                    }
                } else {
                    plain.getInputStream(entry).transferTo(out);
                }
            }
        }
        assertThat(catchThrowableOfType(
                                FileRejectedException.class,
                                () -> Contents.read(inflated, Contents.rules("as: workbook"), "a"))
                        .reason()
                        .sentence())
                .contains("more than 1000 times its size");
    }

    private Path parquet() throws IOException {
        MessageType schema = MessageTypeParser.parseMessageType(
                "message m { required binary id (STRING); optional int64 at (TIMESTAMP(MICROS, true)); optional "
                        + "group visits (LIST) { repeated group list { "
                        + "optional group element { optional double value; optional int32 day (DATE); } } } "
                        + "optional group where { optional int32 x (DECIMAL(6,2)); optional boolean ok; } }");
        Path file = folder.resolve("whole.parquet");
        Files.deleteIfExists(file);
        SimpleGroupFactory groups = new SimpleGroupFactory(schema);
        try (ParquetWriter<Group> writer = ExampleParquetWriter.builder(new LocalOutputFile(file))
                .withConf(new PlainParquetConfiguration())
                .withType(schema)
                .withCompressionCodec(CompressionCodecName.UNCOMPRESSED)
                .build()) {
            for (int i = 0; i < 3; i++) {
                Group row = groups.newGroup().append("id", "n" + i).append("at", 1_772_000_000_123_456L + i);
                Group list = row.addGroup("visits");
                for (int k = 0; k < i; k++) {
                    list.addGroup("list")
                            .addGroup("element")
                            .append("value", k + 0.1)
                            .append("day", 20_000 + k);
                }
                row.addGroup("where").append("x", 1234).append("ok", i == 1);
                writer.write(row);
            }
        }
        return file;
    }

    @Test
    void parquetIsReadFlatAndNested() throws Exception {
        Path file = parquet();
        assertThat(Contents.read(file, "as: parquet").names())
                .containsExactly("id", "at", "visits.value", "visits.day", "where.x", "where.ok");
        var nested = Contents.read(file, "as: parquet, rows: \"visits[]\"");
        assertThat(nested.names()).containsExactly("id", "at", "value", "day", "where.x", "where.ok");
        assertThat(nested.rows()).hasSize(3);
        assertThat(nested.rows().get(2))
                .containsExactly("n2", "2026-02-25T06:13:20.123458", "1.1", "2024-10-05", "12.34", "false");
        assertThat(nested.lines()).containsExactly(1L, 2L, 3L);
        assertThat(Contents.read(file, "as: parquet").marks())
                .containsExactly("2:2:value has several values in one row", "2:3:day has several values in one row");
    }

    @Test
    void aDamagedParquetFileIsAReason() throws Exception {
        byte[] whole = Files.readAllBytes(parquet());
        Path file = folder.resolve("fuzzed.parquet");
        Files.write(file, Arrays.copyOf(whole, whole.length / 2));
        assertThat(catchThrowableOfType(FileRejectedException.class, () -> Contents.read(file, "as: parquet"))
                        .reason()
                        .sentence())
                .isEqualTo("is the beginning of a Parquet file; its end, which says what it holds, is missing");
        spoil(whole, "as: parquet", "as: parquet, rows: visits");
        spoil(Files.readAllBytes(columns(300, new ArrayList<>())), "as: parquet");
    }

    private void spoil(byte[] whole, String... rules) throws Exception {
        Path file = folder.resolve("fuzzed.parquet");
        Random random = new Random(11);
        int refused = 0;
        for (int i = 0; i < 500; i++) {
            byte[] bytes = whole.clone();
            for (int change = 0; change <= random.nextInt(5); change++) {
                bytes[4 + random.nextInt(bytes.length - 8)] =
                        (byte) random.nextInt(256); // its ends stay, so that it is taken for one
            }
            Files.write(file, bytes);
            try {
                Contents.read(file, rules[i % rules.length]);
            } catch (FileRejectedException told) {
                refused++;
                assertThat(told.reason().sentence()).isNotBlank();
            }
        }
        assertThat(refused).isPositive();
    }

    /** A file of columns without structure, in several row groups; adds what each row holds as text. */
    private Path columns(int rows, List<List<String>> all) throws IOException {
        MessageType schema = MessageTypeParser.parseMessageType(
                "message m { required binary id (STRING); optional int64 at (TIMESTAMP(NANOS, true)); "
                        + "optional int32 time (TIME(MILLIS, true)); optional double value; "
                        + "optional binary note (STRING); required boolean ok; }");
        Path file = folder.resolve("columns" + rows + ".parquet");
        Files.deleteIfExists(file);
        SimpleGroupFactory groups = new SimpleGroupFactory(schema);
        Random random = new Random(rows);
        try (ParquetWriter<Group> writer = ExampleParquetWriter.builder(new LocalOutputFile(file))
                .withConf(new PlainParquetConfiguration())
                .withType(schema)
                .withRowGroupSize(200_000L)
                .withMinRowCountForPageSizeCheck(10)
                .withPageSize(20_000)
                .withCompressionCodec(CompressionCodecName.SNAPPY)
                .build()) {
            for (int i = 0; i < rows; i++) {
                List<String> texts = new ArrayList<>(List.of("n" + i % 700));
                Group row = groups.newGroup().append("id", texts.get(0));
                boolean[] there = {random.nextBoolean(), random.nextBoolean(), random.nextBoolean(), i % 5 == 0};
                if (there[0]) {
                    row.append("at", 1_772_000_000_000_000_000L + i * 1_000_000L);
                }
                texts.add(
                        there[0] ? "2026-02-25T06:13:2" + i / 1000 + (i % 1000 == 0 ? "" : fraction(i % 1000)) : null);
                if (there[1]) {
                    row.append("time", i);
                }
                texts.add(there[1] ? "00:00:0" + i / 1000 + (i % 1000 == 0 ? "" : fraction(i % 1000)) : null);
                if (there[2]) {
                    row.append("value", i + 0.25);
                }
                texts.add(there[2] ? i + ".25" : null);
                String note = "é".repeat(i % 50 == 0 ? 400_000 : i % 90);
                if (there[3]) {
                    row.append("note", note);
                }
                texts.add(there[3] ? note : null);
                row.append("ok", i % 3 == 0);
                texts.add(String.valueOf(i % 3 == 0));
                writer.write(row);
                all.add(texts);
            }
        }
        return file;
    }

    private static String fraction(int millis) {
        return String.format(java.util.Locale.ROOT, ".%03d", millis).replaceAll("0+$", "");
    }

    @Test
    void columnsOfParquetAreReadWithoutPuttingRecordsTogether() throws Exception {
        for (int rows : new int[] {1, 900, 6_000}) {
            List<List<String>> expected = new ArrayList<>();
            Path file = columns(rows, expected);
            var all = Contents.read(file, "as: parquet");
            assertThat(all.names()).containsExactly("id", "at", "time", "value", "note", "ok");
            assertThat(all.lines())
                    .containsExactlyElementsOf(
                            LongStream.rangeClosed(1, rows).boxed().toList());
            assertThat(all.rows()).isEqualTo(expected);
        }
    }

    @Test
    void aCellThatFillsTheMemoryRejectsItsFile() throws Exception {
        MessageType schema = MessageTypeParser.parseMessageType("message x { required binary id (STRING); }");
        Path file = folder.resolve("cell.parquet");
        try (ParquetWriter<Group> writer = ExampleParquetWriter.builder(new LocalOutputFile(file))
                .withConf(new PlainParquetConfiguration())
                .withType(schema)
                .withDictionaryEncoding(false)
                .withCompressionCodec(CompressionCodecName.UNCOMPRESSED)
                .build()) {
            writer.write(new SimpleGroupFactory(schema).newGroup().append("id", "x".repeat(3 << 20)));
        }
        assertThat(catchThrowableOfType(FileRejectedException.class, () -> Contents.read(file, "as: parquet"))
                        .reason()
                        .sentence())
                .isEqualTo("the row at line 1 is longer than 1 048 576 bytes");
    }
}
