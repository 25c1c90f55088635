package dev.hapster.core.shape;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RejectedRow;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.row.Vector;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.BigRange;
import net.jqwik.api.constraints.Scale;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ShaperTest {

    /** What a value of one column becomes: as text, {@code (empty)}, or {@code code: sentence}. */
    private static String one(String type, String mapping, String value) throws Exception {
        DatasetDef dataset = TestJobs.dataset(
                "{name: v, " + (type.contains(":") ? type : "type: \"" + type + "\"") + "}",
                "{name: other, type: text}");
        JobDef job = TestJobs.job(
                dataset,
                "read: {separator: \"|\", quote: none}\n" + (mapping.isEmpty() ? "" : "map: {v: " + mapping + "}\n"));
        List<String> results = new ArrayList<>();
        TestJobs.shape(
                dataset,
                job,
                "v|other\n" + value + "|x\n",
                batch -> {
                    if (batch.goodRows == 1) {
                        results.add(text(
                                batch.columns.get(0),
                                dataset.columns().get(0).type().scale()));
                    }
                },
                refused -> results.add(refused.faults().get(0).reason().code().code() + ": "
                        + refused.faults().get(0).reason().sentence()));
        assertThat(results).hasSize(1);
        return results.get(0);
    }

    private static String text(Vector vector, int scale) {
        if (vector.empty[0]) {
            return "(empty)";
        }
        if (vector instanceof Vector.Doubles doubles) {
            return Double.toString(doubles.values[0]);
        }
        if (vector instanceof Vector.Longs longs) {
            return scale == 0
                    ? Long.toString(longs.values[0])
                    : BigDecimal.valueOf(longs.values[0], scale).toPlainString();
        }
        Vector.Bytes bytes = (Vector.Bytes) vector;
        byte[] value = Arrays.copyOfRange(bytes.data, bytes.from[0], bytes.from[0] + bytes.length[0]);
        return scale == 0
                ? new String(value, StandardCharsets.UTF_8)
                : new BigDecimal(new BigInteger(value), scale).toPlainString();
    }

    @Test
    void severalShapeTheColumnsOfABatchAsOneDoes() throws Exception {
        DatasetDef dataset = TestJobs.dataset(
                "{name: id, type: integer}",
                "{name: lab, type: text, required: true, one_of: [North, East]}",
                "{name: day, type: date}",
                "{name: value, type: \"decimal(6,1)\", min: 0}",
                "{name: double, type: \"decimal(9,1)\"}");
        JobDef job = TestJobs.job(dataset, "map:\n  double: {compute: \"value * 2\"}\n");
        StringBuilder text = new StringBuilder("id,lab,day,value\n");
        for (int row = 0; row < 9_000; row++) {
            text.append(row % 97 == 5 ? "x" : row)
                    .append(row % 89 == 5 ? ",West," : row % 83 == 5 ? ",," : ",East,")
                    .append(row % 79 == 5 ? "2026-02-30," : "2026-02-28,")
                    .append(row % 73 == 5 ? "-1" : row / 10.0)
                    .append(row % 71 == 5 ? ",more\n" : "\n");
        }
        List<List<String>> told = new ArrayList<>();
        for (boolean shared : new boolean[] {false, true}) {
            List<String> all = new ArrayList<>();
            TestJobs.shape(
                    dataset,
                    job,
                    text.toString(),
                    shared,
                    batch -> {
                        all.add(Arrays.toString(Arrays.copyOf(batch.good, batch.goodRows)));
                        all.add(Arrays.toString(
                                Arrays.copyOf(((Vector.Longs) batch.columns.get(4)).values, batch.goodRows)));
                    },
                    refused -> all.add(refused.number() + " " + refused.original() + " " + refused.faults()));
            told.add(all);
        }
        assertThat(told.get(0)).hasSizeGreaterThan(500).anyMatch(row -> row.startsWith("6 x,West,2026-02-30,-1,more"));
        assertThat(told.get(1)).isEqualTo(told.get(0));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '#',
            quoteCharacter = '`',
            value = {
                "decimal(12,4) # `` # 5.25 # 5.2500",
                "decimal(12,4) # `` # ` -0.1000000 ` # -0.1000",
                "decimal(12,4) # {decimal: \",\"} # 5,25 # 5.2500",
                "decimal(12,2) # {decimal: \",\", thousands: \".\"} # 1.234.567,5 # 1234567.50",
                "decimal(12,2) # {thousands: \" \"} # 12 345 # 12345.00",
                "decimal(12,2) # {decimal: \",\", thousands: \".\"} # 12.34 # `number-unreadable: \"12.34\" is not a number; it has a decimal point, and the job expects a decimal comma`",
                "decimal(12,2) # `` # 5,25 # `number-unreadable: \"5,25\" is not a number; it has a decimal comma, and the job expects a decimal point`",
                "decimal(12,4) # `` # <0.05 # `number-unreadable: \"<0.05\" is not a number; it is a limit (\"less than 0.05\")`",
                "decimal(12,2) # `` # 1.005 # `number-too-fine: \"1.005\" has more than the 2 decimals that decimal(12,2) keeps`",
                "decimal(5,2) # `` # 1000 # `number-too-large: \"1000\" does not fit decimal(5,2)`",
                "decimal(5,2) # `` # 1.5e2 # 150.00",
                "decimal(5,2) # `` # 1e999999 # `number-unreadable: \"1e999999\" is not a number`",
                "decimal(30,2) # `` # 1234567890123456789012345678.9 # 1234567890123456789012345678.90",
                "decimal(30,2) # `` # -1 # -1.00",
                "integer # `` # 9223372036854775807 # 9223372036854775807",
                "integer # `` # 9223372036854775808 # `number-too-large: \"9223372036854775808\" does not fit integer`",
                "integer # `` # 12.0 # 12",
                "integer # `` # 007 # 7",
                "integer # `` # 1 2 # `number-unreadable: \"1 2\" is not a number`",
                "double # `` # 0.1 # 0.1",
                "double # `` # 1e-320 # 1.0E-320",
                "double # `` # NaN # `number-unreadable: \"NaN\" is not a number`",
                "boolean # `` # Yes # 1",
                "boolean # {true_as: [ja], false_as: [nein]} # NEIN # 0",
                "boolean # `` # maybe # `boolean-unreadable: \"maybe\" is not a word for true or false`",
                "date # {pattern: dd.MM.yyyy} # 31.12.1969 # -1",
                "date # `` # 1970-01-02 # 1",
                "time # `` # 00:00:01 # 1000000",
                "timestamp # {pattern: [dd.MM.yyyy, yyyyMMdd]} # 19700102 # 86400000000",
                "date # {pattern: dd.MM.yyyy} # 31.02.2026 # `date-unreadable: \"31.02.2026\" is not a valid date: February has no day 31`",
                "date # {pattern: dd.MM.yyyy} # 2026-02-01 # `date-unreadable: \"2026-02-01\" is not written as dd.MM.yyyy`",
                "text # {clean: [trim, upper, {remove: \"-\"}, {replace: {VS: \"VS-\"}}]} # ` v-s012\u00a0` # VS-012",
                "text # `` # ` kept ` # ` kept `",
                "text # {clean: lower} # ÄÖ # äö",
                "text # {empty_as: [n/a]} # n/a # (empty)",
                "text # `` # `` # (empty)",
                "`type: text, length: 3` # `` # äöü # äöü",
                "`type: text, length: 3` # `` # äöüx # `text-too-long: \"äöüx\" has 4 characters, 3 are allowed`",
                "`type: text, matches: \"VS-[0-9]+\"` # `` # VX-1 # `pattern-differs: \"VX-1\" does not match VS-[0-9]+`",
                "`type: text, one_of: [a, b]` # `` # c # `value-not-allowed: \"c\" is not one of the allowed values: a, b`",
                "`type: integer, min: 0` # `` # -1 # `below-minimum: \"-1\" is under 0`",
                "`type: date, max: 2026-01-31` # `` # 2026-02-01 # `above-maximum: \"2026-02-01\" is over 2026-01-31`",
                "`type: \"decimal(4,1)\", min: 0.25` # `` # 0.2 # `below-minimum: \"0.2\" is under 0.25`",
                "`type: text, required: true` # `` # `` # `required-empty: v is empty and required`"
            })
    void aValueBecomesWhatItsColumnDeclares(String type, String mapping, String value, String expected)
            throws Exception {
        assertThat(one(type, mapping, value)).isEqualTo(expected);
    }

    @Property
    void everyDecimalIsReadExactly(
            @ForAll @BigRange(min = "-99999999.9999", max = "99999999.9999") @Scale(4) BigDecimal number)
            throws Exception {
        assertThat(one("decimal(12,4)", "", number.toPlainString()))
                .isEqualTo(number.setScale(4).toPlainString());
        assertThat(one("double", "", number.toPlainString())).isEqualTo(Double.toString(number.doubleValue()));
    }

    @Property
    void everyDoubleIsReadAsTheNearest(@ForAll double number) throws Exception {
        assertThat(one("double", "", Double.toString(number))).isEqualTo(Double.toString(number));
    }

    @Test
    void aRowForWhichTheSourceHasNothingIsRejected() throws Exception {
        DatasetDef dataset =
                TestJobs.dataset("{name: a, type: text}", "{name: b, type: integer}", "{name: c, type: text}");
        List<String> refused = new ArrayList<>();
        TestJobs.shape(
                dataset,
                TestJobs.job(
                        dataset,
                        "read: {extra_columns: ignore}\nmap: {b: {empty_as: [\"\", n/a]}, c: {value: always}}\n"),
                "a,b,x\n,,1\n \t,,\n,n/a,\n,1,\n",
                batch -> assertThat(batch.goodRows).isEqualTo(2),
                row -> refused.add(
                        row.line() + " " + row.faults().get(0).reason().sentence()));
        assertThat(refused)
                .containsExactly("2 no column that is mapped has a value", "3 no column that is mapped has a value");
    }

    @Test
    void aRowWithTwoFaultsNamesBothAndKeepsItsText() throws Exception {
        DatasetDef dataset = TestJobs.dataset(
                "{name: id, type: text, required: true}", "{name: day, type: date}", "{name: value, type: integer}");
        List<RejectedRow> refused = new ArrayList<>();
        List<Integer> good = new ArrayList<>();
        TestJobs.shape(
                dataset,
                TestJobs.job(dataset, ""),
                "id,day,value\n,2026-02-30,x\na,2026-02-28,1\nb\nc,,2,9\n",
                (TypedBatch batch) -> {
                    for (int i = 0; i < batch.goodRows; i++) {
                        good.add((int) batch.line[batch.good[i]]);
                    }
                },
                refused::add);

        assertThat(good).containsExactly(3);
        assertThat(refused.get(0).line()).isEqualTo(2);
        assertThat(refused.get(0).original()).isEqualTo(",2026-02-30,x");
        assertThat(refused.get(0).faults())
                .extracting(RejectedRow.Fault::column)
                .containsExactly("id", "day", "value");
        assertThat(refused.get(1).faults())
                .extracting(fault -> fault.reason().sentence())
                .containsExactly("1 field where the header has 3");
        assertThat(refused.get(2).faults())
                .extracting(fault -> fault.reason().sentence())
                .containsExactly("4 fields where the header has 3");
    }

    @Test
    void namesAreFoundWithoutRegardToCaseSpacesAndHyphens() throws Exception {
        DatasetDef dataset = TestJobs.dataset(
                "{name: sample_id, type: text, required: true}",
                "{name: taken, type: date}",
                "{name: unit, type: text}");
        JobDef job = TestJobs.job(dataset, "map: {taken: Day of sampling}\n");

        assertThat(Binding.of(dataset, job, List.of("Remark", "Sample-ID", "day_of_sampling")))
                .satisfies(binding -> {
                    assertThat(binding.fields()).containsExactly(1, 2, Binding.ABSENT);
                    assertThat(binding.missing()).isEmpty();
                    assertThat(binding.unused()).containsExactly("Remark");
                    assertThat(binding.unfed()).containsExactly("unit");
                });
        assertThat(Binding.of(dataset, job, List.of("unit")).missing()).containsExactly("sample_id", "Day of sampling");
        assertThatThrownBy(() -> Binding.of(dataset, job, List.of("Sample ID", "sample-id", "dayofsampling")))
                .isInstanceOf(FileRejectedException.class)
                .hasMessageContaining("both answer to sample_id");
    }
}
