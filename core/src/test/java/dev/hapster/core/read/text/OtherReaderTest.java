package dev.hapster.core.read.text;

import static org.assertj.core.api.Assertions.assertThat;

import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;

/**
 * Delimited text compared with another reader, FastCSV. Where its strict mode takes a text, both give the same records.
 * Where only its relaxed mode does (text behind a closing quote), we mark the record in which that happens, and give
 * the same ones before it.
 */
@SuppressWarnings({"deprecation", "removal"}) // the other reader is asked for what ours does
class OtherReaderTest {

    private static final Read RULES =
            Read.USUAL.with(ReadSection.NAMES, List.of("a", "b", "c", "d", "e", "f", "g", "h"));

    @Provide
    Arbitrary<String> texts() {
        Arbitrary<String> piece = Arbitraries.frequencyOf(
                net.jqwik.api.Tuple.of(6, Arbitraries.of("a", "bc", "1.5", " ", "\u00fc", "\ud83d\udca7")),
                net.jqwik.api.Tuple.of(5, Arbitraries.of(",", ",", "\n", "\r\n")),
                net.jqwik.api.Tuple.of(3, Arbitraries.of("\"", "\"\"", "\"x,y\"", "\"l\nm\"", "\"\"\"q\"\"\"")));
        return piece.list().ofMaxSize(30).map(pieces -> String.join("", pieces));
    }

    private record Ours(List<List<String>> records, List<Long> lines, int firstMarked) {
        boolean anyMarked() {
            return firstMarked >= 0;
        }
    }

    private static Optional<Ours> ours(String text) throws Exception {
        Ours all = new Ours(new ArrayList<>(), new ArrayList<>(), -1);
        int marked = -1;
        try {
            DelimitedReader reader =
                    new DelimitedReader(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), RULES);
            reader.header();
            RawBatch batch = new RawBatch(40, 5);
            while (reader.next(batch)) {
                for (int row = 0; row < batch.rows; row++) {
                    List<String> fields = new ArrayList<>();
                    for (int field = 0; field < batch.fields[row]; field++) {
                        fields.add(batch.text(row, field));
                    }
                    marked = marked < 0 && batch.misquoted[row] ? all.records.size() : marked;
                    all.records.add(fields);
                    all.lines.add(batch.line[row]);
                }
            }
        } catch (FileRejectedException refused) {
            return Optional.empty();
        }
        return Optional.of(new Ours(all.records, all.lines, marked));
    }

    private static Optional<Ours> theirs(String text, boolean relaxed) {
        Ours all = new Ours(new ArrayList<>(), new ArrayList<>(), -1);
        try (CsvReader<CsvRecord> reader = CsvReader.builder()
                .allowExtraCharsAfterClosingQuote(relaxed)
                .allowExtraFields(true)
                .allowMissingFields(true)
                .skipEmptyLines(true)
                .ofCsvRecord(text)) {
            reader.forEach(one -> {
                all.records.add(one.getFields());
                all.lines.add(one.getStartingLineNumber());
            });
            return Optional.of(all);
        } catch (CsvParseException refused) {
            return Optional.empty();
        } catch (java.io.IOException impossible) {
            throw new java.io.UncheckedIOException(impossible);
        }
    }

    @Property(tries = 3000)
    void bothReadTheSame(@ForAll("texts") String text) throws Exception {
        Optional<Ours> strict = theirs(text, false);
        Optional<Ours> relaxed = theirs(text, true);
        Optional<Ours> ours = ours(text);
        boolean open = text.chars().filter(c -> c == '"').count() % 2
                == 1; // the other reader ends a quote that is open with the file
        if (ours.isEmpty()) {
            assertThat(text.isEmpty() || text.indexOf('"') >= 0)
                    .as("refused: " + text)
                    .isTrue();
            return;
        }
        if (strict.isPresent() && !ours.get().anyMarked() && !open) {
            assertThat(ours.get().records).isEqualTo(strict.get().records);
            assertThat(ours.get().lines).isEqualTo(strict.get().lines);
        } else if (relaxed.isPresent() && !open) {
            assertThat(ours.get().anyMarked()).isTrue();
            int same = ours.get().firstMarked;
            assertThat(ours.get().records.subList(0, same))
                    .isEqualTo(relaxed.get().records.subList(0, same));
            assertThat(ours.get().lines.subList(0, same))
                    .isEqualTo(relaxed.get().lines.subList(0, same));
        }
    }
}
