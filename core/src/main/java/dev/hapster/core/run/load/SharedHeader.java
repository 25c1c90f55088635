package dev.hapster.core.run.load;

import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.read.Formats;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.open.SourceContent;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The header that one of a job's files has for all of them: the first line of the first file that holds every name the
 * job needs. It is remembered, so that the others can still be read once that file has left the folder.
 */
public final class SharedHeader {

    private static final String MARK = "\n";

    private SharedHeader() {}

    /**
     * @param opener opens the files
     * @return empty where no file has it and none had, or where the job does not say {@code header: once}
     */
    public static Optional<Header> find(
            JobDef job, DatasetDef dataset, List<Candidate> files, Catalogue catalogue, Opener opener) {
        if (!job.read().get(ReadSection.HEADER_ONCE)) {
            return Optional.empty();
        }
        Optional<Header> found = among(job, dataset, files, opener);
        Optional<Header> kept = catalogue.sharedHeader(job.name()).map(SharedHeader::parse);
        return found.or(() -> kept.filter(header -> suits(job, dataset, header)));
    }

    private static Optional<Header> among(JobDef job, DatasetDef dataset, List<Candidate> files, Opener opener) {
        for (Candidate file : files) {
            if (file.waiting().isEmpty() || file.waiting().get().young()) {
                try (SourceContent content = opener.content(file);
                        RecordReader reader = Formats.open(content, job.read(), file.sheet(), Optional.empty(), 1)) {
                    Header header = reader.header();
                    if (suits(job, dataset, header)) {
                        return Optional.of(header);
                    }
                } catch (IOException | FileRejectedException notThis) {
                    continue; // whoever loads the file will meet the same, and say so
                }
            }
        }
        return Optional.empty();
    }

    private static boolean suits(JobDef job, DatasetDef dataset, Header header) {
        try {
            return Binding.of(dataset, job, header.names()).missing().isEmpty();
        } catch (FileRejectedException ambiguous) {
            return false;
        }
    }

    /** Remembers the header by which a run reads. */
    public static void remember(PreparedJob prepared, Catalogue catalogue) {
        prepared.shared()
                .map(SharedHeader::text)
                .filter(text -> !catalogue.sharedHeader(prepared.job().name()).equals(Optional.of(text)))
                .ifPresent(text -> catalogue.sharedHeader(prepared.job().name(), text));
    }

    private static String text(Header header) {
        List<String> pieces = new ArrayList<>(List.of(header.original()));
        pieces.addAll(header.names());
        return String.join(
                MARK,
                pieces.stream()
                        .map(piece -> piece.replace("\\", "\\\\").replace("\n", "\\n"))
                        .toList());
    }

    private static Header parse(String text) {
        List<String> pieces = new ArrayList<>();
        for (String piece : text.split(MARK, -1)) {
            pieces.add(piece.replaceAll("(?<!\\\\)((?:\\\\\\\\)*)\\\\n", "$1\n").replace("\\\\", "\\"));
        }
        return new Header(pieces.subList(1, pieces.size()), pieces.get(0));
    }
}
