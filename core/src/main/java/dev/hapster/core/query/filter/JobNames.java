package dev.hapster.core.query.filter;

import dev.hapster.core.query.filter.Condition.Empty;
import dev.hapster.core.query.filter.Condition.Span;
import dev.hapster.core.query.filter.Condition.Spans;
import dev.hapster.core.query.filter.Condition.Text;
import dev.hapster.core.query.filter.Condition.Values;
import dev.hapster.core.query.value.Fields;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Predicate;

/** Conditions on the job that brought a row: rows do not have it, but the run that it was. Immutable. */
public final class JobNames {

    /** The run of no row. */
    private static final long NONE = -1;

    private final Map<Long, String> byRun;

    /** @param byRun the jobs of the runs that brought rows */
    public JobNames(Map<Long, String> byRun) {
        this.byRun = new TreeMap<>(byRun);
    }

    /** The job of a run; the run itself where its job is not known. */
    public String of(Long run) {
        return byRun.getOrDefault(run, "run " + run);
    }

    /** All of them. */
    public List<String> all() {
        return byRun.values().stream().distinct().sorted().toList();
    }

    /** The same condition with runs in place of jobs. */
    public Where resolved(Where where) {
        if (where instanceof Where.All all) {
            return new Where.All(all.of().stream().map(this::resolved).toList());
        }
        if (where instanceof Where.Any any) {
            return new Where.Any(any.of().stream().map(this::resolved).toList());
        }
        Condition condition = (Condition) where;
        return condition.field().equals(Fields.JOB)
                ? new Condition(Fields.RUN, runs(condition.values()), condition.not())
                : condition;
    }

    private Values runs(Values jobs) {
        if (jobs instanceof Empty) {
            return jobs;
        }
        Predicate<String> test = jobs instanceof Text text ? text.test() : ((Spans) jobs)::has;
        List<Span> runs = new ArrayList<>();
        byRun.forEach((run, job) -> {
            if (test.test(job)) {
                runs.add(new Span(run, true, run, true));
            }
        });
        return new Spans(runs.isEmpty() ? List.of(new Span(NONE, true, NONE, true)) : runs);
    }
}
