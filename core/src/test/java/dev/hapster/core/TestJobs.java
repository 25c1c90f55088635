package dev.hapster.core;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.RejectedRow;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.shape.FileSays;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.store.PartOrigin;
import dev.hapster.core.store.PartWriter;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;

/** Definitions for tests, from the few lines that matter. */
public final class TestJobs {

    private TestJobs() {}

    /** @param columns as in a dataset file, such as {@code {name: a, type: text}} */
    public static DatasetDef dataset(String... columns) throws DefinitionException {
        return Definitions.dataset(
                "datasets/samples.yaml",
                "dataset: samples\ncolumns:\n"
                        + String.join(
                                "",
                                List.of(columns).stream()
                                        .map(column -> "  - " + column + "\n")
                                        .toList()));
    }

    /** @param rest the sections behind {@code find}, as in a job file */
    public static JobDef job(DatasetDef dataset, String rest) throws DefinitionException {
        return Definitions.job(
                "jobs/north.yaml",
                "job: north\ninto: samples\nfind: [{folder: in, take: \"*.csv\"}]\n" + rest,
                name -> Optional.of(dataset),
                Set.of("samples"));
    }

    /** Shapes a whole text; gives each batch to {@code typed} and each refused row to {@code refused}. */
    public static void shape(
            DatasetDef dataset, JobDef job, String text, Consumer<TypedBatch> typed, Consumer<RejectedRow> refused)
            throws Exception {
        shape(dataset, job, text, true, typed, refused);
    }

    /** @param shared whether other cores may take a share of the work */
    public static void shape(
            DatasetDef dataset,
            JobDef job,
            String text,
            boolean shared,
            Consumer<TypedBatch> typed,
            Consumer<RejectedRow> refused)
            throws Exception {
        DelimitedReader reader =
                new DelimitedReader(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), job.read());
        Header header = reader.header();
        Shaper shaper = new Shaper(dataset, job, Binding.of(dataset, job, header.names()), FileSays.NOTHING);
        shaper.shareWhere(() -> shared);
        RawBatch raw = RecordReader.batchFor(header);
        while (reader.next(raw)) {
            typed.accept(shaper.shape(raw, 0, refused));
        }
    }

    /** Writes a whole text, of which every row must fit, as a part. */
    public static void part(Path target, DatasetDef dataset, PartOrigin origin, String text) throws Exception {
        try (PartWriter writer = written(target, dataset, origin, text)) {
            writer.finish();
        }
    }

    /** The same, not finished. */
    public static PartWriter written(Path target, DatasetDef dataset, PartOrigin origin, String text) throws Exception {
        PartWriter writer = new PartWriter(target, dataset.columns(), origin);
        writer.shareWhere(() -> true);
        shape(
                dataset,
                job(dataset, ""),
                text,
                batch -> {
                    try {
                        writer.write(batch);
                    } catch (IOException wrong) {
                        throw new UncheckedIOException(wrong);
                    }
                },
                refused -> {
                    throw new AssertionError(refused.toString());
                });
        return writer;
    }
}
