package dev.hapster.core.read.record;

import java.util.List;

/**
 * The columns of a file, in its own words and order.
 *
 * @param names as they stand in the file, or as the job declares them
 * @param original the header's text, without its line end; empty where the job declares the names
 */
public record Header(List<String> names, String original) {
    public Header {
        names = List.copyOf(names);
    }
}
