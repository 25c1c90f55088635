package dev.hapster.core.arrival;

/**
 * One content of one source, as a run read it under one version of the rules. Arrivals are only ever added; what
 * becomes of them later (undone, removed, displaced) is told by what is added after them.
 *
 * @param id number of the arrival, see {@link #id}
 * @param entry the run or retry that read it
 * @param source identity of the file, sheet or entry within the job: place and path below the place's folder, never an
 *     absolute path
 * @param generation tells files of one name apart: where the job itself took a file away, the next one of that name is
 *     another file
 * @param place its place in the order; a content that is read again keeps the place that it had
 * @param base the arrival whose rejected rows these are, repaired; 0 for a whole file
 * @param accepted whether its rows were taken; otherwise the file was rejected whole
 * @param instead whether it takes the place of whatever the source brought before; otherwise only of the same content
 * @param copies whether it counts though another file has the same content
 * @param content hash of the content; empty where it could not be read
 * @param rule how its rows meet those of others
 * @param part name of the file with its rows; empty where there is none
 * @param rows rows in that file
 * @param deletes whether it also says that rows are to go
 * @param asCopy whether it was a copy when it was read, so that nothing was said of its rejected rows
 */
public record Arrival(
        long id,
        long entry,
        String job,
        String source,
        int generation,
        Order place,
        long base,
        boolean accepted,
        boolean instead,
        boolean copies,
        String content,
        RowRule rule,
        String part,
        long rows,
        boolean deletes,
        boolean asCopy) {

    private static final int MOST_FILES = 1 << 24;

    /** The number of an arrival: by the run that read it, and the file's number within that run. */
    public static long id(long entry, int ordinal) {
        if (ordinal < 0 || ordinal >= MOST_FILES) {
            throw new IllegalArgumentException("A run has at most " + MOST_FILES + " files");
        }
        return entry * MOST_FILES + ordinal;
    }

    /** Source and generation: what a later content of the same file takes the place of. */
    public String slot() {
        return slot(generation, source);
    }

    /** What only one accepted arrival can have at a time. */
    public static String slot(int generation, String source) {
        return generation + " " + source;
    }

    /** Whether it brings rows that an earlier arrival of the same file lacked. */
    public boolean isRepair() {
        return base != 0;
    }

    /** The same with its rows in a file. */
    public Arrival withPart(String file) {
        return copy(file, rows, deletes, asCopy);
    }

    /** The same as it was read: with so many rows, and whether there are any that say that others are to go. */
    public Arrival withRows(long count, boolean deletions) {
        return copy(part, count, deletions, asCopy);
    }

    /** The same, found to be a copy. */
    public Arrival markedAsCopy() {
        return copy(part, rows, deletes, true);
    }

    private Arrival copy(String file, long count, boolean deletions, boolean copy) {
        return new Arrival(
                id,
                entry,
                job,
                source,
                generation,
                place,
                base,
                accepted,
                instead,
                copies,
                content,
                rule,
                file,
                count,
                deletions,
                copy);
    }
}
