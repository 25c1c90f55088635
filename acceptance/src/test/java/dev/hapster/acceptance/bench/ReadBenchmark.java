package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import de.siegmar.fastcsv.reader.CsvReader;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.read.Formats;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.shape.FileSays;
import dev.hapster.core.shape.Shaper;
import dev.hapster.demo.LargeFiles;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.channels.SeekableByteChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Stream;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.dhatim.fastexcel.reader.Cell;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.dhatim.fastexcel.reader.Row;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Reads and types 1,000,000 rows of delimited text, against FastCSV that only parses the same bytes on as many threads;
 * and a workbook of 300,000 rows, against fastexcel-reader that only walks its cells. Prints times and ratios. Run by
 * {@code ./dev bench}.
 */
@Tag("benchmark")
class ReadBenchmark {

    /** Rounds that do not count, until the machine has compiled both. */
    private static final int WARM_UP = 6;

    private static final int ROUNDS = 9;
    private static final int ROWS = 1_000_000;
    private static final int SHEET_ROWS = 300_000;

    @TempDir
    private Path folder;

    /** Reads a file, types every value, and forgets it. */
    static long typed(Path file, String as, Optional<String> sheet) throws Exception {
        return typed(file, dataset(), job(as), sheet);
    }

    private static DatasetDef dataset() throws Exception {
        return Definitions.dataset(
                "datasets/samples.yaml",
                "dataset: samples\ncolumns:\n"
                        + String.join(
                                "",
                                LargeFiles.COLUMNS.stream()
                                        .map(column -> "  - " + column + "\n")
                                        .toList()));
    }

    private static JobDef job(String as) throws Exception {
        DatasetDef dataset = dataset();
        return Definitions.job(
                "jobs/north.yaml",
                "job: north\ninto: samples\nfind: [{folder: in, take: \"*\"}]\nread: {as: " + as + "}\n",
                name -> Optional.of(dataset),
                Set.of("samples"));
    }

    private static long typed(Path file, DatasetDef dataset, JobDef job, Optional<String> sheet) throws Exception {
        try (RecordReader reader = Formats.open(content(file), job.read(), sheet, Optional.empty(), Long.MAX_VALUE)) {
            Header header = reader.header();
            Shaper shaper = new Shaper(dataset, job, Binding.of(dataset, job, header.names()), FileSays.NOTHING);
            RawBatch batch = RecordReader.batchFor(header);
            long good = 0;
            while (reader.next(batch)) {
                good += shaper.shape(batch, 0, refused -> {
                            throw new AssertionError(refused.toString());
                        })
                        .goodRows;
            }
            return good;
        }
    }

    private static Content content(Path file) {
        return new Content() {
            @Override
            public String name() {
                return file.getFileName().toString();
            }

            @Override
            public InputStream stream() throws IOException {
                return Files.newInputStream(file);
            }

            @Override
            public SeekableByteChannel seekable() throws IOException {
                return Files.newByteChannel(file);
            }
        };
    }

    static long parsed(Path file) throws IOException {
        try (CsvReader<de.siegmar.fastcsv.reader.CsvRecord> reader =
                CsvReader.builder().ofCsvRecord(file, StandardCharsets.UTF_8)) {
            return reader.stream()
                            .mapToLong(record -> record.getFieldCount() > 0 ? 1 : 0)
                            .sum()
                    - 1;
        }
    }

    interface Reading {
        long rows(Path file) throws Exception;
    }

    static double seconds(List<Path> files, int threads, long expected, Reading reading) throws Exception {
        ExecutorService workers = Executors.newFixedThreadPool(threads);
        try {
            long start = System.nanoTime();
            long rows = 0;
            for (Future<Long> one : workers.invokeAll(files.stream()
                    .<Callable<Long>>map(file -> () -> reading.rows(file))
                    .toList())) {
                rows += one.get();
            }
            double seconds = (System.nanoTime() - start) / 1e9;
            assertThat(rows).isEqualTo(expected);
            return seconds;
        } finally {
            workers.shutdown();
        }
    }

    @Test
    void typingIsNotSlowerThanParsingAlone() throws Exception {
        List<Path> files = LargeFiles.write(folder, 8, ROWS);
        DatasetDef dataset = dataset();
        JobDef job = job("delimited");
        for (int threads : new int[] {1, 2}) {
            double[] ours = new double[ROUNDS];
            double[] theirs = new double[ROUNDS];
            for (int round = -WARM_UP; round < ROUNDS; round++) {
                double one = seconds(files, threads, ROWS, file -> typed(file, dataset, job, Optional.empty()));
                double other = seconds(files, threads, ROWS, ReadBenchmark::parsed);
                if (round >= 0) {
                    ours[round] = one;
                    theirs[round] = other;
                }
            }
            double ratio = Measured.median(theirs) / Measured.median(ours);
            System.out.printf(
                    Locale.ROOT,
                    "%n%,d rows of delimited text, %d thread(s): read and typed %.2f s, FastCSV parsing only "
                            + "%.2f s, ratio %.2f%n",
                    ROWS,
                    threads,
                    Measured.median(ours),
                    Measured.median(theirs),
                    ratio);
            assertThat(ratio).as("FastCSV parsing only / reading with typing").isGreaterThanOrEqualTo(1);
        }
    }

    private static void workbook(Path file) throws IOException {
        List<String> names = List.of(LargeFiles.HEADER.split(","));
        List<String> parameters = List.of("nitrate", "phosphate", "turbidity", "ph");
        try (OutputStream out = Files.newOutputStream(file);
                Workbook book = new Workbook(out, "bench", "1.0")) {
            Worksheet sheet = book.newWorksheet("2026");
            for (int column = 0; column < names.size(); column++) {
                sheet.value(0, column, names.get(column));
            }
            for (int row = 1; row <= SHEET_ROWS; row++) {
                sheet.value(row, 0, "N" + row);
                sheet.value(row, 1, String.format(Locale.ROOT, "VS-%03d", row % 24));
                sheet.value(row, 2, LocalDateTime.of(2026, 1, 1, 0, 0).plusMinutes(row));
                sheet.style(row, 2).format("yyyy-mm-dd hh:mm").set();
                sheet.value(row, 3, parameters.get(row % 4));
                sheet.value(row, 4, row % 997 / 10.0);
                sheet.value(row, 5, row % 4 == 3 ? null : "mg/l");
                sheet.value(row, 6, "by photometer");
                sheet.value(row, 7, row % 30 / 2.0);
                sheet.value(row, 8, row % 5 == 0);
                sheet.value(row, 9, "Harbour");
                if (row % 5_000 == 0) {
                    sheet.flush();
                }
            }
        }
    }

    private static long walked(Path file) throws IOException {
        long rows = 0;
        long texts = 0;
        try (ReadableWorkbook book = new ReadableWorkbook(file.toFile());
                Stream<Row> all = book.getFirstSheet().openStream()) {
            for (Row row : (Iterable<Row>) all::iterator) {
                for (int i = 0; i < row.getCellCount(); i++) {
                    Cell cell = row.getCell(i);
                    texts += cell == null ? 0 : cell.getRawValue() == null ? 0 : 1;
                }
                rows++;
            }
        }
        assertThat(texts).isPositive();
        return rows - 1;
    }

    @Test
    void workbooksAreReadInLittleTimeAndMemory() throws Exception {
        Path file = folder.resolve("harbour.xlsx");
        workbook(file);
        double[] ours = new double[ROUNDS];
        double[] theirs = new double[ROUNDS];
        for (int round = -1; round < ROUNDS; round++) {
            double one = seconds(List.of(file), 1, SHEET_ROWS, book -> typed(book, "workbook", Optional.of("2026")));
            double other = seconds(List.of(file), 1, SHEET_ROWS, ReadBenchmark::walked);
            if (round >= 0) {
                ours[round] = one;
                theirs[round] = other;
            }
        }
        double ratio = Measured.median(theirs) / Measured.median(ours);
        System.out.printf(
                Locale.ROOT,
                "%n%,d rows of a workbook (%.1f MB): read and typed %.2f s, fastexcel-reader alone %.2f s, "
                        + "ratio %.2f%n",
                SHEET_ROWS,
                Files.size(file) / 1e6,
                Measured.median(ours),
                Measured.median(theirs),
                ratio);
        Process small = new ProcessBuilder(
                        ProcessHandle.current().info().command().orElseThrow(),
                        "-Xmx256m",
                        "-cp",
                        System.getProperty("java.class.path"),
                        Small.class.getName(),
                        file.toString())
                .redirectErrorStream(true)
                .start();
        String said = new String(small.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        System.out.print("the same with -Xmx256m: " + said);
        assertThat(said).startsWith(SHEET_ROWS + " rows");
        assertThat(ratio).as("fastexcel-reader alone / reading with typing").isGreaterThanOrEqualTo(0.8);
    }

    /** Reads one workbook in a process with little memory. */
    static final class Small {
        private Small() {}

        public static void main(String[] args) throws Exception {
            System.out.println(typed(Path.of(args[0]), "workbook", Optional.of("2026")) + " rows, peak "
                    + Measured.peakMegabytes(ProcessHandle.current().pid()) + " MB in all");
        }
    }
}
