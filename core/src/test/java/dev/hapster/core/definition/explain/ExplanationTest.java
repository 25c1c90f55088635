package dev.hapster.core.definition.explain;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.yaml.DefinitionException;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

class ExplanationTest {

    @Test
    void aJobIsExplainedInWordsFromItsDefinition() throws DefinitionException {
        DatasetDef dataset = TestJobs.dataset(
                "{name: id, type: text}",
                "{name: taken, type: date}",
                "{name: value, type: \"decimal(8,2)\"}",
                "{name: lab, type: text}");
        JobDef job = Definitions.job(
                "jobs/north.yaml",
                """
                job: north
                into: samples
                find:
                  - {folder: in, depth: 1, take: ["*.csv", {regex: "x+"}], skip: draft*, size: {from: 1 kB}, modified: last 7 days, rank: newest 3}
                  - {folder: other, depth: 3, take: "*"}
                read: {separator: "\\t", quote: none, lines_above: 1, names: [a, b], empty_as: ["", n/a]}
                map:
                  id: {from: a, clean: [trim, upper, {remove: "-"}, {replace: {x: y}}]}
                  taken: {from: b, pattern: [dd.MM.yyyy, yyyyMMdd]}
                  value: {decimal: ",", thousands: ".", empty_as: "0"}
                  lab: {value: North}
                """,
                name -> Optional.of(dataset),
                Set.of("samples"));

        Explanation words = Explanation.of(job, dataset);
        assertThat(words.find())
                .containsExactly(
                        "Looks into in and its subfolders and takes \"*.csv\", regex \"x+\", then skips "
                                + "\"draft*\", then keeps those of a size from 1 kB, "
                                + "then keeps those modified last 7 days, then keeps the newest 3.",
                        "Looks into other and subfolders down to level 3 and takes \"*\".");
        assertThat(words.read())
                .containsExactly(
                        "Reads delimited text in UTF-8, separated by tab, with no quoting.",
                        "Skips the first line.",
                        "There is no header; the columns are a, b.",
                        "Takes \"\", \"n/a\" as empty.");
        assertThat(words.map())
                .containsExactly(
                        "id comes from \"a\": trimmed, in upper case, \"-\" removed, \"x\" replaced by \"y\".",
                        "taken comes from \"b\": written as dd.MM.yyyy or yyyyMMdd.",
                        "value comes from the column of its own name: \"0\" taken as empty, decimal comma, "
                                + "thousands marked by \".\".",
                        "lab is always \"North\".");
    }
}
