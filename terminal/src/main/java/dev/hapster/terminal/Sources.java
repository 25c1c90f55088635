package dev.hapster.terminal;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.HashSet;
import java.util.Set;

/**
 * What is counted where a job reads files: files, sheets of workbooks, entries of archives, or several of these.
 * Numbers count what the noun says.
 *
 * @param noun for one of them: {@code file}, {@code sheet}, {@code entry} or {@code source}
 * @param count how many there are
 * @param files how many files they are in
 */
public record Sources(String noun, long count, long files) {

    /** @param each a node for each of them, with its {@code path} */
    public static Sources of(Iterable<JsonNode> each) {
        Set<String> nouns = new HashSet<>();
        Set<String> files = new HashSet<>();
        long count = 0;
        for (JsonNode one : each) {
            String path = one.path("path").asText();
            int mark = path.lastIndexOf('!');
            nouns.add(mark < 0 ? "file" : path.startsWith("/", mark + 1) ? "entry" : "sheet");
            files.add(mark < 0 ? path : path.substring(0, path.indexOf('!')));
            count++;
        }
        return new Sources(
                nouns.size() > 1
                        ? "source"
                        : nouns.isEmpty() ? "file" : nouns.iterator().next(),
                count,
                files.size());
    }

    public boolean areFiles() {
        return noun.equals("file");
    }

    /** {@code 6 files}, or {@code 9 sheets of 2 files}. */
    public String words() {
        return Screen.count(count, noun) + (areFiles() ? "" : " of " + Screen.count(files, "file"));
    }
}
