package dev.hapster.core.read;

import static org.assertj.core.api.Assertions.assertThat;

import de.siegmar.fastcsv.writer.CsvWriter;
import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.write.RowStyle;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.query.write.RowWriter.Limits;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.shape.FileSays;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.store.PartOrigin;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.PartWriter;
import java.io.ByteArrayOutputStream;
import java.io.OutputStream;
import java.io.StringWriter;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import net.jqwik.api.lifecycle.AfterProperty;

/** What is written in a format is read back equal, whatever the values are. */
class RoundTripTest {

    private static final String[] COLUMNS = {
        "{name: note, type: text}",
        "{name: count, type: integer}",
        "{name: value, type: \"decimal(12,4)\"}",
        "{name: wide, type: \"decimal(38,10)\"}",
        "{name: ratio, type: double}",
        "{name: ok, type: boolean}",
        "{name: day, type: date}",
        "{name: hour, type: time}",
        "{name: moment, type: timestamp}"
    };
    private static final PartOrigin ORIGIN = new PartOrigin("a", "/a", 1, Instant.EPOCH);

    private final Path folder;

    RoundTripTest() throws Exception {
        folder = Files.createTempDirectory("round-trip");
    }

    @AfterProperty
    void sweep() throws Exception {
        try (Stream<Path> files = Files.walk(folder)) {
            files.sorted(java.util.Comparator.reverseOrder())
                    .forEach(path -> path.toFile().delete());
        }
    }

    /** Rows of values; null where empty. */
    @Provide
    Arbitrary<List<List<Object>>> tables() {
        Arbitrary<String> note = Arbitraries.oneOf(
                        Arbitraries.strings()
                                .withChars("ab,;\"'\t\n _x0041_<>&=-+|{}[]\\/äß\u00a0\u2028€\ufeff")
                                .ofMinLength(1)
                                .ofMaxLength(20),
                        Arbitraries.of(
                                "_x000D_",
                                "=1+1",
                                "007",
                                "1e5",
                                " padded ",
                                "\ud83d\udca7 drop",
                                "a\rb",
                                "a\r\nb",
                                "null",
                                "true",
                                "\"",
                                "#N/A",
                                "2026-01-01"))
                .filter(text -> !text.isBlank());
        Arbitrary<Object> moment = Combinators.combine(
                        Arbitraries.longs().between(-3_000_000_000L, 250_000_000_000L),
                        Arbitraries.integers().between(0, 999_999))
                .as((seconds, micros) -> LocalDateTime.ofEpochSecond(
                        seconds, micros % 3 == 0 ? 0 : micros * 1000, java.time.ZoneOffset.UTC));
        List<Arbitrary<?>> kinds = List.of(
                note,
                Arbitraries.longs(),
                Arbitraries.longs()
                        .between(-999_999_999_999L, 999_999_999_999L)
                        .map(unscaled -> BigDecimal.valueOf(unscaled, 4)),
                Arbitraries.bigIntegers()
                        .between(
                                BigInteger.TEN.pow(38).negate().add(BigInteger.ONE),
                                BigInteger.TEN.pow(38).subtract(BigInteger.ONE))
                        .map(unscaled -> new BigDecimal(unscaled, 10)),
                Arbitraries.doubles(),
                Arbitraries.of(true, false),
                Arbitraries.longs().between(-40_000, 200_000).map(LocalDate::ofEpochDay),
                Arbitraries.longs().between(0, 86_399_999_999L).map(micros -> LocalTime.ofNanoOfDay(micros * 1000)),
                moment);
        Arbitrary<List<Object>> row = Combinators.combine(kinds.stream()
                        .<Arbitrary<Object>>map(
                                kind -> kind.map(value -> (Object) value).injectNull(0.15))
                        .toList())
                .as(ArrayList::new);
        row = row.filter(values ->
                values.stream().anyMatch(java.util.Objects::nonNull)); // in a workbook a row without any value is none
        return row.list().ofMinSize(1).ofMaxSize(12);
    }

    @Property(tries = 150)
    void everyFormatGivesBackWhatWasWritten(@ForAll("tables") List<List<Object>> table) throws Exception {
        DatasetDef dataset = TestJobs.dataset(COLUMNS);
        StringWriter text = new StringWriter();
        try (CsvWriter writer = CsvWriter.builder().build(text)) {
            writer.writeRecord(
                    dataset.columns().stream().map(column -> column.name()).toList());
            table.forEach(row -> writer.writeRecord(row.stream()
                    .map(value -> value == null
                            ? ""
                            : value instanceof BigDecimal number ? number.toPlainString() : value.toString())
                    .toList()));
        }
        Path part = fresh("part.parquet");
        TestJobs.part(part, dataset, ORIGIN, text.toString());
        List<List<Object>> stored = rows(dataset, part);
        assertThat(stored)
                .usingRecursiveComparison()
                .withEqualsForType((a, b) -> a.compareTo(b) == 0, BigDecimal.class)
                .isEqualTo(table);
        for (String format : RowWriter.FORMATS) {
            Path file = fresh("rows." + format);
            try (OutputStream out = Files.newOutputStream(file)) {
                query(dataset, part)
                        .export(DatasetQuery.Selection.ALL, columns -> Limits.NONE, false)
                        .to(RowWriter.of(format, out, "rows").orElseThrow(), folder);
            }
            String as = Map.of("csv", "delimited", "xlsx", "workbook", "xml", "xml, rows: rows/row")
                    .getOrDefault(format, format);
            assertThat(rows(dataset, copy(dataset, file, "as: " + as)))
                    .as(format)
                    .isEqualTo(stored);
        }
        for (RowStyle style : STYLES) {
            assertThat(csv(dataset, part, style, false))
                    .as("batches say what rows say: " + style)
                    .isEqualTo(csv(dataset, part, style, true));
        }
        assertThat(rows(dataset, copy(dataset, part, "as: parquet, extra_columns: ignore")))
                .as("parquet")
                .isEqualTo(stored);
    }

    private static final List<RowStyle> STYLES = styles();

    private static List<RowStyle> styles() {
        try {
            Optional<String> usual = Optional.empty();
            return List.of(
                    RowStyle.USUAL,
                    RowStyle.of(
                            Optional.of(";"),
                            usual,
                            Optional.of(","),
                            Optional.of("dd.MM.uuuu"),
                            usual,
                            false,
                            true,
                            true,
                            "rows",
                            "row"),
                    RowStyle.of(
                            Optional.of("tab"),
                            usual,
                            usual,
                            usual,
                            Optional.of("uuuu HH"),
                            false,
                            false,
                            false,
                            "rows",
                            "row"));
        } catch (QueryException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    private String csv(DatasetDef dataset, Path part, RowStyle style, boolean oneByOne) throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        RowWriter whole = RowWriter.of("csv", out, "rows", style).orElseThrow();
        query(dataset, part)
                .export(
                        new DatasetQuery.Selection(List.of(), true, List.of(), List.of()),
                        columns -> Limits.NONE,
                        false)
                .to(oneByOne ? oneByOne(whole) : whole, folder);
        return out.toString(StandardCharsets.UTF_8);
    }

    private static RowWriter oneByOne(RowWriter whole) {
        return new RowWriter() {
            @Override
            public void begin(List<Field> fields) throws java.io.IOException {
                whole.begin(fields);
            }

            @Override
            public void row(List<Comparable<?>> values) throws java.io.IOException {
                whole.row(values);
            }

            @Override
            public void finish() throws java.io.IOException {
                whole.finish();
            }
        };
    }

    private Path fresh(String name) throws Exception {
        Path file = folder.resolve(name);
        Files.deleteIfExists(file);
        return file;
    }

    private static DatasetQuery query(DatasetDef dataset, Path part) throws Exception {
        return new DatasetQuery(dataset, List.of(new PartFile(part, PartStore.countRows(part))));
    }

    private static List<List<Object>> rows(DatasetDef dataset, Path part) throws Exception {
        var page = query(dataset, part).rows(0, 100, List.of(), List.of());
        List<Integer> own = new ArrayList<>();
        for (int i = 0; i < page.fields().size(); i++) {
            if (!page.fields().get(i).name().startsWith("_")) {
                own.add(i);
            }
        }
        return page.rows().stream().map(row -> values(row, own)).toList();
    }

    private static List<Object> values(List<?> row, List<Integer> own) {
        List<Object> values = new ArrayList<>();
        own.forEach(i -> values.add(row.get(i)));
        return values;
    }

    /** Reads a file as a job would, every row of which must fit, into another part. */
    private Path copy(DatasetDef dataset, Path file, String rules) throws Exception {
        JobDef job = TestJobs.job(dataset, "read: {" + rules + "}\n");
        Path copy = fresh("copy.parquet");
        try (RecordReader reader = Formats.open(
                        Contents.of(file), job.read(), Optional.empty(), Optional.empty(), Long.MAX_VALUE);
                PartWriter writer = new PartWriter(copy, dataset.columns(), ORIGIN)) {
            Header header = reader.header();
            Shaper shaper = new Shaper(dataset, job, Binding.of(dataset, job, header.names()), FileSays.NOTHING);
            RawBatch raw = RecordReader.batchFor(header);
            while (reader.next(raw)) {
                writer.write(shaper.shape(raw, 0, refused -> {
                    throw new AssertionError(refused.toString());
                }));
            }
            writer.finish();
        }
        return copy;
    }
}
