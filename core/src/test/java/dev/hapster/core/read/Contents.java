package dev.hapster.core.read;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.read.record.ReadAhead;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.SeekableByteChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Reads whole files for tests. */
final class Contents {

    private Contents() {}

    /** What a file gave: a text a cell, with {@code null} for nothing; and marks as {@code row:field:sentence}. */
    record All(
            List<String> names,
            List<List<String>> rows,
            List<Long> lines,
            List<String> marks,
            List<String> originals,
            List<String> notes) {}

    static Content of(Path file) {
        return new Content() {
            @Override
            public String name() {
                return file.getFileName().toString();
            }

            @Override
            public InputStream stream() throws IOException {
                return Unpacked.of(new BufferedInputStream(Files.newInputStream(file)));
            }

            @Override
            public SeekableByteChannel seekable() throws IOException {
                return Files.newByteChannel(file);
            }
        };
    }

    /** @param read as in a job file */
    static Read rules(String read) throws Exception {
        DatasetDef dataset = TestJobs.dataset("{name: a, type: text}");
        return TestJobs.job(dataset, "read: {" + read + "}\n").read();
    }

    static All read(Path file, String rules) throws Exception {
        return read(file, rules(rules), null);
    }

    static All read(Path file, Read rules, String sheet) throws IOException, FileRejectedException {
        int[] asked = new int[1]; // now and then another core has nothing to do
        try (RecordReader reader = new ReadAhead(
                Formats.open(of(file), rules, Optional.ofNullable(sheet), Optional.empty(), Long.MAX_VALUE),
                () -> asked[0]++ % 3 > 0)) {
            All all = new All(
                    reader.header().names(),
                    new ArrayList<>(),
                    new ArrayList<>(),
                    new ArrayList<>(),
                    new ArrayList<>(),
                    new ArrayList<>());
            RawBatch batch = new RawBatch(Math.max(1, all.names.size()), 7);
            while (reader.next(batch)) {
                batch.marks.forEach(mark -> all.marks.add(all.rows.size() + mark.row() + ":" + mark.field() + ":"
                        + mark.reason().sentence()));
                for (int row = 0; row < batch.rows; row++) {
                    List<String> cells = new ArrayList<>();
                    for (int field = 0; field < Math.min(batch.width, batch.fields[row]); field++) {
                        boolean nothing =
                                batch.kinds != null && batch.kinds[row * batch.width + field] == RawBatch.NOTHING;
                        cells.add(nothing ? null : batch.text(row, field));
                    }
                    all.rows.add(cells);
                    all.lines.add(batch.line[row]);
                    all.originals.add(batch.original(row));
                }
            }
            all.notes.addAll(reader.notes());
            return all;
        }
    }
}
