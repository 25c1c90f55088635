package dev.hapster.core.draft;

import dev.hapster.core.draft.reading.Evidence;
import java.util.List;

/**
 * A proposal: jobs and the datasets that they load into.
 *
 * @param jobs the job with most files first
 * @param datasets new ones, with their definitions
 * @param notTaken files that no job takes, and why
 * @param whole whether every row was read
 * @param looked how many rows of which files were read, as a sentence
 */
public record Draft(
        List<JobDraft> jobs, List<DatasetDraft> datasets, List<NotTaken> notTaken, boolean whole, String looked) {

    /**
     * A proposed job.
     *
     * @param name of the job
     * @param into the dataset that it loads into
     * @param folder where it looks, relative to the workspace where it lies below it
     * @param files how many files, sheets or entries it takes
     * @param names the first of them
     * @param head the first lines or rows of the first file, as they stand there
     * @param finding what the rules for files rest on
     * @param reading what the rules for reading rest on
     * @param columns all columns of the files, in their order
     * @param doubts what nothing decides, a sentence each
     * @param whole whether the definitions were tried on every row of all files
     * @param rows on which they were tried
     * @param rejected how many of them they reject
     * @param rejects which, and why; the first of each reason
     * @param text the definition
     */
    public record JobDraft(
            String name,
            String into,
            String folder,
            int files,
            List<String> names,
            List<String> head,
            List<Evidence> finding,
            List<Evidence> reading,
            List<ColumnDraft> columns,
            List<String> doubts,
            boolean whole,
            long rows,
            long rejected,
            List<String> rejects,
            String text) {}

    /**
     * A column of the files.
     *
     * @param name what it is called in the dataset; empty where it is left out
     * @param from what the files call it
     * @param type as a definition says it
     * @param mapping how its values come about, as a definition says it; empty where nothing need be said
     * @param required whether a row without a value is rejected
     * @param why what it rests on
     * @param doubts what nothing decides, a sentence each
     * @param samples some of its values
     * @param rows values that were read
     * @param empty how many of them are nothing
     */
    public record ColumnDraft(
            String name,
            List<String> from,
            String type,
            String mapping,
            boolean required,
            String why,
            List<String> doubts,
            List<String> samples,
            long rows,
            long empty) {}

    /**
     * A proposed dataset.
     *
     * @param name of the dataset
     * @param key its key; empty where none was found
     * @param keyWhy what the key rests on
     * @param text the definition
     */
    public record DatasetDraft(String name, List<String> key, String keyWhy, String text) {}

    /**
     * A file that no job takes.
     *
     * @param file as people call it
     * @param why as a sentence
     */
    public record NotTaken(String file, String why) {}
}
