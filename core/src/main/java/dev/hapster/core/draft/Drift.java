package dev.hapster.core.draft;

import java.util.List;

/**
 * How the files that a job takes now differ from its definitions.
 *
 * @param job its name
 * @param into the dataset that it loads into
 * @param files how many files were looked at
 * @param rows how many rows
 * @param differences what differs, with what could be changed; empty where all fits
 */
public record Drift(String job, String into, int files, long rows, List<Difference> differences) {

    /**
     * Something that differs.
     *
     * @param column the dataset's column, or the column of the files where none is fed by it; empty for whole files
     * @param found what the files have, with a witness
     * @param proposal what could be changed; empty where only people know
     */
    public record Difference(String column, String found, String proposal) {}
}
