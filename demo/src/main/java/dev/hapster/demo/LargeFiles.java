package dev.hapster.demo;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.stream.IntStream;

/**
 * Writes the demo's measurements in any number, as comma-separated files of ten columns, for benchmarks and load tests.
 */
public final class LargeFiles {

    /** The header of every file. */
    public static final String HEADER = "sample_id,station,sampled_at,parameter,value,unit,method,depth,checked,lab";

    /** The columns as a dataset declares them. */
    public static final List<String> COLUMNS = List.of(
            "{name: sample_id,  type: text, length: 12, required: true}",
            "{name: station,    type: text, matches: \"VS-[0-9]{3}\", required: true}",
            "{name: sampled_at, type: timestamp, required: true}",
            "{name: parameter,  type: text, one_of: [nitrate, phosphate, turbidity, ph]}",
            "{name: value,      type: \"decimal(12,4)\", min: 0}",
            "{name: unit,       type: text}",
            "{name: method,     type: text}",
            "{name: depth,      type: \"decimal(6,1)\"}",
            "{name: checked,    type: boolean}",
            "{name: lab,        type: text}");

    private static final List<String> METHODS =
            List.of("by cell test", "by photometer", "by nephelometer", "by electrode");
    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss");

    private LargeFiles() {}

    /**
     * Writes {@code files} files with {@code rows} rows in all, evenly, several at a time.
     *
     * @return the files, in order
     */
    public static List<Path> write(Path folder, int files, int rows) throws IOException {
        Files.createDirectories(folder);
        List<Path> written = new ArrayList<>();
        for (int i = 0; i < files; i++) {
            written.add(folder.resolve(String.format(Locale.ROOT, "bulk-%04d.csv", i + 1)));
        }
        IntStream.range(0, files).parallel().forEach(i -> writeOne(written.get(i), i, rows / files));
        return written;
    }

    private static void writeOne(Path file, int number, int rows) {
        Random random = new Random(5000 + number);
        try (OutputStream bytes = new BufferedOutputStream(Files.newOutputStream(file), 1 << 16);
                PrintStream out = new PrintStream(bytes, false, StandardCharsets.UTF_8)) {
            out.print(HEADER + "\n");
            for (int i = 0; i < rows; i++) {
                Measurement m = Measurement.draw(random, LocalDateTime.of(2020 + i % 6, 1 + i % 12, 1, 0, 0), i);
                out.print("B" + number + "-" + (1_000_000 + i) + "," + m.stationCode() + "," + TIME.format(m.taken())
                        + "," + m.parameter() + ","
                        + m.valueText() + "," + m.unit() + "," + METHODS.get(i % METHODS.size()) + "," + i % 80 / 10
                        + "." + i % 10 + ","
                        + (i % 3 == 0) + ",Bulk\n");
            }
            if (out.checkError()) {
                throw new IOException(file + " could not be written");
            }
        } catch (IOException wrong) {
            throw new UncheckedIOException(wrong);
        }
    }

    /** Writes one file of at least {@code bytes} bytes, with the rows of {@code sources} over and over. */
    public static Path repeat(Path target, List<Path> sources, long bytes) throws IOException {
        byte[] header = (HEADER + "\n").getBytes(StandardCharsets.UTF_8);
        try (OutputStream out = new BufferedOutputStream(Files.newOutputStream(target), 1 << 20)) {
            out.write(header);
            long written = header.length;
            for (int i = 0; written < bytes; i++) {
                byte[] rows = Files.readAllBytes(sources.get(i % sources.size()));
                out.write(rows, header.length, rows.length - header.length);
                written += rows.length - header.length;
            }
        }
        return target;
    }
}
