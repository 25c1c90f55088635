package dev.hapster.core.run.prepare;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.LookupTable;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.shape.Shaper;
import java.util.Comparator;
import java.util.List;

/** Looks whether the values that a job gives itself, constants and those of its tables, suit their columns. */
final class GivenValues {

    /** Problems of one table that are named. */
    private static final int MOST = 20;

    private GivenValues() {}

    static void check(String file, JobDef job, DatasetDef dataset, List<Problem> problems) {
        for (ColumnDef column : dataset.columns()) {
            if (job.map().get(column.name()) instanceof Mapping.Constant constant) {
                Shaper.refuseConstant(column, job, constant.value())
                        .ifPresent(reason -> problems.add(new Problem(
                                file,
                                0,
                                0,
                                "the constant for " + column.name() + ": " + reason.sentence(),
                                "Correct `value`")));
            }
            if (job.map().get(column.name()) instanceof Mapping.Lookup lookup) {
                lookedUp(column, lookup, file, problems);
            }
        }
    }

    /** Every value of a table must suit the column that takes it. */
    private static void lookedUp(ColumnDef column, Mapping.Lookup lookup, String file, List<Problem> problems) {
        lookup.otherwise()
                .filter(value -> !value.isEmpty())
                .flatMap(value -> Shaper.refuseLookedUp(column, value))
                .ifPresent(reason -> problems.add(new Problem(
                        file, 0, 0, "`otherwise` for " + column.name() + ": " + reason.sentence(), "Correct it")));
        LookupTable table = lookup.table();
        table.values().entrySet().stream()
                .sorted(Comparator.comparing(entry -> table.lines().get(entry.getKey())))
                .filter(entry -> !entry.getValue().isEmpty())
                .flatMap(entry -> Shaper.refuseLookedUp(column, entry.getValue())
                        .map(reason -> new Problem(
                                table.file(),
                                table.lines().get(entry.getKey()).intValue(),
                                1,
                                table.take() + " of " + entry.getKey() + ", for the column " + column.name() + ": "
                                        + reason.sentence(),
                                "Correct the table"))
                        .stream())
                .limit(MOST)
                .forEach(problems::add);
    }
}
