package dev.hapster.core.catalogue;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.arrival.Look;
import dev.hapster.core.arrival.Order;
import dev.hapster.core.arrival.RowRule;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.Handling.Routing;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

/**
 * What {@link Catalogue} promises, method by method. Whatever keeps a catalogue extends it. Catalogues may be shared by
 * tests: each has a dataset and a job of its own.
 */
public abstract class CatalogueContract {

    private static final Instant AT = Instant.parse("2026-03-02T06:00:00Z");
    private static final RowRule NEWEST =
            new RowRule(RowRule.Kind.LAST, RowRule.Scope.DATASET, List.of("id"), Optional.empty());
    private static final RowRule COUNTED =
            new RowRule(RowRule.Kind.COUNT, RowRule.Scope.DATASET, List.of(), Optional.empty());
    private static final AtomicInteger TESTS = new AtomicInteger();

    private DatasetDef dataset;
    private JobDef job;
    private Catalogue catalogue;

    /** The catalogue under test. */
    protected abstract Catalogue catalogue();

    /** The number of a new run, which the catalogue knows. */
    protected abstract long run(JobDef of, DatasetDef into);

    /** The folder that arrivals' files lie in. */
    protected abstract Path workspace();

    @BeforeEach
    void define() throws DefinitionException {
        catalogue = catalogue();
        dataset = dataset("samples" + TESTS.incrementAndGet());
        job = job("north" + TESTS.get(), dataset);
    }

    private static DatasetDef dataset(String name) throws DefinitionException {
        return Definitions.dataset(
                "datasets/" + name + ".yaml", "dataset: " + name + "\ncolumns:\n  - {name: id, type: text}\n");
    }

    private static JobDef job(String name, DatasetDef into) throws DefinitionException {
        return Definitions.job(
                "jobs/" + name + ".yaml",
                "job: " + name + "\ninto: " + into.name() + "\nfind: [{folder: in, take: \"*.csv\"}]\n",
                any -> Optional.of(into),
                Set.of(into.name()));
    }

    // what a test says

    private LedgerEntry arrived(long run, int ordinal, String source, RowRule rule) {
        long id = Arrival.id(run, ordinal);
        Arrival arrival = new Arrival(
                id,
                run,
                job.name(),
                source,
                1,
                new Order(run, ordinal - 1, ordinal),
                0,
                true,
                true,
                false,
                "content" + ordinal,
                rule,
                "part-" + id,
                10,
                false,
                false);
        return new LedgerEntry(
                arrival,
                source,
                workspace().resolve("in").resolve(source),
                1,
                new Fingerprint(100, AT.minusSeconds(60), AT.minusSeconds(50), "content" + ordinal),
                AT,
                "rules",
                dataset.version(),
                2,
                Optional.empty(),
                run,
                "leave",
                Fate.LEFT,
                0,
                new Standing(true, true, true, 0, Optional.empty()));
    }

    private LedgerEntry arrived(long run, int ordinal, String source) {
        return arrived(run, ordinal, source, RowRule.NONE);
    }

    private static FileResult result(LedgerEntry entry, int ordinal) {
        return new FileResult(
                ordinal,
                1,
                entry.arrival().source(),
                entry.file().toString(),
                entry.file().toString(),
                entry.name(),
                Outcome.LOADED,
                12,
                10,
                0,
                0,
                2,
                Optional.empty(),
                0,
                List.of(new ReasonGroup("row-width", "", 2, List.of())),
                entry.fingerprint(),
                List.of("id"),
                List.of("a note"),
                Optional.empty(),
                3);
    }

    private Route route(LedgerEntry entry, int ordinal, String target) {
        return new Route(
                entry.arrival().entry(),
                ordinal,
                job.name(),
                entry.file().toString(),
                entry.arrival().source(),
                Routing.Kind.MOVE,
                entry.file(),
                workspace().resolve(target),
                entry.fingerprint(),
                Outcome.LOADED,
                0,
                List.of(entry.arrival().id()));
    }

    private Catalogue.Commit commit(
            long run,
            List<LedgerEntry> fresh,
            List<LedgerEntry> touched,
            Optional<Look> look,
            List<LedgerEntry> changed,
            boolean ledger,
            List<Route> routes) {
        Map<Integer, LedgerEntry> byOrdinal = new HashMap<>();
        List<FileResult> results = new ArrayList<>();
        for (LedgerEntry entry : fresh) {
            byOrdinal.put(entry.arrival().place().ordinal(), entry);
            results.add(result(entry, entry.arrival().place().ordinal()));
        }
        return new Catalogue.Commit(run, job, dataset, AT, results, byOrdinal, touched, look, changed, ledger, routes);
    }

    private List<LedgerEntry> load(long run, LedgerEntry... fresh) {
        catalogue.commit(commit(run, List.of(fresh), List.of(), Optional.empty(), List.of(), true, List.of()));
        return List.of(fresh);
    }

    private long act(String kind, long of, Set<Long> arrivals, LedgerEntry... changed) {
        return catalogue.record(new Catalogue.Act(
                kind, job.name(), dataset, of, arrivals, List.of(changed), List.of("what it did"), 0, 0));
    }

    private static LedgerEntry out(LedgerEntry entry) {
        return entry.with(Standing.NOWHERE);
    }

    private List<LedgerEntry> entries() {
        return catalogue.history(dataset.name(), Optional.empty()).entries();
    }

    // the log

    @Test
    void knowsNothingAtFirst() {
        assertThat(catalogue.history(dataset.name(), Optional.empty())).isEqualTo(History.EMPTY);
        assertThat(catalogue.parts(dataset.name())).isEmpty();
        assertThat(catalogue.comparesRows(dataset.name())).isFalse();
        assertThat(catalogue.sharedHeader(job.name())).isEmpty();
        assertThat(catalogue.definitionsInUse(dataset.name())).isEmpty();
        assertThat(catalogue.pending(job.name())).isEmpty();
    }

    @Test
    void givesBackWhatArrivedInTheOrderOfArrival() {
        long run = run(job, dataset);
        LedgerEntry last = arrived(run, 3, "ü '%_!.csv#Tab 1", NEWEST);
        LedgerEntry rejected = out(arrived(run, 1, "x".repeat(250) + ".csv"))
                .seen(
                        new Fingerprint(0, AT, AT, ""),
                        AT,
                        Optional.of(new Reason(ReasonCode.FILE_EMPTY, "The file is empty")),
                        run);
        RoaringBitmap masked = RoaringBitmap.bitmapOf(0, 9);
        LedgerEntry partly = arrived(run, 2, "b.csv").with(new Standing(true, true, true, 0, Optional.of(masked)));
        load(run, last, rejected, partly);
        assertThat(entries()).containsExactly(rejected, partly, last);
        long later = run(job, dataset);
        LedgerEntry copy = arrived(later, 1, "copy.csv")
                .with(new Standing(true, false, true, last.arrival().id(), Optional.empty()));
        load(later, copy);
        assertThat(entries()).containsExactly(rejected, partly, last, copy);
    }

    @Test
    void keepsDatasetsAndJobsApart() throws DefinitionException {
        long first = run(job, dataset);
        LedgerEntry mine = arrived(first, 1, "a.csv");
        catalogue.commit(commit(
                first,
                List.of(mine),
                List.of(),
                Optional.of(new Look(first, job.name(), Set.of("1 a.csv"))),
                List.of(),
                true,
                List.of(route(mine, 1, "done/a.csv"))));
        List<Route> ofMine = List.of(route(mine, 1, "done/a.csv"));
        JobDef own = job;
        job = job("south" + TESTS.incrementAndGet(), dataset);
        long second = run(job, dataset);
        LedgerEntry theirs = load(second, arrived(second, 1, "a.csv")).get(0);
        assertThat(entries()).containsExactly(mine, theirs);
        assertThat(catalogue.history(dataset.name(), Optional.of(own.name())).entries())
                .containsExactly(mine);
        assertThat(catalogue.history(dataset.name(), Optional.of(job.name())))
                .satisfies(
                        history -> assertThat(history.entries()).containsExactly(theirs),
                        history -> assertThat(history.looks()).isEmpty());
        assertThat(catalogue.pending(job.name())).isEmpty();
        assertThat(catalogue.pending(own.name())).isEqualTo(ofMine);
        assertThat(catalogue.pending(null)).containsAll(ofMine);
        String before = dataset.name();
        dataset = dataset("other" + TESTS.get());
        assertThat(catalogue.history(dataset.name(), Optional.empty())).isEqualTo(History.EMPTY);
        assertThat(catalogue.parts(dataset.name())).isEmpty();
        assertThat(catalogue.definitionsInUse(dataset.name())).isEmpty();
        long undo = act("undo", first, Set.of());
        assertThat(catalogue.history(before, Optional.empty()).undone()).isEmpty();
        assertThat(catalogue.history(dataset.name(), Optional.empty()).undone())
                .containsExactly(Map.entry(undo, first));
    }

    @Test
    void learnsNothingOfResultsThatAreForTheReportAlone() {
        long run = run(job, dataset);
        LedgerEntry entry = arrived(run, 1, "a.csv");
        catalogue.commit(commit(
                run,
                List.of(entry),
                List.of(),
                Optional.of(new Look(run, job.name(), Set.of())),
                List.of(),
                false,
                List.of()));
        assertThat(catalogue.history(dataset.name(), Optional.empty())).isEqualTo(History.EMPTY);
    }

    @Test
    void commitsAllOrNothing() {
        long run = run(job, dataset);
        LedgerEntry first = load(run, arrived(run, 1, "a.csv")).get(0);
        LedgerEntry second = arrived(run, 2, "b.csv");
        LedgerEntry unknown = arrived(run, 99, "never.csv");
        Optional<Look> look = Optional.of(new Look(run, job.name(), Set.of()));
        List<Route> routes = List.of(route(second, 2, "done/b.csv"));
        List<LedgerEntry> gone = List.of(out(first));
        assertThatThrownBy(() ->
                        catalogue.commit(commit(run, List.of(second, first), List.of(), look, gone, true, routes)))
                .isInstanceOf(RuntimeException.class);
        assertThatThrownBy(() ->
                        catalogue.commit(commit(run, List.of(second), List.of(unknown), look, gone, true, routes)))
                .isInstanceOf(RuntimeException.class);
        assertThatThrownBy(() -> catalogue.commit(
                        commit(run, List.of(second), List.of(), look, List.of(out(first), unknown), true, routes)))
                .isInstanceOf(RuntimeException.class);
        assertThatThrownBy(() -> catalogue.settle(List.of(out(first), unknown))).isInstanceOf(RuntimeException.class);
        assertThatThrownBy(() -> act("undo", run, Set.of(), out(first), unknown))
                .isInstanceOf(RuntimeException.class);
        assertThat(catalogue.history(dataset.name(), Optional.empty()))
                .isEqualTo(new History(List.of(first), List.of(), Map.of(), Map.of(), Map.of()));
        assertThat(catalogue.pending(job.name())).isEmpty();
    }

    @Test
    void learnsWherePartsLieNowAllOrNothing() {
        long run = run(job, dataset);
        load(run, arrived(run, 1, "a.csv"), arrived(run, 2, "b.csv"));
        Map<String, String> names = new HashMap<>();
        entries().forEach(entry -> names.put(entry.arrival().part(), "samples/0-merged#" + names.size() + "+1"));
        assertThat(names).hasSize(2);
        Map<String, String> more = new HashMap<>(names);
        more.put("samples/unknown.parquet", "samples/other.parquet");
        List<LedgerEntry> before = entries();
        assertThat(catalogue.movedParts(dataset.name(), more)).isFalse();
        assertThat(entries()).isEqualTo(before);
        assertThat(catalogue.movedParts(dataset.name(), names)).isTrue();
        assertThat(entries())
                .isEqualTo(before.stream()
                        .map(entry -> entry.with(entry.arrival()
                                .withPart(names.get(entry.arrival().part()))))
                        .toList());
    }

    @Test
    void learnsHowAKnownFileLooksNow() {
        long run = run(job, dataset);
        LedgerEntry first = load(run, arrived(run, 1, "a.csv")).get(0);
        long later = run(job, dataset);
        Fingerprint now = new Fingerprint(100, AT.plusSeconds(5), AT.plusSeconds(6), "content1");
        LedgerEntry seen =
                first.seen(now, AT.plusSeconds(9), Optional.of(new Reason(ReasonCode.COPY, "A copy")), later);
        LedgerEntry touched = out(seen.with(new Fate(
                Fate.Kind.DELETED,
                Optional.empty(),
                later))); // how it stands, and where it lies, is not what it is seen by
        catalogue.commit(commit(later, List.of(), List.of(touched), Optional.empty(), List.of(), true, List.of()));
        assertThat(entries()).containsExactly(seen);
        catalogue.commit(commit(later, List.of(), List.of(first), Optional.empty(), List.of(), true, List.of()));
        assertThat(entries()).containsExactly(first);
    }

    @Test
    void remembersLooks() {
        long run = run(job, dataset);
        Look look = new Look(run, job.name(), Set.of("1 a.csv", "2 ü.csv"));
        catalogue.commit(commit(
                run, List.of(arrived(run, 1, "a.csv")), List.of(), Optional.of(look), List.of(), true, List.of()));
        long later = run(job, dataset);
        Look nothing = new Look(later, job.name(), Set.of());
        catalogue.commit(commit(later, List.of(), List.of(), Optional.of(nothing), List.of(), true, List.of()));
        assertThat(catalogue.history(dataset.name(), Optional.of(job.name())).looks())
                .containsExactly(look, nothing);
    }

    @Test
    void changesHowArrivalsStandAndNothingElse() {
        long run = run(job, dataset);
        LedgerEntry first = arrived(run, 1, "a.csv");
        LedgerEntry second = arrived(run, 2, "b.csv");
        load(run, first, second);
        LedgerEntry otherwise = out(first)
                .seen(new Fingerprint(1, AT, AT, "other"), AT, Optional.empty(), 0)
                .with(new Fate(Fate.Kind.DELETED, Optional.empty(), run));
        long later = run(job, dataset);
        catalogue.commit(commit(later, List.of(), List.of(), Optional.empty(), List.of(otherwise), true, List.of()));
        assertThat(entries()).containsExactly(out(first), second);
        Standing masked = new Standing(true, true, true, 0, Optional.of(RoaringBitmap.bitmapOf(3)));
        catalogue.settle(List.of(first, second.with(masked)));
        assertThat(entries()).containsExactly(first, second.with(masked));
        catalogue.settle(List.of());
        assertThat(entries()).containsExactly(first, second.with(masked));
    }

    // what follows from it

    @Test
    void partsAreThoseOfWhichRowsCount() {
        long run = run(job, dataset);
        LedgerEntry partly = arrived(run, 2, "b.csv")
                .with(new Standing(true, true, true, 0, Optional.of(RoaringBitmap.bitmapOf(1, 2))));
        LedgerEntry whole = arrived(run, 1, "a.csv");
        LedgerEntry empty = arrived(run, 4, "c.csv");
        empty = empty.with(empty.arrival().withPart("").withRows(0, false));
        load(run, partly, whole, out(arrived(run, 3, "out.csv")), empty);
        assertThat(catalogue.parts(dataset.name())).containsExactly(part(whole, 10), part(partly, 8));
        catalogue.settle(List.of(out(whole)));
        assertThat(catalogue.parts(dataset.name())).containsExactly(part(partly, 8));
    }

    private Part part(LedgerEntry entry, long rows) {
        return new Part(
                entry.arrival().id(),
                entry.arrival().part(),
                dataset.name(),
                job.name(),
                entry.arrival().source(),
                entry.file().toString(),
                rows,
                entry.arrival().entry(),
                entry.arrival().content() + " " + entry.rules() + " " + entry.datasetVersion(),
                entry.standing().masked());
    }

    @Test
    void rowsAreComparedWhereAnArrivalThatCountsSaysSo() {
        long run = run(job, dataset);
        LedgerEntry counted = arrived(run, 1, "a.csv", COUNTED);
        LedgerEntry newest = arrived(run, 2, "b.csv", NEWEST);
        load(run, counted);
        assertThat(catalogue.comparesRows(dataset.name())).isFalse();
        load(run, newest);
        assertThat(catalogue.comparesRows(dataset.name())).isTrue();
        catalogue.settle(List.of(out(newest)));
        assertThat(catalogue.comparesRows(dataset.name())).isFalse();
    }

    @Test
    void theLastSharedHeaderOfAJobIsRemembered() {
        catalogue.sharedHeader(job.name(), "id;wert");
        catalogue.sharedHeader(job.name(), "id;größe");
        assertThat(catalogue.sharedHeader(job.name())).contains("id;größe");
        assertThat(catalogue.sharedHeader(job.name() + "x")).isEmpty();
    }

    @Test
    void definitionsInUseAreThoseOfPartsThatCount() throws DefinitionException {
        long run = run(job, dataset);
        LedgerEntry old = load(run, arrived(run, 1, "a.csv")).get(0);
        String before = dataset.text();
        dataset = Definitions.dataset(
                "datasets/" + dataset.name() + ".yaml", before + "  - {name: value, type: integer}\n");
        long later = run(job, dataset);
        load(later, arrived(later, 1, "b.csv"));
        assertThat(catalogue.definitionsInUse(dataset.name()))
                .containsExactlyInAnyOrder(
                        new Catalogue.InUse(before, Set.of(job.name())),
                        new Catalogue.InUse(dataset.text(), Set.of(job.name())));
        catalogue.settle(List.of(out(old)));
        assertThat(catalogue.definitionsInUse(dataset.name()))
                .containsExactly(new Catalogue.InUse(dataset.text(), Set.of(job.name())));
    }

    // acts

    @Test
    void actsAreEntriesOfTheHistory() {
        long run = run(job, dataset);
        LedgerEntry first = arrived(run, 1, "a.csv");
        LedgerEntry second = arrived(run, 2, "b.csv");
        load(run, first, second);
        long ofFirst = first.arrival().id();
        long removal = act("remove", 0, Set.of(ofFirst), out(first));
        long dismissal = act("dismiss", 0, Set.of(ofFirst, second.arrival().id()));
        long undo = act("undo", removal, Set.of(), first);
        long redo = act("undo", undo, Set.of(), out(first));
        assertThat(List.of(run, removal, dismissal, undo, redo)).isSorted().doesNotHaveDuplicates();
        assertThat(catalogue.history(dataset.name(), Optional.empty()))
                .isEqualTo(new History(
                        List.of(out(first), second),
                        List.of(),
                        Map.of(undo, removal, redo, undo),
                        Map.of(removal, Set.of(ofFirst)),
                        Map.of(dismissal, Set.of(ofFirst, second.arrival().id()))));
        assertThat(run(job, dataset)).isGreaterThan(redo);
    }

    // files

    @Test
    void whatIsToBeDoneWithFilesIsKeptUntilItIsDone() {
        long run = run(job, dataset);
        LedgerEntry[] files = {arrived(run, 2, "b.csv"), arrived(run, 1, "a.csv"), arrived(run, 3, "c.csv")};
        List<Route> routes = Arrays.stream(files)
                .map(file -> route(file, file.arrival().place().ordinal(), "done/" + file.name()))
                .toList();
        catalogue.commit(commit(run, List.of(files), List.of(), Optional.empty(), List.of(), true, routes));
        assertThat(catalogue.pending(job.name())).isEqualTo(routes);
        Route other = routes.get(1).to(workspace().resolve("done/a-2.csv"));
        catalogue.redirect(other);
        assertThat(catalogue.pending(job.name())).containsExactly(routes.get(0), other, routes.get(2));
        Route.Done moved = new Route.Done(other, Optional.of(other.target()), Optional.empty(), Optional.empty());
        Route.Done failed = new Route.Done(
                routes.get(0), Optional.empty(), Optional.of("The folder cannot be written to"), Optional.empty());
        Route.Done changed = new Route.Done(
                routes.get(2),
                Optional.empty(),
                Optional.empty(),
                Optional.of("The file has changed meanwhile and was left"));
        catalogue.routed(List.of(moved, failed, changed));
        assertThat(catalogue.pending(job.name())).containsExactly(routes.get(0));
        assertThat(entries())
                .containsExactly(
                        files[1].with(new Fate(Fate.Kind.MOVED, Optional.of(other.target()), run)), files[0], files[2]);
        catalogue.routed(List.of(moved)); // ticked off twice does no harm
        assertThat(catalogue.pending(job.name())).containsExactly(routes.get(0));
    }

    @Test
    void manyMayWriteAtOnce() throws Exception {
        long run = run(job, dataset);
        ExecutorService threads = Executors.newFixedThreadPool(4);
        try {
            List<Future<?>> work = new ArrayList<>();
            for (int i = 1; i <= 80; i++) {
                LedgerEntry entry = arrived(run, i, "f" + i + ".csv");
                work.add(threads.submit(() -> {
                    load(run, entry);
                    assertThat(entries()).as("who asks after a change sees it").contains(entry);
                    assertThat(catalogue.parts(dataset.name()))
                            .anyMatch(part -> part.arrival() == entry.arrival().id());
                }));
                work.add(threads.submit(() -> assertThat(entries()).hasSizeLessThanOrEqualTo(80)));
            }
            for (Future<?> one : work) {
                one.get();
            }
        } finally {
            threads.shutdown();
        }
        assertThat(entries())
                .hasSize(80)
                .extracting(entry -> entry.arrival().id())
                .isSorted();
        assertThat(catalogue.parts(dataset.name())).hasSize(80);
    }
}
