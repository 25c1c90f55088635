package dev.hapster.core.definition.edit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.definition.edit.JobEdit.Change;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

class JobEditTest {

    private static final String JOB =
            """
            # The north.  🜁
            job: north
            into: samples

            find:
              # what arrives
              - folder: ${inbox}/north   # by mail
                take: ["samples-*.csv"]  # a list a month
                skip:
                  - "*copy*"     # somebody's copies
                  - readme.txt
              - {folder: old, take: "*"}

            # How it is written.
            read: {separator:   ";"}
            """;

    private static Change set(int place, String key, Object value) {
        return new Change("set", place, key, value, 0);
    }

    private static Change remove(int place, String key) {
        return new Change("remove", place, key, null, 0);
    }

    /** The lines that differ from {@link #JOB}, as - and +. */
    private static List<String> difference(Change... changes) {
        List<String> before = JOB.lines().toList();
        List<String> after = JobEdit.apply(JOB, List.of(changes)).lines().toList();
        List<String> lines = new ArrayList<>();
        before.stream().filter(line -> !after.contains(line)).forEach(line -> lines.add("-" + line));
        after.stream().filter(line -> !before.contains(line)).forEach(line -> lines.add("+" + line));
        return lines;
    }

    @Test
    void whatIsNotChangedStaysCharacterForCharacter() {
        assertThat(difference(set(1, "take", List.of("samples-*.csv")), set(2, "take", "*")))
                .isEmpty();
        assertThat(difference(set(1, "take", List.of("a\"b\\*.csv", Map.of("regex", "x+")))))
                .containsExactly(
                        "-    take: [\"samples-*.csv\"]  # a list a month",
                        "+    take: [\"a\\\"b\\\\*.csv\", {regex: \"x+\"}]  # a list a month");
        assertThat(difference(set(1, "folder", "${inbox}/south")))
                .containsExactly("-  - folder: ${inbox}/north   # by mail", "+  - folder: ${inbox}/south   # by mail");
        assertThat(difference(set(1, "skip", List.of("*copy*", "*.bak"))))
                .containsExactly("-      - readme.txt", "+      - \"*.bak\"");
        assertThat(difference(set(2, "take", List.of("*.csv"))))
                .containsExactly("-  - {folder: old, take: \"*\"}", "+  - {folder: old, take: [\"*.csv\"]}");
    }

    @Test
    void whatIsAddedLooksAsSomebodyWouldWriteIt() {
        assertThat(difference(
                        set(1, "modified", "2026-01-10 to 14.03.2026"),
                        set(1, "depth", 2),
                        set(1, "rank", "newest 3"),
                        set(1, "any_case", true)))
                .containsExactly(
                        "+    any_case: true",
                        "+    depth: 2",
                        "+    modified: 2026-01-10 to 14.03.2026",
                        "+    rank: newest 3");
        Map<String, Object> size = new LinkedHashMap<>();
        size.put("from", "1 kB");
        size.put("to", "2.5 MB");
        assertThat(difference(set(2, "size", size)))
                .contains("+  - {folder: old, take: \"*\", size: {from: 1 kB, to: 2.5 MB}}");
        assertThat(difference(set(2, "folder", "${inbox}/x"))).contains("+  - {folder: \"${inbox}/x\", take: \"*\"}");
    }

    @Test
    void rulesAreRemovedAndMoved() {
        assertThat(difference(remove(1, "skip")))
                .containsExactly("-    skip:", "-      - \"*copy*\"     # somebody's copies", "-      - readme.txt");
        assertThat(difference(remove(2, "take")))
                .containsExactly("-  - {folder: old, take: \"*\"}", "+  - {folder: old}");
        String moved = JobEdit.apply(JOB, List.of(new Change("move", 1, "skip", null, -1)));
        assertThat(moved)
                .contains(
                        """
                # by mail
                    skip:
                      - "*copy*"     # somebody's copies
                      - readme.txt
                    take: ["samples-*.csv"]  # a list a month
                  - {folder: old""");
        assertThat(JobEdit.apply(moved, List.of(new Change("move", 1, "skip", null, 1))))
                .isEqualTo(JOB);
        assertThat(JobEdit.apply(JOB, List.of(new Change("move", 1, "skip", null, 1))))
                .as("the last stays")
                .isEqualTo(JOB);
    }

    @Test
    void placesComeAndGo() {
        Map<String, Object> place = new LinkedHashMap<>();
        place.put("folder", "inbox/east");
        place.put("take", List.of("*"));
        Change add = new Change("add_place", 0, null, place, 0);
        assertThat(difference(add)).containsExactly("+  - folder: inbox/east", "+    take: [\"*\"]");
        assertThat(JobEdit.apply("job: a\ninto: b\nread: {separator: \";\"}\n", List.of(add)))
                .isEqualTo("job: a\ninto: b\nfind:\n  - folder: inbox/east\n    take: [\"*\"]\n"
                        + "read: {separator: \";\"}\n");
        assertThat(JobEdit.apply("job: a\ninto: b", List.of(add)))
                .isEqualTo("job: a\ninto: b\nfind:\n  - folder: inbox/east\n    take: [\"*\"]\n");
        assertThat(JobEdit.apply("job: a\nfind:\ninto: b\n", List.of(add)))
                .isEqualTo("job: a\nfind:\n  - folder: inbox/east\n    take: [\"*\"]\ninto: b\n");
        assertThat(JobEdit.apply("find: [{folder: x, take: y}]\n", List.of(add)))
                .isEqualTo("find: [{folder: x, take: y}, {folder: inbox/east, take: [\"*\"]}]\n");
        assertThat(difference(new Change("remove_place", 2, null, null, 0)))
                .containsExactly("-  - {folder: old, take: \"*\"}");
        assertThat(JobEdit.apply(
                        "find:\n  - folder: x\n    take: y\nmap: {}\n",
                        List.of(new Change("remove_place", 1, null, null, 0), add)))
                .isEqualTo("find:\n  - folder: inbox/east\n    take: [\"*\"]\nmap: {}\n");
        assertThatThrownBy(() -> JobEdit.apply(JOB, List.of(remove(3, "take")))).hasMessage("the job has no place 3");
        assertThatThrownBy(() -> JobEdit.apply("find:\n  - &a {folder: x, take: [*a]}\n", List.of(remove(1, "take"))))
                .hasMessageContaining("refers to itself");
        assertThatThrownBy(() -> JobEdit.apply("a: [", List.of(add))).hasMessageContaining("no YAML");
    }

    @Property(tries = 300)
    void whateverIsSetIsReadBackAndNothingElseChanges(
            @ForAll("values") List<String> names, @ForAll("words") String word, @ForAll("words") String folder) {
        String changed = JobEdit.apply(
                JOB,
                List.of(
                        set(1, "take", names),
                        set(2, "skip", names),
                        set(1, "modified", word),
                        set(2, "folder", folder),
                        remove(1, "skip")));
        List<Map<String, Object>> places = JobEdit.places(changed);
        assertThat(places.get(0))
                .containsEntry("take", names)
                .containsEntry("modified", word)
                .doesNotContainKey("skip");
        assertThat(places.get(1))
                .containsEntry("skip", names)
                .containsEntry("folder", folder)
                .containsEntry("take", "*");
        assertThat(changed)
                .contains(
                        "# The north.  🜁",
                        "  # what arrives\n",
                        "# by mail",
                        "# a list a month",
                        "\n\n# How it is written.\nread: {separator:   \";\"}\n");
    }

    @Provide
    Arbitrary<List<String>> values() {
        return words().list().ofMinSize(1).ofMaxSize(4);
    }

    @Provide
    Arbitrary<String> words() {
        return Arbitraries.of(
                        "a",
                        "*",
                        "#",
                        " ",
                        ": ",
                        "\"",
                        "'",
                        "\\",
                        "{",
                        "}",
                        "[",
                        "]",
                        ",",
                        "- ",
                        "\n",
                        "\t",
                        "🜁",
                        "ä",
                        "true",
                        "&",
                        "!",
                        "%",
                        "@",
                        "`",
                        "|",
                        ">",
                        "?",
                        "2026-01-01",
                        "\u0000",
                        "~",
                        "${x}")
                .list()
                .ofMinSize(1)
                .ofMaxSize(5)
                .map(pieces -> String.join("", pieces));
    }

    @Test
    void aJobIsCopiedWithItsCommentsAndOtherValues() {
        String job =
                "# ours\njob: north   # the name\ninto: samples\n\n# where\nfind:\n  - {folder: \"${inbox}\", take: \"*\"}\n";
        assertThat(JobCopy.of(job, "south", Map.of())).isEqualTo(job.replace("job: north", "job: south"));
        String copy = JobCopy.of(job, "south", Map.of("inbox", "in: box"));
        assertThat(copy).contains("into: samples\n\nvalues:\n  inbox: \"in: box\"\n\n# where\nfind:");
        assertThat(JobCopy.of(copy, "west", Map.of("inbox", "west")))
                .isEqualTo(copy.replace("south", "west").replace("\"in: box\"", "west"));
        assertThat(JobCopy.of("job: a\nvalues: {x: 1}\n", "b", Map.of("y", "2")))
                .isEqualTo("job: b\nvalues: {x: 1, y: 2}\n");
        assertThat(JobCopy.of("job: a\nvalues:\ninto: c\n", "b", Map.of("y", "2")))
                .isEqualTo("job: b\nvalues: {y: 2}\ninto: c\n");
        assertThatThrownBy(() -> JobCopy.of("job: a\nvalues: [x]\n", "b", Map.of("y", "2")))
                .hasMessageContaining("not a list of names");
    }
}
