package dev.hapster.core.catalogue;

import dev.hapster.core.find.Candidate;
import dev.hapster.core.reason.Reason;
import java.util.List;
import java.util.Optional;

/**
 * What became of one file in a run.
 *
 * @param ordinal number of the file within the run, counted from 1
 * @param place which place of the job it was found in, counted from 1
 * @param source identity of the file within the job
 * @param path absolute path, with the place inside the file where it has one
 * @param file absolute path of the file itself, when it was first dealt with
 * @param read rows read; 0 where the file was not read or not wholly
 * @param loaded rows now in the dataset through this run
 * @param aside rows set aside by the job's own rules
 * @param repeated rows left out since they are there already
 * @param rejected rows rejected
 * @param reason why the whole file was rejected or is waiting
 * @param sinceRun for an unchanged file the run that loaded it, for one rejected again unread the run that found its
 *     reason; 0 otherwise
 * @param groups rejected rows by reason
 * @param fingerprint as the file looked, with its hash where it was read
 * @param header the file's columns, where rows of it were rejected or left out
 * @param notes what is worth knowing and no fault, such as columns that are not mapped
 * @param afterwards what becomes of the file; empty where it stays
 * @param millis how long it took
 */
public record FileResult(
        int ordinal,
        int place,
        String source,
        String path,
        String file,
        String name,
        Outcome outcome,
        long read,
        long loaded,
        long aside,
        long repeated,
        long rejected,
        Optional<Reason> reason,
        long sinceRun,
        List<ReasonGroup> groups,
        Fingerprint fingerprint,
        List<String> header,
        List<String> notes,
        Optional<Afterwards> afterwards,
        long millis) {

    public FileResult {
        groups = List.copyOf(groups);
        header = List.copyOf(header);
        notes = List.copyOf(notes);
    }

    /** Identity within the job of the file itself, where a sheet of it or an entry is meant. */
    public String identity() {
        return source.substring(0, source.length() - (path.length() - file.length()));
    }

    /**
     * A file of which nothing was counted.
     *
     * @param name by which people tell it from the job's other files
     */
    public static FileResult uncounted(
            int ordinal,
            Candidate file,
            String source,
            String name,
            Outcome outcome,
            Optional<Reason> reason,
            long sinceRun,
            Fingerprint seen,
            List<String> notes,
            long millis) {
        return new FileResult(
                ordinal,
                file.place(),
                source,
                file.key(),
                file.file().toString(),
                name,
                outcome,
                0,
                0,
                0,
                0,
                0,
                reason,
                sinceRun,
                List.of(),
                seen,
                List.of(),
                notes,
                Optional.empty(),
                millis);
    }

    /** The same as rejected whole; the rows that were read are none of the dataset's. */
    public FileResult rejected(Reason why, long since) {
        return new FileResult(
                ordinal,
                place,
                source,
                path,
                file,
                name,
                Outcome.REJECTED,
                0,
                0,
                0,
                0,
                0,
                Optional.of(why),
                since,
                List.of(),
                fingerprint,
                List.of(),
                List.of(),
                afterwards,
                millis);
    }

    FileResult as(Outcome other, long since) {
        return new FileResult(
                ordinal,
                place,
                source,
                path,
                file,
                name,
                other,
                read,
                loaded,
                aside,
                repeated,
                rejected,
                Optional.empty(),
                since,
                groups,
                fingerprint,
                header,
                notes,
                afterwards,
                millis);
    }

    public FileResult doing(Optional<Afterwards> what) {
        return new FileResult(
                ordinal,
                place,
                source,
                path,
                file,
                name,
                outcome,
                read,
                loaded,
                aside,
                repeated,
                rejected,
                reason,
                sinceRun,
                groups,
                fingerprint,
                header,
                notes,
                what,
                millis);
    }
}
