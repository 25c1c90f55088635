package dev.hapster.service.deliver;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.DeliveryDef;
import dev.hapster.core.definition.DeliveryDef.ToFiles;
import dev.hapster.core.definition.DeliveryDef.ToTable;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.deliver.FileDelivery;
import dev.hapster.core.deliver.Handover;
import dev.hapster.core.deliver.Handover.Change;
import dev.hapster.core.deliver.Searches;
import dev.hapster.core.deliver.Searches.Search;
import dev.hapster.core.deliver.table.DatabaseException;
import dev.hapster.core.deliver.table.StoreId;
import dev.hapster.core.deliver.table.TableDelivery;
import dev.hapster.core.find.Roots;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.work.LittleMemoryException;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.catalogue.StoredDeliveries;
import dev.hapster.service.catalogue.record.DeliveryRecord;
import dev.hapster.service.catalogue.record.DeliveryRecord.State;
import dev.hapster.service.data.StoredRows;
import dev.hapster.service.runs.DatasetChanged;
import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.annotation.Priority;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.interceptor.Interceptor;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Future;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ScheduledThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import org.apache.commons.lang3.exception.ExceptionUtils;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Does deliveries, one after the other: after whatever changes rows, when somebody calls for them, and again, with
 * growing pauses, where they failed. Thread-safe.
 */
@ApplicationScoped
public class Deliveries {

    private static final Logger LOG = LoggerFactory.getLogger(Deliveries.class);
    private static final Duration FIRST_PAUSE = Duration.ofMillis(
            Long.getLong("hapster.delivery-pause", Duration.ofMinutes(1).toMillis()));
    private static final Duration LONGEST_PAUSE = Duration.ofHours(1);

    private final Workspace workspace;
    private final Roots roots;
    private final StoredRows rows;
    private final StoredDeliveries records;
    private final Clock clock;
    private final ObjectMapper json;
    /**
     * Files are written one after the other, and so are the tables of each account: a slow server keeps up no other.
     */
    private final Map<String, ScheduledThreadPoolExecutor> lanes = new ConcurrentHashMap<>();

    private volatile boolean stopping;
    /** Those that failed, and when they are tried again. */
    private final Map<Key, Trouble> troubles = new HashMap<>();
    /** For which definition and rows deliveries were done last, since the start. */
    private final Map<Key, String> upToDate = new ConcurrentHashMap<>();

    Deliveries(
            Workspace workspace,
            Roots roots,
            StoredRows rows,
            StoredDeliveries records,
            Clock clock,
            ObjectMapper json) {
        this.workspace = workspace;
        this.roots = roots;
        this.rows = rows;
        this.records = records;
        this.clock = clock;
        this.json = json;
    }

    private static String lane(DeliveryDef delivery) {
        return delivery.to() instanceof ToTable table ? table.account() : "";
    }

    private ScheduledThreadPoolExecutor lane(String account) {
        return lanes.computeIfAbsent(account, fresh -> {
            ScheduledThreadPoolExecutor lane = new ScheduledThreadPoolExecutor(1, task -> {
                Thread thread = new Thread(task, "deliveries " + fresh);
                thread.setDaemon(true);
                return thread;
            });
            lane.setExecuteExistingDelayedTasksAfterShutdownPolicy(false);
            return lane;
        });
    }

    private record Key(String dataset, String delivery) {}

    /**
     * A delivery that failed.
     *
     * @param pause after which it is tried again
     * @param next when that is; empty where it waits for somebody
     */
    private record Trouble(String why, Duration pause, Optional<Instant> next) {}

    /** After all else that a start does. What was missed while the service was down is made up for. */
    void onStart(@Observes @Priority(Interceptor.Priority.PLATFORM_AFTER) StartupEvent start) throws IOException {
        records.breakOff("The service was stopped before it was done");
        for (String dataset : workspace.datasets()) {
            afterChange(dataset, null);
        }
    }

    /** Nobody is interrupted: that would close the catalogue's file. */
    void onStop(@Observes ShutdownEvent stop) throws InterruptedException {
        stopping = true;
        lanes.values().forEach(ScheduledThreadPoolExecutor::shutdown);
        Instant end = Instant.now().plusSeconds(10);
        for (ScheduledThreadPoolExecutor lane : lanes.values()) {
            if (!lane.awaitTermination(Duration.between(Instant.now(), end).toMillis(), TimeUnit.MILLISECONDS)) {
                LOG.warn("A delivery did not end in time; it is done at the next start");
            }
        }
    }

    void onChange(@Observes DatasetChanged change) {
        afterChange(change.dataset(), change.entry());
    }

    private void submit(DeliveryDef delivery, Runnable task) {
        try {
            lane(lane(delivery)).execute(() -> guarded(task));
        } catch (RejectedExecutionException stopping) {
            LOG.info("The service is stopping; deliveries are done at the next start");
        }
    }

    private void guarded(Runnable task) {
        try {
            if (!stopping) {
                task.run();
            }
        } catch (RuntimeException wrong) {
            LOG.error("A delivery failed, and that cannot be recorded", wrong);
        }
    }

    /** Does the deliveries of a dataset that are done after each run. */
    private void afterChange(String dataset, Long entry) {
        List<DeliveryDef> declared;
        try {
            declared = workspace.dataset(dataset).deliveries();
        } catch (IOException | DefinitionException | UnknownNameException unreadable) {
            LOG.warn("Deliveries of {} are not done: its file cannot be read", dataset);
            return;
        }
        for (DeliveryDef delivery : declared) {
            if (delivery.eachRun()) {
                submit(delivery, () -> perform(new Key(dataset, delivery.name()), entry, Optional.empty()));
            }
        }
    }

    /**
     * Does a delivery as soon as those before it are done.
     *
     * @return number under which it is found
     */
    public long call(String dataset, String name)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        DeliveryDef delivery = find(workspace.dataset(dataset), name);
        long id = records.queue(dataset, name);
        submit(delivery, () -> perform(new Key(dataset, name), null, Optional.of(id)));
        return id;
    }

    /** What would be done. Nothing is written. */
    public Handover trial(String dataset, String name)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        DatasetDef def = workspace.dataset(dataset);
        DeliveryDef delivery = find(def, name);
        if (delivery.to() instanceof ToTable to) {
            TableDelivery table = table(def, delivery, to);
            return rows.ask(dataset, false, table::trial).found();
        }
        return rows.ask(dataset, false, all -> files(def, delivery).trial(all)).found();
    }

    private FileDelivery files(DatasetDef dataset, DeliveryDef delivery) throws IOException {
        return new FileDelivery(
                dataset,
                delivery,
                (ToFiles) delivery.to(),
                workspace.folder(),
                roots.keepingOf(workspace.folder()),
                searches(),
                records,
                rows.scratch());
    }

    private TableDelivery table(DatasetDef dataset, DeliveryDef delivery, ToTable to)
            throws IOException, DefinitionException, QueryException {
        try {
            return new TableDelivery(
                    dataset,
                    delivery,
                    to,
                    workspace.account(to.account()),
                    workspace.folder(),
                    StoreId.of(workspace.store()),
                    this::isDeclared);
        } catch (UnknownNameException unknown) {
            throw new QueryException(unknown.getMessage() + ". " + unknown.hint());
        }
    }

    private boolean isDeclared(String dataset, String delivery) {
        try {
            return workspace.datasets().contains(dataset)
                    && workspace.dataset(dataset).deliveries().stream()
                            .anyMatch(one -> one.name().equals(delivery));
        } catch (IOException | DefinitionException | UnknownNameException unreadable) {
            return true; // it may be
        }
    }

    /** Where the jobs of the workspace search. */
    private Searches searches() throws IOException {
        List<Search> all = new ArrayList<>();
        for (String name : workspace.jobs()) {
            try {
                workspace
                        .search(name, workspace.jobText(name), Map.of())
                        .places()
                        .values()
                        .forEach(place ->
                                all.add(new Search(name, roots.resolve(workspace.folder(), place.folder()), place)));
            } catch (DefinitionException | UnknownNameException unreadable) {
                LOG.info("Where the job {} searches is not known: its file has mistakes", name);
            }
        }
        return new Searches(all);
    }

    private static DeliveryDef find(DatasetDef dataset, String name) throws UnknownNameException {
        return dataset.deliveries().stream()
                .filter(one -> one.name().equals(name))
                .findFirst()
                .orElseThrow(() -> UnknownNameException.delivery(
                        dataset.name(),
                        name,
                        dataset.deliveries().stream().map(DeliveryDef::name).toList()));
    }

    /**
     * Does a delivery.
     *
     * @param called the number under which it was entered, where somebody called for it; what is done by itself is
     *     entered only where it changed something, failed, or had failed before
     */
    private void perform(Key key, Long entry, Optional<Long> called) {
        String lane = "";
        try {
            DatasetDef def = workspace.dataset(key.dataset());
            DeliveryDef delivery = find(def, key.delivery());
            lane = lane(delivery);
            Optional<TableDelivery> table =
                    delivery.to() instanceof ToTable to ? Optional.of(table(def, delivery, to)) : Optional.empty();
            Optional<Handover> handover = rows.ask(key.dataset(), false, all -> {
                        String state = def.version() + " " + all.state()
                                + table.map(TableDelivery::place).orElse("");
                        if (called.isEmpty() && isUpToDate(key, state)) {
                            return Optional.<Handover>empty();
                        }
                        Handover whole = table.isPresent()
                                ? table.get().deliver(all, called.isPresent(), called.isPresent() || entry != null)
                                : files(def, delivery).deliver(all);
                        upToDate.put(key, state);
                        return Optional.of(whole);
                    })
                    .found();
            if (handover.isEmpty()) {
                return;
            }
            Handover done = handover.get();
            boolean failedBefore = settled(key);
            boolean changed = done.count(Change.UNCHANGED) < done.files().size();
            if (called.isPresent() || changed || failedBefore) {
                ended(key, entry, called, State.DONE, record -> enter(record, done));
                records.forget(
                        key.dataset(),
                        key.delivery(),
                        clock.instant().minus(def.retain().history()));
                LOG.info(
                        "Delivery {} of {}: {} files written, {} unchanged, {} removed",
                        key.delivery(),
                        key.dataset(),
                        done.count(Change.WRITTEN),
                        done.count(Change.UNCHANGED),
                        done.count(Change.REMOVED));
            }
        } catch (IOException | DefinitionException | UnknownNameException | QueryException | RuntimeException wrong) {
            failed(lane, key, entry, called, wrong);
        } catch (OutOfMemoryError | StackOverflowError much) {
            failed(lane, key, entry, called, new LittleMemoryException(much));
        }
    }

    /** Whether a delivery was done for the same rows, so that no row need be looked at. */
    private synchronized boolean isUpToDate(Key key, String state) {
        return !troubles.containsKey(key) && state.equals(upToDate.get(key));
    }

    private void ended(Key key, Long entry, Optional<Long> called, State state, Consumer<DeliveryRecord> what) {
        if (called.isPresent()) {
            records.ended(called.get(), state, what);
        } else {
            records.ended(key.dataset(), key.delivery(), entry, state, what);
        }
    }

    private void enter(DeliveryRecord record, Handover done) {
        record.rows = done.rows();
        record.bytes = done.bytes();
        record.written = (int) done.count(Change.WRITTEN);
        record.unchanged = (int) done.count(Change.UNCHANGED);
        record.removed = (int) done.count(Change.REMOVED);
        record.notes = String.join("\n", done.notes());
        record.files = write(done);
    }

    /**
     * A file that a delivery wrote, removed or left.
     *
     * @param path relative to the workspace where it lies below it
     * @param checksum SHA-256
     */
    public record Changed(String path, Change change, long rows, long bytes, String checksum) {}

    private static final int MOST_LISTED = 1000;

    /** The files of which something became. */
    public List<Changed> changed(Handover done) {
        return done.files().stream()
                .filter(file -> file.change() != Change.UNCHANGED)
                .limit(MOST_LISTED)
                .map(file -> new Changed(
                        records.shown(file.path()), file.change(), file.rows(), file.bytes(), file.checksum()))
                .toList();
    }

    /** The same, of what was entered. */
    public List<Changed> changed(DeliveryRecord record) {
        try {
            return record.files == null ? List.of() : List.of(json.readValue(record.files, Changed[].class));
        } catch (JsonProcessingException impossible) {
            throw new IllegalStateException("It was written by ourselves", impossible);
        }
    }

    private String write(Handover done) {
        try {
            return json.writeValueAsString(changed(done));
        } catch (JsonProcessingException impossible) {
            throw new IllegalStateException("It holds texts and numbers", impossible);
        }
    }

    private synchronized boolean settled(Key key) {
        return troubles.remove(key) != null;
    }

    private void failed(String lane, Key key, Long entry, Optional<Long> called, Exception wrong) {
        String why = wrong instanceof QueryException || wrong instanceof UnknownNameException
                ? wrong.getMessage()
                : Reasons.deepest(wrong);
        Duration pause;
        boolean news;
        boolean declared = !(wrong instanceof UnknownNameException);
        Optional<Instant> next;
        synchronized (this) {
            Trouble before = troubles.get(key);
            pause = before == null ? FIRST_PAUSE : min(before.pause().multipliedBy(2), LONGEST_PAUSE);
            news = before == null || !before.why().equals(why);
            next = declared && !waitsForSomebody(wrong)
                    ? Optional.of(clock.instant().plus(pause))
                    : Optional.empty();
            if (declared) {
                troubles.put(key, new Trouble(why, pause, next));
            } else {
                troubles.remove(key);
            }
        }
        if (wrong instanceof RuntimeException) {
            LOG.error("Delivery {} of {} failed", key.delivery(), key.dataset(), wrong);
        } else {
            LOG.warn("Delivery {} of {} failed: {}", key.delivery(), key.dataset(), why);
        }
        if (called.isPresent() || news) {
            ended(key, entry, called, State.FAILED, record -> record.failure = why);
        }
        if (next.isPresent()) {
            try {
                Future<?> unused = lane(lane)
                        .schedule(
                                () -> guarded(() -> again(key, entry, next)), pause.toMillis(), TimeUnit.MILLISECONDS);
            } catch (RejectedExecutionException stopping) {
                LOG.info("The service is stopping; deliveries are done at the next start");
            }
        }
    }

    /** Whether trying again would do harm, or no good: a password or a key of another machine is wrong. */
    private static boolean waitsForSomebody(Exception wrong) {
        return ExceptionUtils.getThrowableList(wrong).stream()
                .anyMatch(cause -> (cause instanceof DatabaseException database && database.isLogin())
                        || (cause instanceof RemoteFault fault && !fault.isPassing()));
    }

    /** Tries again, unless somebody else has had it tried since. */
    private void again(Key key, Long entry, Optional<Instant> moment) {
        boolean due;
        synchronized (this) {
            Trouble trouble = troubles.get(key);
            due = trouble != null && trouble.next().equals(moment);
        }
        if (due) {
            perform(key, entry, Optional.empty());
        }
    }

    private static Duration min(Duration one, Duration other) {
        return one.compareTo(other) < 0 ? one : other;
    }

    /** When a delivery that failed is tried again by itself; empty where it did not fail, or is not. */
    public synchronized Optional<Instant> next(String dataset, String name) {
        return Optional.ofNullable(troubles.get(new Key(dataset, name))).flatMap(Trouble::next);
    }

    /** Deliveries that fail, a sentence each. */
    public synchronized List<String> problems() {
        return troubles.entrySet().stream()
                .map(one -> "The delivery " + one.getKey().delivery() + " of "
                        + one.getKey().dataset() + " failed: "
                        + one.getValue().why()
                        + one.getValue()
                                .next()
                                .map(moment -> ". It is tried again at " + moment.truncatedTo(ChronoUnit.SECONDS))
                                .orElse(". It is not tried again before rows change or somebody calls")
                        + "; hapster deliver " + one.getKey().dataset() + " "
                        + one.getKey().delivery()
                        + " does so now")
                .sorted()
                .toList();
    }
}
