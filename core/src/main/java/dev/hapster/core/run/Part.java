package dev.hapster.core.run;

/**
 * The rows that one source file brought into the dataset.
 *
 * @param name the name under which the part store finds it
 * @param path absolute path of the source file
 * @param rows as counted when it was committed
 */
public record Part(String name, String dataset, String job, String path, long rows, long run) {
}
