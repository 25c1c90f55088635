package dev.hapster.service.runs;

/**
 * Other rows may count in a dataset. Whoever observes it must neither throw nor take long.
 *
 * @param entry number of the entry of the history by which that came
 */
public record DatasetChanged(String dataset, long entry) {}
