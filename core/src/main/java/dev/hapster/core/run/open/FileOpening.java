package dev.hapster.core.run.open;

import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.read.Formats;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.read.text.Separators;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Opens files as their job declares it; the same for a check, a trial, a trace and a run. */
public final class FileOpening {

    /** Rows of a nested file that a check looks at to learn its columns. */
    public static final long MOST_LOOKED = 1_000;

    private FileOpening() {}

    /** @param most rows of a nested file that are looked at to learn its columns */
    public static RecordReader open(PreparedJob prepared, Candidate file, SourceContent content, long most)
            throws IOException, FileRejectedException {
        if (prepared.job().read().get(ReadSection.HEADER_ONCE)
                && prepared.shared().isEmpty()) {
            throw new FileRejectedException(Reasons.sharedHeaderMissing());
        }
        return Formats.open(content, prepared.job().read(), file.sheet(), prepared.shared(), most);
    }

    /** Binds a file's header, and looks whether its name suits. */
    public static Binding bind(PreparedJob prepared, Candidate file, Header header, RecordReader reader)
            throws IOException, FileRejectedException {
        Shaper.checkFacts(prepared.dataset(), prepared.job(), file.facts());
        Binding binding = Binding.of(prepared.dataset(), prepared.job(), header.names());
        if (!binding.missing().isEmpty()) {
            throw new FileRejectedException(missing(prepared, header, binding, reader));
        }
        if (!binding.extra().isEmpty()) {
            throw new FileRejectedException(Reasons.columnsExtra(binding.extra()));
        }
        return binding;
    }

    private static Reason missing(PreparedJob prepared, Header header, Binding binding, RecordReader reader)
            throws IOException {
        if (prepared.job().read().as() == Format.DELIMITED) {
            String declared = prepared.job().read().get(ReadSection.SEPARATOR);
            Optional<Character> better = Separators.better(
                    header.original(),
                    declared,
                    header.names(),
                    names -> Binding.fit(prepared.dataset(), prepared.job(), names));
            if (better.isPresent()) {
                return Reasons.separatorDiffers(declared, better.get().toString());
            }
        }
        return Reasons.columnsMissing(
                binding.missing(),
                header.names(),
                HeaderDiagnosis.cause(prepared.dataset(), prepared.job(), header, reader));
    }

    /** What is worth knowing of a binding and no fault. */
    public static List<String> notes(Binding binding) {
        List<String> notes = new ArrayList<>();
        if (!binding.unused().isEmpty()) {
            notes.add("not used: "
                    + String.join(
                            ", ", binding.unused().stream().map(Reasons::quote).toList()));
        }
        if (!binding.unfed().isEmpty()) {
            notes.add("left empty: " + String.join(", ", binding.unfed()));
        }
        return notes;
    }
}
