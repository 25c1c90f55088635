package dev.hapster.core.find;

import dev.hapster.core.pattern.Fact;
import dev.hapster.core.pattern.NamePattern;
import java.nio.file.Path;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * A file that was seen, or what lies in it: an entry of an archive, a sheet of a workbook; and what became of it.
 *
 * @param place which place of the job, counted from 1
 * @param path absolute path of the file, as reached through the place's folder
 * @param relative path below the place's folder, with {@code /} between its pieces; behind it {@code !/} and the path
 *     in the archive, and {@code !} and the name of the sheet
 * @param size bytes of the file; of an entry its own, unpacked
 * @param modified when its content was last written, as the file system tells
 * @param birth when it came into being there
 * @param taken whether the job takes it
 * @param rule the rule that took or skipped it, in the words of the job file
 * @param nearly whether a pattern nearly takes it that does not: {@code rule} says what differs
 * @param named the pattern that took it, where its pieces say something
 * @param waiting why a file that is taken is not complete yet
 * @param entry path in the archive; empty where the file is meant
 * @param sheet name of the sheet; empty where the whole is meant
 * @param titled the pattern that took the sheet, where its pieces say something
 * @param former where the file lay when it was first dealt with, if it lies elsewhere now
 */
public record Candidate(
        int place,
        Path path,
        String relative,
        long size,
        Instant modified,
        BirthTime birth,
        boolean taken,
        String rule,
        boolean nearly,
        Optional<Named> named,
        Optional<Waiting> waiting,
        Optional<String> entry,
        Optional<String> sheet,
        Optional<Named> titled,
        Optional<Path> former) {

    /** The end of the names of files in which reasons stand beside a file that was rejected; they are never taken. */
    public static final String REASONS = ".reasons.csv";

    /** A path that a pattern with pieces matches: the file's, or the one that it will have once it is complete. */
    record Named(NamePattern pattern, String path) {}

    /**
     * Why a file is not complete: {@code young} files may be so in a moment, others need somebody else to finish them.
     */
    public record Waiting(boolean young, String sentence) {}

    /** When it came into being; empty where the file system does not tell. The first question asks the system. */
    public Optional<Instant> created() {
        return birth.get();
    }

    /** What the pieces of its name say, by the name of the piece. */
    public Map<String, Fact> facts() {
        Map<String, Fact> facts = new LinkedHashMap<>();
        named.ifPresent(match -> facts.putAll(match.pattern.says(match.path).orElseThrow()));
        titled.ifPresent(match -> facts.putAll(match.pattern.says(match.path).orElseThrow()));
        return facts;
    }

    /** Its name, with the place inside the file where it has one, such as {@code harbour.xlsx!Mar}. */
    public String name() {
        return file().getFileName() + inside();
    }

    /** By what it is known: its path, with the place inside the file where it has one. */
    public String key() {
        return file() + inside();
    }

    /** Where it lies now; files that were known by one path one after the other, and were taken away, differ in it. */
    public String lying() {
        return path + inside();
    }

    /** The path by which the file itself is known. */
    public Path file() {
        return former.orElse(path);
    }

    private String inside() {
        return entry.map(name -> NamePattern.INSIDE + name).orElse("")
                + sheet.map(name -> "!" + name).orElse("");
    }

    /** The same, as if it were complete: for a look at what is there now. */
    public Candidate complete() {
        return new Candidate(
                place,
                path,
                relative,
                size,
                modified,
                birth,
                taken,
                rule,
                nearly,
                named,
                Optional.empty(),
                entry,
                sheet,
                titled,
                former);
    }

    /** One of its sheets. */
    Candidate sheet(String name, boolean take, String why, Optional<Named> title) {
        return new Candidate(
                place,
                path,
                relative + "!" + name,
                size,
                modified,
                birth,
                take,
                why,
                false,
                named,
                take ? waiting : Optional.empty(),
                entry,
                Optional.of(name),
                title,
                former);
    }
}
