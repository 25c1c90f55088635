package dev.hapster.core.run;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.read.Formats;
import dev.hapster.core.read.Header;
import dev.hapster.core.read.RecordReader;
import dev.hapster.core.reason.FileRefusedException;
import dev.hapster.core.shape.Binding;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** The header that one of a job's files has for all of them: the first line of the first file that holds every name the job needs. */
final class SharedHeader {

    private SharedHeader() {
    }

    /** @return empty where no file has it, or where the job does not say {@code header: once} */
    static Optional<Header> find(JobDef job, DatasetDef dataset, List<Candidate> files, Path scratch) {
        if (!job.read().headerOnce()) {
            return Optional.empty();
        }
        for (Candidate file : files) {
            if (file.waiting().isEmpty() || file.waiting().get().young()) {
                try (SourceContent content = new SourceContent(file, scratch);
                        RecordReader reader = Formats.open(content, job.read(), file.sheet(), Optional.empty(), 1)) {
                    Header header = reader.header();
                    if (Binding.of(dataset, job, header.names()).missing().isEmpty()) {
                        return Optional.of(header);
                    }
                } catch (IOException | FileRefusedException notThis) {
                    continue; // whoever loads the file will meet the same, and say so
                }
            }
        }
        return Optional.empty();
    }
}
