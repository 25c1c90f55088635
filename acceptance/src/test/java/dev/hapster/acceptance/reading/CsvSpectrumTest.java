package dev.hapster.acceptance.reading;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.row.RawBatch;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;

/**
 * The files of the npm package csv-spectrum, with what each must read as. They come with the console's packages, which
 * are built before.
 */
class CsvSpectrumTest {

    private static final Path SUITE = Path.of("../console/node_modules/csv-spectrum");
    /** The package's JSON for location_coordinates has another telephone number than its CSV. */
    private static final Map<String, String> SLIPS = Map.of("2095257564", "1234567890");

    @TestFactory
    Stream<DynamicTest> everyFileReadsAsTheSuiteDemands() throws Exception {
        List<Path> files;
        try (Stream<Path> found = Files.list(SUITE.resolve("csvs"))) {
            files = found.sorted().toList();
        }
        assertThat(files).hasSize(12);
        return files.stream()
                .map(file -> DynamicTest.dynamicTest(file.getFileName().toString(), () -> {
                    JsonNode json = new ObjectMapper()
                            .readTree(SUITE.resolve("json")
                                    .resolve(file.getFileName().toString().replace(".csv", ".json"))
                                    .toFile());
                    List<Map<String, String>> expected = new ArrayList<>();
                    (json.isArray()
                                    ? json
                                    : new ObjectMapper().createArrayNode().add(json))
                            .forEach(row -> {
                                Map<String, String> fields = new LinkedHashMap<>();
                                row.properties()
                                        .forEach(field -> fields.put(
                                                field.getKey(), field.getValue().asText()));
                                expected.add(fields);
                            });
                    assertThat(rows(file)).isEqualTo(expected);
                }));
    }

    private static List<Map<String, String>> rows(Path file) throws Exception {
        try (InputStream in = Files.newInputStream(file)) {
            DelimitedReader reader = new DelimitedReader(in, Read.USUAL);
            Header header = reader.header();
            RawBatch batch = RecordReader.batchFor(header);
            List<Map<String, String>> rows = new ArrayList<>();
            while (reader.next(batch)) {
                for (int row = 0; row < batch.rows; row++) {
                    assertThat(batch.fields[row]).isEqualTo(header.names().size());
                    Map<String, String> fields = new LinkedHashMap<>();
                    for (int i = 0; i < batch.width; i++) {
                        fields.put(header.names().get(i), SLIPS.getOrDefault(batch.text(row, i), batch.text(row, i)));
                    }
                    rows.add(fields);
                }
            }
            return rows;
        }
    }
}
