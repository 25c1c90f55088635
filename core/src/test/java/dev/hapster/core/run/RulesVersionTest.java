package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.workspace.RulesVersion;
import dev.hapster.core.workspace.Workspace;
import java.lang.reflect.RecordComponent;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * The names of rules must not change from one start, machine or version to the next, or every file would be read again
 * for nothing.
 */
class RulesVersionTest {

    @TempDir
    private Path folder;

    @Test
    void theSameRulesHaveTheSameNameForEver() throws Exception {
        try (CoreWorkspace work = new CoreWorkspace(folder)) {
            work.job("read: {as: xml, rows: feed/sample, namespaces: {b: \"urn:b\", a: \"urn:a\", c: \"urn:c\"}, "
                    + "empty_as: [\"-\", n/a]}\nmap: {id: {from: Id, clean: [trim, {replace: {x: y, a: "
                    + "b}}]}, value: {empty_as: [none]}}\n"
                    + "keep: \"value > 0\"\nrejects: {file_at: 5%}\n"
                    + "duplicates: {by: key, within: run, then: keep_last}\n");
            JobDef job = new Workspace(folder).job("north");
            assertThat(RulesVersion.rows(job, work.dataset().columns(), "")).isEqualTo("45cdab33e96d-a52339e97266");
            assertThat(RulesVersion.after(job.handling().after())).isEqualTo("ca5fca1d6b03");
        }
    }

    @Test
    void theOrderOfAMapSaysNothing() {
        List<String> names = IntStream.range(0, 200)
                .mapToObj(number -> RulesVersion.of(Map.of("a", number % 1, "b", 2, "c", 3, "d", 4)))
                .distinct()
                .toList();
        assertThat(names).hasSize(1);
        assertThat(RulesVersion.canonical(Map.of("b", List.of("x", 'y'), "a", 1)))
                .isEqualTo("{\"a\"=1, \"b\"=[\"x\", \"y\"]}");
    }

    @Test
    void aRuleOfAKindThatNobodyThoughtOfIsAFault() {
        assertThatThrownBy(() -> RulesVersion.of(List.of(new Object())))
                .hasMessageContaining("nothing says how that is written down");
    }

    /**
     * A key that is added to a job belongs to the rules by which rows are read, or knowingly not: otherwise files would
     * stay as they were read by earlier rules.
     */
    @Test
    void everyPartOfAJobSaysHowRowsAreReadOrKnowinglyNot() {
        assertThat(parts(JobDef.class))
                .containsExactlyInAnyOrder(
                        "read",
                        "map",
                        "find",
                        "handling", /* not */
                        "name",
                        "about",
                        "into",
                        "values",
                        "when",
                        "due",
                        "faults",
                        "notices",
                        "version",
                        "text");
        assertThat(parts(Handling.class))
                .containsExactlyInAnyOrder(
                        "keep",
                        "deleted",
                        "duplicates",
                        "limits",
                        "after", /* told by each arrival */
                        "load",
                        "newestBy",
                        "nameAdds", /* not */
                        "together");
        assertThat(parts(Handling.Limits.class))
                .containsExactlyInAnyOrder("fileAt", /* not */ "runAt", "rejectUnusual");
    }

    private static List<String> parts(Class<?> record) {
        return Arrays.stream(record.getRecordComponents())
                .map(RecordComponent::getName)
                .toList();
    }
}
