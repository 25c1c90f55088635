package dev.hapster.core.definition.edit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** What is saved is what a person would have written; what is not concerned stays as it is. */
class SectionEditTest {

    private static final String JOB =
            """
            # the eastern laboratory
            job: east
            into: samples
            find: [{folder: in, take: "*.csv"}]
            read: {separator: ";", encoding: windows-1252}   # since 2024
            map:
              id: Probe          # its number
              value: {from: Wert, decimal: ","}
            # not ours
            keep: "value > 0"
            """;

    private static String set(String text, String path, Object value) {
        return SectionEdit.set(text, Arrays.asList(path.split(" ")), value);
    }

    @Test
    void aKeyIsSetWhereItStands() {
        assertThat(set(JOB, "read separator", ",")).isEqualTo(JOB.replace("separator: \";\"", "separator: \",\""));
        assertThat(set(JOB, "read lines_above", 3))
                .isEqualTo(JOB.replace("windows-1252}", "windows-1252, lines_above: 3}"));
        assertThat(set(JOB, "map value decimal", ".")).isEqualTo(JOB.replace("decimal: \",\"", "decimal: ."));
        assertThat(set(JOB, "keep", List.of("value > 1", "id != 'x'")))
                .isEqualTo(JOB.replace("\"value > 0\"", "[\"value > 1\", \"id != 'x'\"]"));
    }

    @Test
    void whatIsNotThereIsAddedWhereFilesHaveItByCustom() {
        assertThat(set(JOB, "map id clean", List.of("trim")))
                .isEqualTo(JOB.replace("id: Probe ", "id: {from: Probe, clean: [trim]} "));
        assertThat(set(JOB, "map day pattern", "dd.MM.yyyy"))
                .isEqualTo(JOB.replace("decimal: \",\"}\n", "decimal: \",\"}\n  day: {pattern: dd.MM.yyyy}\n"));
        assertThat(set(JOB, "rejects file_at", "5%")).isEqualTo(JOB + "rejects: {file_at: \"5%\"}\n");
        assertThat(set(JOB, "load", "update")).isEqualTo(JOB + "load: update\n");
        assertThat(set("job: a\ninto: b\nkeep: \"x\"\n", "map id from", "Id"))
                .isEqualTo("job: a\ninto: b\nmap:\n  id: {from: Id}\nkeep: \"x\"\n");
        assertThat(set(JOB + "after: {loaded: leave}\n", "after loaded move", "done"))
                .endsWith("after: {loaded: {move: done}}\n");
    }

    @Test
    void whatIsTakenOutLeavesNothingBehind() {
        assertThat(set(JOB, "read separator", null)).isEqualTo(JOB.replace("separator: \";\", ", ""));
        assertThat(set(JOB, "read encoding", null)).isEqualTo(JOB.replace(", encoding: windows-1252", ""));
        assertThat(set(JOB, "keep", null)).isEqualTo(JOB.replace("keep: \"value > 0\"\n", ""));
        assertThat(set(JOB, "map id", null)).doesNotContain("Probe").contains("  value: {from: Wert");
        assertThat(set("job: a\nread: {separator: \";\"}\n", "read separator", null))
                .isEqualTo("job: a\n");
        assertThat(set(JOB, "rejects file_at", null)).isEqualTo(JOB);
    }

    @Test
    void aColumnOfADatasetIsFoundByItsName() {
        String dataset =
                "dataset: samples\ncolumns:\n  - {name: id, type: text}  # key\n  - {name: value, type: integer}\n";
        assertThat(set(dataset, "columns value max", 10)).isEqualTo(dataset.replace("integer}", "integer, max: 10}"));
        assertThat(set(dataset, "columns value type", "decimal(9,2)"))
                .isEqualTo(dataset.replace("type: integer", "type: \"decimal(9,2)\""));
        assertThat(set(dataset, "columns other type", "text")).isEqualTo(dataset + "  - {name: other, type: text}\n");
        assertThat(set(dataset, "columns id", null))
                .isEqualTo(dataset.replace("  - {name: id, type: text}  # key\n", ""));
        assertThat(set(dataset, "columns other", null)).isEqualTo(dataset);
        String inBrackets = "columns: [{name: id, type: text}, {name: value, type: integer}]\n";
        assertThat(set(inBrackets, "columns day type", "date"))
                .isEqualTo(inBrackets.replace("}]", "}, {name: day, type: date}]"));
        assertThat(set(inBrackets, "columns id", null)).isEqualTo("columns: [{name: value, type: integer}]\n");
        assertThat(set(inBrackets, "columns value", null)).isEqualTo("columns: [{name: id, type: text}]\n");
        assertThatThrownBy(() -> set(set(inBrackets, "columns id", null), "columns value", null))
                .hasMessage("nothing would be left of the list");
    }

    @Test
    void whatAFileSaysIsGivenPlainly() {
        assertThat(SectionEdit.plainly(JOB))
                .containsEntry("read", Map.of("separator", ";", "encoding", "windows-1252"))
                .containsEntry("keep", "value > 0");
        assertThatThrownBy(() -> SectionEdit.plainly("a: [")).hasMessageContaining("no YAML");
    }
}
