package dev.hapster.demo;

import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.Locale;
import java.util.Random;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.example.data.Group;
import org.apache.parquet.example.data.simple.SimpleGroupFactory;
import org.apache.parquet.hadoop.ParquetWriter;
import org.apache.parquet.hadoop.example.ExampleParquetWriter;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;
import org.apache.parquet.io.LocalOutputFile;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.MessageTypeParser;

/** What was measured in the year before, as another department keeps it. */
final class History {

    private static final MessageType SCHEMA = MessageTypeParser.parseMessageType(
            """
            message history {
              required binary sample_id (STRING);
              optional binary station (STRING);
              required int64 sampled_at (TIMESTAMP(MILLIS, false));
              required binary parameter (STRING);
              optional int32 value (DECIMAL(9, 3));
              optional binary unit (STRING);
            }""");

    private final Path folder;
    private final Instant arrived;

    History(Path folder, Instant arrived) {
        this.folder = folder;
        this.arrived = arrived;
    }

    void write() throws IOException {
        Files.createDirectories(folder);
        Path file = folder.resolve("river-2025.parquet");
        Files.deleteIfExists(file);
        Random random = new Random(7000);
        SimpleGroupFactory rows = new SimpleGroupFactory(SCHEMA);
        try (ParquetWriter<Group> writer = ExampleParquetWriter.builder(new LocalOutputFile(file))
                .withConf(new PlainParquetConfiguration())
                .withType(SCHEMA)
                .withCompressionCodec(CompressionCodecName.UNCOMPRESSED)
                .build()) {
            for (int i = 0; i < 1_200; i++) {
                Measurement m = Measurement.draw(random, LocalDateTime.of(2025, 1 + i / 100, 1, 6, 0), i);
                Group row = rows.newGroup().append("sample_id", String.format(Locale.ROOT, "H25-%05d", i + 1));
                if (i != 700) {
                    row.append("station", m.stationCode());
                }
                row.append("sampled_at", m.taken().toInstant(ZoneOffset.UTC).toEpochMilli())
                        .append("parameter", m.parameter())
                        .append(
                                "value",
                                new BigDecimal(m.valueText())
                                        .setScale(3)
                                        .unscaledValue()
                                        .intValueExact())
                        .append("unit", m.unit());
                writer.write(row);
            }
        }
        Files.setLastModifiedTime(file, FileTime.from(arrived));
        Path damaged = folder.resolve("river-2024.parquet");
        byte[] bytes = Files.readAllBytes(file);
        Files.write(damaged, java.util.Arrays.copyOf(bytes, bytes.length / 3)); // the copy broke off
        Files.setLastModifiedTime(damaged, FileTime.from(arrived));
    }
}
