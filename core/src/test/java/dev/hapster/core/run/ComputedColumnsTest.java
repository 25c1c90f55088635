package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.definition.explain.Explanation;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Columns that are calculated, looked up, or taken from what stands beside the table. */
class ComputedColumnsTest {

    @TempDir
    private Path folder;

    private CoreWorkspace work;

    @BeforeEach
    void start() throws IOException {
        work = new CoreWorkspace(folder);
        columns("{name: id, type: text}", "{name: price, type: \"decimal(9,2)\"}", "{name: quantity, type: integer}");
    }

    @AfterEach
    void stop() {
        work.close();
    }

    private void columns(String... columns) throws IOException {
        work.write("datasets/north.yaml", "dataset: north\ncolumns:\n  - " + String.join("\n  - ", columns) + "\n");
    }

    private List<String> mistakes() throws Exception {
        DefinitionException wrong =
                catchThrowableOfType(DefinitionException.class, () -> work.runner.prepare("north", Map.of()));
        return wrong == null
                ? List.of()
                : wrong.problems().stream().map(Problem::toString).toList();
    }

    private static List<String> reasons(FileResult file) {
        return file.groups().stream()
                .map(group -> group.code() + " " + group.column() + ": "
                        + group.samples().get(0).sentence())
                .toList();
    }

    @Test
    void columnsAreCalculatedFromOthersInWhateverOrderTheyAreWritten() throws Exception {
        columns(
                "{name: id, type: text}",
                "{name: price, type: \"decimal(9,2)\"}",
                "{name: quantity, type: integer}",
                "{name: total, type: \"decimal(12,2)\"}",
                "{name: gross, type: \"decimal(12,2)\"}",
                "{name: many, type: boolean}",
                "{name: day, type: date}");
        work.job(
                """
                map:
                  gross: {compute: "round(total * 1.19, 2)"}
                  total: {compute: "price * quantity"}
                  many: {compute: "quantity > 2"}
                  day: {compute: "date(source['When'], 'dd.MM.yyyy')"}
                """);
        work.raw("a.csv", "id,price,quantity,When\na,0.10,3,01.02.2026\nb,,2,\nc,1.99,1,28.02.2026\n");
        RunResult result = work.run();
        assertThat(reasons(result.files().get(0)))
                .containsExactly("compute-failed day: day = \"date(source['When'], 'dd.MM.yyyy')\" could not be "
                        + "calculated: \"\" is not written as dd.MM.yyyy");
        assertThat(work.column("total")).containsExactly(new BigDecimal("0.30"), new BigDecimal("1.99"));
        assertThat(work.column("gross")).containsExactly(new BigDecimal("0.36"), new BigDecimal("2.37"));
        assertThat(work.column("many")).containsExactly(true, false);
        assertThat(work.column("day")).containsExactly(LocalDate.of(2026, 2, 1), LocalDate.of(2026, 2, 28));
    }

    @Test
    void whatIsCalculatedFromAFaultIsNoSecondFaultAndWhatIsWrongSaysSo() throws Exception {
        columns(
                "{name: id, type: text}",
                "{name: price, type: \"decimal(9,2)\"}",
                "{name: quantity, type: integer}",
                "{name: each, type: \"decimal(9,2)\", max: 50}",
                "{name: label, type: text, required: true, length: 3}");
        work.job("map: {each: {compute: \"price / quantity\"}, label: {compute: \"id + string(each)\"}}\n"
                + "keep: \"label != 'skip'\"\n");
        work.raw("a.csv", "id,price,quantity\na,x,1\nb,1,0\nc,1,3\nd,90,1\ne,,1\nf,1,1\n,1,1\n");
        FileResult file = work.run().files().get(0);
        assertThat(reasons(file))
                .containsExactlyInAnyOrder(
                        "number-unreadable price: \"x\" is not a number",
                        "compute-failed each: each = \"price / quantity\" could not be calculated: it divides by zero",
                        "number-too-fine each: \"0.3333333333333333333333333333333333\" has more than the 2 decimals "
                                + "that decimal(9,2) keeps",
                        "above-maximum each: \"90\" is over 50",
                        "required-empty label: label is empty and required",
                        "text-too-long label: \"f1.00\" has 5 characters, 3 are allowed");
        assertThat(file.loaded()).isZero();
        assertThat(file.read()).isEqualTo(file.rejected());
    }

    @Test
    void aFileWithoutAColumnThatIsCalculatedWithIsRejected() throws Exception {
        work.job("map: {id: {compute: \"source['Site'].upper()\"}}\n");
        work.raw("a.csv", "price,quantity,site\n1,1,vs\n");
        work.raw("b.csv", "price,quantity\n1,1\n");
        RunResult result = work.run();
        assertThat(work.column("id")).containsExactly("VS");
        assertThat(result.files().get(1).reason().orElseThrow().sentence()).startsWith("its header lacks Site");
    }

    @Test
    void mistakesAreNamedAtTheirPlaceBeforeAnythingRuns() throws Exception {
        work.job("map:\n  id: {compute: \"prise * 2\"}\n  price: {compute: \"quantity + id\"}\n"
                + "  quantity: {compute: \"price\", clean: trim}\n");
        assertThat(mistakes())
                .containsExactlyInAnyOrder(
                        "jobs/north.yaml:5:18  in 'compute': there is no 'prise'. Did you mean 'price'?",
                        "jobs/north.yaml:6:30  in 'compute': '+' does not go with a whole number and a text. "
                                + "Expressions are CEL, such as round(price * quantity, 2)",
                        "jobs/north.yaml:7:32  'compute' is calculated and stands alone; 'clean' does not go with it",
                        "jobs/north.yaml:7:24  in 'compute': this gives a number, and it must be a whole number: write "
                                + "round(…) or int(…). Expressions are CEL, such as round(price * quantity, 2)");
        work.job("map: {price: {compute: \"quantity * 2\"}, quantity: {compute: \"round(price)\"}}\n");
        assertThat(mistakes())
                .containsExactly(
                        "jobs/north.yaml:4:14  price is calculated from itself, through quantity. For what the file has "
                                + "in such a column, write source[\"price\"]",
                        "jobs/north.yaml:4:51  quantity is calculated from itself, through price. For what the file has "
                                + "in such a column, write source[\"quantity\"]");
    }

    @Test
    void valuesAreLookedUpInATableWhoseContentIsARule() throws Exception {
        columns("{name: id, type: text}", "{name: name, type: text}", "{name: depth, type: integer}");
        work.job("map:\n  name: {lookup: {file: lookups/sites.csv, by: id, take: title}}\n"
                + "  depth: {lookup: {file: lookups/sites.csv, by: code, take: depth, with: \"id.upper()\", "
                + "otherwise: \"\"}}\n");
        work.write("lookups/sites.csv", "id;title;code;depth\na;Alder;A;3\nb;\"Birch; lower\";B;\n");
        work.raw("a.csv", "id\na\nb\nc\n");
        FileResult file = work.run().files().get(0);
        assertThat(reasons(file))
                .containsExactly("lookup-missing name: \"c\" is not in the column \"id\" of lookups/sites.csv");
        assertThat(work.column("name")).containsExactly("Alder", "Birch; lower");
        assertThat(work.column("depth")).containsExactly(3L, null);
        assertThat(Explanation.of(work.runner.prepare("north", Map.of()).job(), work.dataset()))
                .asString()
                .contains("name is looked up in lookups/sites.csv: the title whose id is id.")
                .contains("depth is looked up in lookups/sites.csv: the depth whose code is id.upper(), else nothing.");

        work.write("lookups/sites.csv", "id;title;code;depth\na;Alder;A;3\nb;Birch;B;\nc;Cedar;C;9\n");
        assertThat(work.run().files().get(0).loaded())
                .as("a changed table is a changed rule")
                .isEqualTo(3);
        assertThat(work.column("name")).containsExactly("Alder", "Birch", "Cedar");
        work.write("lookups/sites.csv", "id;title;code;depth\na;Alder;A;3\nb;Birch;B;\nc;Cypress;C;9\n");
        assertThat(work.run().notes())
                .contains("1 unchanged file was loaded by earlier rules of this job (hapster run north --again --all "
                        + "loads everything anew)")
                .contains("What stands in lookups/sites.csv has changed since files were loaded");
    }

    @Test
    void whatIsWrongWithATableIsSaidWithItsLine() throws Exception {
        columns("{name: id, type: text}", "{name: depth, type: integer}");
        work.job("map: {depth: {lookup: {file: lookups/sites.csv, by: id, take: depth}}}\n");
        assertThat(mistakes()).singleElement().asString().contains("lookups/sites.csv: the file is gone");
        work.write("lookups/sites.csv", "id,depht\na,1\n");
        assertThat(mistakes())
                .singleElement()
                .asString()
                .contains("lookups/sites.csv, line 1: the table has no column \"depth\", only id, depht. "
                        + "Did you mean 'depht'?");
        work.write("lookups/sites.csv", "id,depth\na,1\nb,2\na,3\n,4\nc\n");
        assertThat(mistakes())
                .hasSize(3)
                .anyMatch(one -> one.contains("line 4: the key \"a\" stands in line 2 already"))
                .anyMatch(one -> one.contains("line 5: the key is empty"))
                .anyMatch(one -> one.contains("line 6: 1 field"));
        work.write("lookups/sites.csv", "id,depth\na,1\nb,deep\n");
        assertThat(mistakes())
                .containsExactly("lookups/sites.csv:3:1  depth of b, for the column depth: \"deep\" is not a number. "
                        + "Correct the table");
        work.job("map: {depth: {lookup: {file: ../sites.csv, by: id, take: depth}}}\n");
        assertThat(mistakes()).singleElement().asString().contains("a table lies in the workspace");
        work.job("map: {depth: {lookup: {file: lookups/sites.csv, by: site, take: depth}}}\n");
        assertThat(mistakes())
                .singleElement()
                .asString()
                .contains("the dataset has no column 'site', and nothing else "
                        + "says what is looked up. Say it with `with: COLUMN`");
    }

    @Test
    void whatStandsAboveTheTableFillsColumns() throws Exception {
        columns(
                "{name: id, type: text}",
                "{name: client, type: text}",
                "{name: month, type: date}",
                "{name: note, type: text}");
        work.job(
                """
                read:
                  lines_above: 3
                  facts: {client: {line: 2, after: "Client:"}, month: {after: "Month"}, unit: {line: 3, field: 2}}
                map:
                  client: {fact: client, clean: [upper]}
                  month: {fact: month, pattern: "MM/yyyy"}
                  note: {compute: "id + ' in ' + fact.unit + ' of ' + file.name"}
                """);
        work.raw("a.csv", "Report,,\nClient: ,Waterworks Vessa,,Month 03/2026\nunit,mg/l\nid\na\n");
        work.raw("b.csv", "Report,,\nCustomer: Waterworks\nMonth 03/2026,mg/l\nid\na\n");
        work.raw("c.csv", "Report,,\nClient: Waterworks\nMonth 13/2026,mg/l\nid\na\n");
        work.raw("d.csv", "Report,,\nClient: ,,\nMonth 01/2026,mg/l\nid\na\n");
        Files.write(
                work.folder.resolve("in/e.csv"),
                "Report\nClient: M\u00fchle\nMonth 01/2026,mg/l\nid\na\n".getBytes(StandardCharsets.ISO_8859_1));
        RunResult result = work.run();
        assertThat(result.files().get(4).reason().orElseThrow().sentence())
                .isEqualTo("is not UTF-8: byte 0xFC at line 2 (byte 16); it looks like windows-1252");
        assertThat(work.column("client")).containsExactly("WATERWORKS VESSA");
        assertThat(work.column("month")).containsExactly(LocalDate.of(2026, 3, 1));
        assertThat(work.column("note")).containsExactly("a in mg/l of a.csv");
        assertThat(result.files().subList(1, 4))
                .extracting(file -> file.reason().orElseThrow().code().code() + ": "
                        + file.reason().orElseThrow().sentence())
                .containsExactly(
                        "fact-missing: lacks the fact 'client': line 2 holds \"Customer: Waterworks\", without \"Client:\"",
                        "fact-differs: says \"13/2026\" for month beside its table: \"13/2026\" is not written as MM/yyyy",
                        "fact-missing: lacks the fact 'client': nothing stands in line 2, after \"Client:\"");
    }
}
