package dev.hapster.core.run.open;

import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.pattern.Fact;
import dev.hapster.core.read.Encodings;
import dev.hapster.core.read.FactsBeside;
import dev.hapster.core.read.Formats;
import dev.hapster.core.read.record.Bookmark;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.read.text.Separators;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.shape.Bindings;
import dev.hapster.core.shape.FileSays;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/** Opens files as their job declares it; the same for a check, a trial, a trace and a run. */
public final class FileOpening {

    /** Rows of a nested file that a check looks at to learn its columns. */
    public static final long MOST_LOOKED = 1_000;

    private FileOpening() {}

    /** @param most rows of a nested file that are looked at to learn its columns */
    public static RecordReader open(PreparedJob prepared, Candidate file, SourceContent content, long most)
            throws IOException, FileRejectedException {
        List<String> choices = new ArrayList<>();
        Read one = chosen(prepared, file, content, choices);
        Map<String, Fact> facts = FactsBeside.of(content, one, file.sheet());
        RecordReader reader =
                Formats.open(content, one, file.sheet(), prepared.shared(), most, members(prepared.job()));
        return choices.isEmpty() && facts.isEmpty() ? reader : new Opened(reader, choices, facts);
    }

    /** Opens a file that was opened before, at a place that its reader named. */
    public static RecordReader reopen(
            PreparedJob prepared, Candidate file, SourceContent content, Bookmark place, Header header)
            throws IOException, FileRejectedException {
        Read rules = chosen(prepared, file, content, new ArrayList<>());
        return Formats.from(place, content.stream(place.at()), rules, header);
    }

    /** The rules for this file, where the job allows several ways. */
    private static Read chosen(PreparedJob prepared, Candidate file, SourceContent content, List<String> choices)
            throws IOException, FileRejectedException {
        Read rules = prepared.job().read();
        if (rules.get(ReadSection.HEADER_ONCE) && prepared.shared().isEmpty()) {
            throw new FileRejectedException(Reasons.sharedHeaderMissing());
        }
        Read one = rules;
        if (rules.get(ReadSection.ENCODING).size() > 1) {
            one = Encodings.chosen(content, one);
            choices.add("read as " + one.encoding().name());
        }
        if (rules.as() == Format.DELIMITED && rules.get(ReadSection.SEPARATOR).size() > 1) {
            Optional<Read> separated = separated(prepared, file, content, one);
            separated.ifPresent(fits -> choices.add("separated by " + Reasons.separator(fits.separator())));
            one = separated.orElse(one); // to say what is wrong with it
        }
        return one;
    }

    private static Optional<Read> separated(PreparedJob prepared, Candidate file, SourceContent content, Read rules)
            throws IOException {
        for (String separator : rules.get(ReadSection.SEPARATOR)) {
            Read one = rules.with(ReadSection.SEPARATOR, List.of(separator));
            if (fits(prepared, file, content, one)) {
                return Optional.of(one);
            }
        }
        return Optional.empty();
    }

    /** Single members of arrays that are columns. */
    private static List<String> members(JobDef job) {
        return job.read().as() != Format.JSON && job.read().as() != Format.JSON_LINES
                ? List.of()
                : Stream.concat(
                                Binding.asked(job).stream(),
                                job.map().values().stream()
                                        .filter(Mapping.Source.class::isInstance)
                                        .flatMap(mapping -> ((Mapping.Source) mapping).from().stream()))
                        .filter(name -> name.matches(".*\\[\\d+].*"))
                        .toList();
    }

    /** Whether a header, read in one of several ways, has the columns that the job needs. */
    private static boolean fits(PreparedJob prepared, Candidate file, SourceContent content, Read one)
            throws IOException {
        try (RecordReader reader = Formats.open(content, one, file.sheet(), prepared.shared(), MOST_LOOKED)) {
            Binding binding = Binding.of(
                    prepared.dataset(), prepared.job(), reader.header().names());
            return binding.missing().isEmpty() && binding.isFed();
        } catch (FileRejectedException otherwise) {
            return false;
        }
    }

    /** A reader in one of several ways that the job allows, with what stands beside its table. */
    private record Opened(RecordReader reader, List<String> choices, Map<String, Fact> facts) implements RecordReader {
        @Override
        public Header header() throws IOException, FileRejectedException {
            return reader.header();
        }

        @Override
        public boolean next(RawBatch batch) throws IOException, FileRejectedException {
            return reader.next(batch);
        }

        @Override
        public Optional<Bookmark> bookmark() {
            return reader.bookmark();
        }

        @Override
        public boolean readsAhead() {
            return reader.readsAhead();
        }

        @Override
        public long records() {
            return reader.records();
        }

        @Override
        public List<String> notes() {
            List<String> notes = new ArrayList<>(choices());
            notes.addAll(reader.notes());
            return notes;
        }

        @Override
        public void close() throws IOException {
            reader.close();
        }
    }

    /** What is the same in all rows of a file that is open. */
    public static FileSays says(Candidate file, RecordReader reader) {
        Map<String, Fact> facts = new HashMap<>(file.facts());
        facts.putAll(reader.facts());
        return new FileSays(file.name(), file.key(), file.size(), facts);
    }

    /** Binds a file's header, if nothing is wrong with it; {@link #bind} says what is. */
    public static Optional<Binding> fits(PreparedJob prepared, FileSays says, Header header)
            throws FileRejectedException {
        Shaper.checkFacts(prepared.dataset(), prepared.job(), says.facts());
        Binding binding = Binding.of(prepared.dataset(), prepared.job(), header.names());
        return binding.missing().isEmpty() && binding.isFed() && binding.extra().isEmpty()
                ? Optional.of(binding)
                : Optional.empty();
    }

    /** Binds a file's header, and looks whether what the file says of itself suits. */
    public static Binding bind(PreparedJob prepared, Candidate file, Header header, RecordReader reader)
            throws IOException, FileRejectedException {
        return bind(prepared, new Bindings(prepared.dataset(), prepared.job()), file, header, reader);
    }

    /** The same where many files of the job are bound, with what they have in common. */
    public static Binding bind(
            PreparedJob prepared, Bindings bindings, Candidate file, Header header, RecordReader reader)
            throws IOException, FileRejectedException {
        Shaper.checkFacts(prepared.dataset(), prepared.job(), says(file, reader).facts());
        Binding binding = bindings.of(header.names());
        if (!binding.missing().isEmpty()) {
            throw new FileRejectedException(missing(prepared, header, binding, reader));
        }
        if (!binding.isFed()) {
            Optional<Reason> wrong = separator(prepared, header);
            if (wrong.isPresent()) {
                throw new FileRejectedException(wrong.get());
            }
        }
        if (!binding.extra().isEmpty()) {
            throw new FileRejectedException(Reasons.columnsExtra(binding.extra()));
        }
        return binding;
    }

    private static Reason missing(PreparedJob prepared, Header header, Binding binding, RecordReader reader)
            throws IOException {
        Optional<Reason> wrong = separator(prepared, header);
        if (wrong.isPresent()) {
            return wrong.get();
        }
        return Reasons.columnsMissing(
                binding.missing(),
                header.names(),
                HeaderDiagnosis.cause(prepared.dataset(), prepared.job(), header, reader));
    }

    /** A separator that would give more of the columns that the job looks for than the declared ones. */
    public static Optional<String> betterSeparator(PreparedJob prepared, Header header) {
        Read rules = prepared.job().read();
        return rules.as() != Format.DELIMITED
                ? Optional.empty()
                : Separators.better(
                                header.original(),
                                rules.get(ReadSection.SEPARATOR),
                                header.names(),
                                names -> Binding.fit(prepared.dataset(), prepared.job(), names))
                        .map(String::valueOf);
    }

    private static Optional<Reason> separator(PreparedJob prepared, Header header) {
        return betterSeparator(prepared, header)
                .map(better -> Reasons.separatorDiffers(prepared.job().read().get(ReadSection.SEPARATOR), better));
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
