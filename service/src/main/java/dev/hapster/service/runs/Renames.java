package dev.hapster.service.runs;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.act.ActNotPossibleException;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.workspace.Renaming;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.core.workspace.Workspace.Kind;
import dev.hapster.service.catalogue.Names;
import dev.hapster.service.catalogue.Names.Rename;
import dev.hapster.service.catalogue.StoredCatalogue;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/**
 * Gives jobs and datasets other names. Each renaming is noted first in {@code store/renamed.jsonl}, a line each; then
 * the files get the new name, then the catalogue. What was cut off is completed when the service starts, and before
 * anything else is done. The notes stay: a part says under which name its rows were loaded, and a catalogue that is put
 * together from parts, or is an older copy, learns from them what that name is now. For one caller at a time.
 */
@ApplicationScoped
public class Renames {

    private final Path file;
    private final Renaming files;
    private final Names names;
    private final StoredCatalogue records;
    private final ObjectMapper json;
    private final Clock clock;
    private boolean complete;

    Renames(
            Workspace workspace,
            PartStore parts,
            Names names,
            StoredCatalogue records,
            ObjectMapper json,
            Clock clock) {
        file = workspace.store().resolve("renamed.jsonl");
        files = new Renaming(workspace, parts);
        this.names = names;
        this.records = records;
        this.json = json;
        this.clock = clock;
    }

    /** A renaming was cut off, and cannot be completed or even read of. Nothing else is done before it is. */
    public static final class UnfinishedException extends IOException {
        UnfinishedException(String message, Throwable cause) {
            super(message, cause);
        }
    }

    /**
     * A line of the notes.
     *
     * @param done whether the files have the new name; a line that says so follows the one that does not
     */
    private record Note(Kind kind, String from, String to, long upTo, Instant at, boolean done) {
        Rename rename() {
            return new Rename(kind, from, to, upTo, at);
        }
    }

    /**
     * All that were ever noted, the earliest first. A last line that was cut off is none: nothing had been done yet.
     */
    public List<Rename> noted() throws IOException {
        return notes().stream().filter(note -> !note.done()).map(Note::rename).toList();
    }

    private List<Note> notes() throws IOException {
        if (!Files.exists(file)) {
            return List.of();
        }
        String text = Files.readString(file);
        List<Note> notes = new ArrayList<>();
        for (String line : text.substring(0, text.lastIndexOf('\n') + 1).lines().toList()) {
            try {
                notes.add(json.readValue(line, Note.class));
            } catch (JsonProcessingException wrong) {
                throw new UnfinishedException(
                        file + ":" + (notes.size() + 1)
                                + " does not say which job or dataset was renamed. Put the file back from a copy of "
                                + "the store",
                        wrong);
            }
        }
        return notes;
    }

    /** The name that a job or dataset has now of which rows were loaded by a run under another one. */
    static String now(List<Rename> noted, Kind kind, String name, long run) {
        String now = name;
        for (Rename rename : noted) {
            if (rename.kind() == kind && rename.from().equals(now) && run <= rename.upTo()) {
                now = rename.to();
            }
        }
        return now;
    }

    /** Completes what was cut off: files only of the last one, and the catalogue of all that it does not know of. */
    void complete() throws IOException {
        if (complete) {
            return;
        }
        List<Note> notes = notes();
        if (!notes.isEmpty() && !notes.get(notes.size() - 1).done()) {
            renameFiles(notes.get(notes.size() - 1).rename());
        }
        List<Rename> noted = noted();
        for (int made = names.made(); made < noted.size(); made++) {
            names.make(noted.get(made), made + 1);
        }
        complete = true;
    }

    private void renameFiles(Rename rename) throws IOException {
        try {
            files.perform(rename.kind(), rename.from(), rename.to());
        } catch (DefinitionException | UnknownNameException wrong) {
            throw new UnfinishedException(
                    "The " + rename.kind().word() + " " + rename.from() + " is not wholly renamed to " + rename.to()
                            + ": " + wrong.getMessage(),
                    wrong);
        }
        note(rename, true);
        CrashPoint.FILES_RENAMED.reached();
    }

    /** The datasets of which rows are concerned. */
    List<String> datasets(Kind kind, String name) {
        return kind == Kind.DATASET ? List.of(name) : names.datasetsOf(name);
    }

    /**
     * What was renamed.
     *
     * @param runs entries of the history that go on under the new name
     * @param files contents of files that do, whether or not their rows count
     */
    public record Renamed(String from, String name, long runs, long files) {}

    /**
     * Gives a job or dataset another name. Where somebody has given its file the new name already, the rest follows.
     *
     * @throws ActNotPossibleException where another one of the new name has loaded rows
     */
    Renamed rename(Kind kind, String from, String to)
            throws IOException, DefinitionException, UnknownNameException, ActNotPossibleException {
        complete();
        boolean byHand = files.check(kind, from, to, names.arrivals(kind, from) + names.runs(kind, from) > 0);
        if (from.equals(to)) {
            return new Renamed(from, to, names.runs(kind, to), names.arrivals(kind, to));
        }
        long taken = names.arrivals(kind, to);
        if (taken > 0) {
            throw new ActNotPossibleException(
                    from + " cannot be called " + to,
                    List.of("the history knows " + Reasons.grouped(taken) + (taken == 1 ? " file" : " files")
                            + (kind == Kind.JOB
                                    ? " that a job of that name loaded or rejected"
                                    : " of a dataset of that name")
                            + ". Choose another name"));
        }
        List<Rename> noted = noted();
        Rename rename = new Rename(kind, from, to, records.lastRun(), clock.instant());
        long before = note(rename, false);
        try {
            CrashPoint.RENAME_NOTED.reached();
            complete = false;
            renameFiles(rename);
            names.make(rename, noted.size() + 1);
            complete = true;
        } catch (IOException failed) {
            if (isUntouched(kind, from, to, byHand)) {
                withdraw(before);
                complete = true;
            }
            throw failed;
        }
        return new Renamed(from, to, names.runs(kind, to), names.arrivals(kind, to));
    }

    /** Whether a renaming that failed has changed nothing. */
    private boolean isUntouched(Kind kind, String from, String to, boolean byHand) {
        try {
            return !byHand && !files.check(kind, from, to, false);
        } catch (IOException | DefinitionException | UnknownNameException begun) {
            return false;
        }
    }

    /** @return how long the notes were before */
    private long note(Rename rename, boolean done) throws IOException {
        boolean first = !Files.exists(file);
        Note note = new Note(rename.kind(), rename.from(), rename.to(), rename.upTo(), rename.at(), done);
        try (FileChannel channel =
                FileChannel.open(file, StandardOpenOption.CREATE, StandardOpenOption.READ, StandardOpenOption.WRITE)) {
            long whole = whole(channel);
            ByteBuffer line = StandardCharsets.UTF_8.encode(json.writeValueAsString(note) + "\n");
            try {
                channel.truncate(whole).position(whole);
                while (line.hasRemaining()) {
                    channel.write(line);
                }
                channel.force(true);
            } catch (IOException full) {
                channel.truncate(whole);
                throw full;
            }
            if (first) {
                PartStore.force(file.getParent());
            }
            return whole;
        }
    }

    /** How long the notes are without a last line that was cut off. */
    private static long whole(FileChannel channel) throws IOException {
        ByteBuffer last = ByteBuffer.allocate(1);
        for (long end = channel.size(); end > 0; end--) {
            channel.read(last.clear(), end - 1);
            if (last.get(0) == '\n') {
                return end;
            }
        }
        return 0;
    }

    private void withdraw(long before) throws IOException {
        try (FileChannel channel = FileChannel.open(file, StandardOpenOption.WRITE)) {
            channel.truncate(before).force(true);
        }
    }
}
