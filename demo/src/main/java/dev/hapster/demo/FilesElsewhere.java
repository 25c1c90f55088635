package dev.hapster.demo;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.LocalDateTime;
import java.util.Locale;
import java.util.Random;

/**
 * What lies on machines of others: the ferry measures while it crosses the river, and puts a list for each week onto an
 * SFTP server; buoys send theirs into a bucket.
 */
public final class FilesElsewhere {

    private static final int WEEKS = 4;
    private static final int BUOYS = 3;

    private final Path ferry;
    private final Path bucket;

    public FilesElsewhere(Path ferry, Path bucket) {
        this.ferry = ferry;
        this.bucket = bucket;
    }

    /** Always the same rows. */
    public void write() throws IOException {
        for (int week = 1; week <= WEEKS; week++) {
            Random random = new Random(7000 + week);
            StringBuilder text = new StringBuilder("no;station;taken;parameter;value;unit\n");
            for (int i = 0; i < 120; i++) {
                Measurement m = Measurement.draw(random, LocalDateTime.of(2026, 4, 1, 6, 0), i);
                String value = week == 2 && i % 40 == 13 ? "fog" : m.valueText();
                text.append(String.join(
                                ";",
                                String.format(Locale.ROOT, "F%d-%04d", week, i + 1),
                                m.stationCode(),
                                m.taken().format(ArrivedFiles.SPACED),
                                m.parameter(),
                                value,
                                m.unit()))
                        .append('\n');
            }
            String whole =
                    week == WEEKS ? text.substring(0, text.length() - 30) : text.toString(); // cut off on its way
            save(ferry.resolve("outgoing/crossing-2026-w1" + week + ".csv"), whole);
        }
        for (int buoy = 1; buoy <= BUOYS; buoy++) {
            Random random = new Random(8000 + buoy);
            StringBuilder text = new StringBuilder();
            for (int i = 0; i < 90; i++) {
                Measurement m = Measurement.draw(random, LocalDateTime.of(2026, 4, 1, 0, 0), i);
                text.append(String.format(
                        Locale.ROOT,
                        "{\"id\": \"B%d-%04d\", \"station\": \"%s\", \"at\": \"%s\", \"parameter\": \"%s\", \"value\": %s, "
                                + "\"unit\": \"%s\"}%n",
                        buoy,
                        i + 1,
                        m.stationCode(),
                        m.taken().format(ArrivedFiles.SPACED),
                        m.parameter(),
                        m.valueText(),
                        m.unit()));
            }
            save(bucket.resolve("buoys/2026-04/buoy-0" + buoy + ".jsonl"), text.toString());
        }
    }

    private static void save(Path file, String text) throws IOException {
        Files.createDirectories(file.getParent());
        Files.writeString(file, text, StandardCharsets.UTF_8);
        Files.setLastModifiedTime(file, FileTime.from(ArrivedFiles.ARRIVED));
    }
}
