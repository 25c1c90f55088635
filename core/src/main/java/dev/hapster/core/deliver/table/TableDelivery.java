package dev.hapster.core.deliver.table;

import com.dynatrace.hash4j.hashing.Hashing;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.DeliveryDef;
import dev.hapster.core.definition.DeliveryDef.Mode;
import dev.hapster.core.definition.DeliveryDef.ToTable;
import dev.hapster.core.deliver.Handover;
import dev.hapster.core.deliver.table.Marker.Known;
import dev.hapster.core.deliver.table.Marker.State;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.DatasetQuery.Selection;
import dev.hapster.core.query.PartExport;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.reason.Reasons;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Hands rows over to a table. One object does one delivery once. Not thread-safe.
 *
 * <p>Rows, and what is known of them beside the table, change in one transaction: whenever it is cut off, all of it is
 * done or nothing.
 */
public final class TableDelivery {

    /** To be raised where the same rows are written otherwise than before. */
    private static final String FORM = "1";

    private static final String LOCK_TIMEOUT = "30s";

    private final DatasetDef dataset;
    private final DeliveryDef delivery;
    private final ToTable to;
    private final Path workspace;
    private final String store;
    private final Owners owners;
    private final Database database;

    /**
     * @param workspace to which the path of a password's file is relative
     * @param store by which the store is told from others
     * @throws QueryException where the account does not lead to a database
     */
    public TableDelivery(
            DatasetDef dataset,
            DeliveryDef delivery,
            ToTable to,
            AccountDef account,
            Path workspace,
            String store,
            Owners owners)
            throws QueryException {
        this.dataset = dataset;
        this.delivery = delivery;
        this.to = to;
        this.workspace = workspace;
        this.store = store;
        this.owners = owners;
        database = new Database(account, workspace);
    }

    /** Where its table lies: as long as this is the same, so is that. */
    public String place() {
        return database + " " + to.path();
    }

    /** Finds out what would be done. Nothing is written. */
    public Handover trial(DatasetQuery rows) throws IOException, QueryException {
        return perform(rows, false, true, true);
    }

    /**
     * Does it.
     *
     * @param all whether the rows in the table are counted, too, in case that others changed them
     * @param meant whether somebody did what rows changed by; otherwise a table is not emptied, since the dataset may
     *     have lost its catalogue
     * @throws QueryException where it cannot be done; nothing is written then
     */
    public Handover deliver(DatasetQuery rows, boolean all, boolean meant) throws IOException, QueryException {
        return perform(rows, true, all, meant);
    }

    private Handover perform(DatasetQuery rows, boolean really, boolean counted, boolean meant)
            throws IOException, QueryException {
        PartExport export =
                rows.byPart(new Selection(delivery.columns(), delivery.origins(), delivery.where(), List.of()));
        List<TableColumn> columns = TableColumn.of(export.columns(), to.mode() == Mode.FOLLOW);
        if (to.mode() == Mode.FOLLOW) {
            columns.add(TableColumn.PART);
        }
        try (Connection connection = database.open()) {
            connection.setAutoCommit(false);
            connection.setReadOnly(!really);
            if (really) {
                grow(connection, columns);
            }
            Transfer transfer = new Transfer(connection, export, columns, really, counted, meant);
            Handover done = transfer.perform();
            if (really) {
                CrashPoint.TABLE_WRITTEN.reached();
                connection.commit();
                CrashPoint.TABLE_COMMITTED.reached();
            }
            return done;
        } catch (SQLException wrong) {
            throw database.told(wrong);
        }
    }

    /**
     * Gives a table that is there the columns that it lacks, in a transaction of its own: those who read are kept
     * waiting while it is committed, and not while rows are put in.
     */
    private void grow(Connection connection, List<TableColumn> columns)
            throws SQLException, IOException, QueryException {
        Target target = begin(connection);
        if (target.isThere() && !others(target.missing(columns)).isEmpty()) {
            target.lock();
            checkOwner(target, read(target));
            target.add(others(target.missing(columns)));
        }
        connection.commit();
    }

    /** Without the one that says which part brought a row: where that is not there, nothing is known of the rows. */
    private static List<TableColumn> others(List<TableColumn> columns) {
        return columns.stream()
                .filter(column -> !column.equals(TableColumn.PART))
                .toList();
    }

    private Target begin(Connection connection) throws SQLException, QueryException {
        try (Statement set = connection.createStatement()) {
            set.execute("SET LOCAL lock_timeout = '" + LOCK_TIMEOUT + "'");
        }
        return Target.of(connection, to, database);
    }

    private static Optional<State> read(Target target) throws SQLException {
        Marker marker = target.marker();
        Optional<State> found = marker.isThere() ? marker.read() : Optional.empty();
        return found.isPresent() && isOf(target, found.get()) ? found : Optional.empty();
    }

    /**
     * Whether what is written down is of the table that is there, and not of one that was dropped. One that was
     * restored from a backup has just the rows that it should have.
     */
    private static boolean isOf(Target target, State state) throws SQLException {
        if (!target.isThere() || target.object() == state.object()) {
            return true;
        }
        if (state.mode() == Mode.FOLLOW) {
            Map<Long, Long> rows = target.has(TableColumn.PART) ? target.rowsByPart() : Map.of();
            return state.parts().stream().allMatch(part -> part.rows() == rows.getOrDefault(part.number(), 0L));
        }
        long known = state.parts().stream().mapToLong(Known::rows).sum();
        return state.mode() == Mode.REPLACE ? target.rows() == known : target.rows() >= known;
    }

    /**
     * Sees whether the table is this delivery's.
     *
     * @return what it is known to have; empty where it is taken over with nothing in it
     */
    private Optional<State> checkOwner(Target target, Optional<State> found) throws SQLException, QueryException {
        if (target.isEmpty()) {
            // of what is added once, others may take as much out as they like
            return found.filter(state -> target.isThere()
                    && isOwn(state)
                    && state.mode() == to.mode()
                    && (to.mode() == Mode.APPEND || state.parts().stream().allMatch(part -> part.rows() == 0)));
        }
        if (found.isEmpty()) {
            if (to.mode() == Mode.APPEND) {
                return found;
            }
            throw new QueryException("The table " + target + " at " + database
                    + " has rows that are not from a delivery. Nothing was changed. " + target.advice(to.mode()));
        }
        State state = found.get();
        if (!isOwn(state)) {
            throw new QueryException("The table " + target + " at " + database + " is filled by the delivery "
                    + state.delivery() + " of " + state.dataset()
                    + (state.store().equals(store) ? "" : " of another workspace")
                    + ". Nothing was changed. Deliver to another table. If that delivery is no more, empty this one: "
                    + "TRUNCATE " + target.quoted());
        }
        if (state.mode() != to.mode() && (state.mode() == Mode.APPEND || to.mode() == Mode.APPEND)) {
            throw new QueryException("The table " + target + " at " + database + " was filled with `mode: "
                    + word(state.mode()) + "` so far, and would now be with `mode: " + word(to.mode())
                    + "`. Nothing was changed. Deliver to another table, or empty this one: TRUNCATE "
                    + target.quoted());
        }
        return found;
    }

    private static String word(Mode mode) {
        return mode.name().toLowerCase(java.util.Locale.ROOT);
    }

    /** Also where its dataset or itself was called otherwise. */
    private boolean isOwn(State state) {
        boolean named =
                state.dataset().equals(dataset.name()) && state.delivery().equals(delivery.name());
        return state.store().equals(store) && (named || !owners.isDeclared(state.dataset(), state.delivery()));
    }

    /** By which it is told whether a table has the rows of a part. */
    private String content(PartFile part) {
        byte[] identity = to.mode() == Mode.APPEND ? part.name().getBytes(StandardCharsets.UTF_8) : part.identity();
        boolean byJob = delivery.where().stream().anyMatch(where -> where.contains(Fields.JOB.name()));
        String form = to.mode() == Mode.APPEND ? "" : FORM + delivery.where() + (byJob ? part.source() : "");
        return Hashing.xxh3_128()
                .hashStream()
                .putByteArray(identity)
                .putString(form)
                .get()
                .toString();
    }

    /** The file that its rows are from. */
    private static String source(PartFile part) {
        return part.source().substring(part.source().indexOf('\n') + 1);
    }

    /** What is done within one transaction. */
    private final class Transfer {
        private final Connection connection;
        private final PartExport export;
        private final List<TableColumn> columns;
        private final boolean really;
        private final boolean counted;
        private final boolean meant;
        private final Sources sources = new Sources(workspace);
        private final List<String> notes = new ArrayList<>();
        private Target target;

        Transfer(
                Connection connection,
                PartExport export,
                List<TableColumn> columns,
                boolean really,
                boolean counted,
                boolean meant) {
            this.connection = connection;
            this.export = export;
            this.columns = columns;
            this.really = really;
            this.counted = counted;
            this.meant = meant;
        }

        Handover perform() throws SQLException, IOException, QueryException {
            target = begin(connection);
            if (really) {
                target.lock();
                if (!target.marker().isThere()) {
                    target.lockSchema();
                    if (!target.marker().isThere()) {
                        target.marker().create();
                    }
                }
            }
            Optional<State> state = checkOwner(target, read(target));
            Map<String, PartFile> wanted = new LinkedHashMap<>();
            export.parts().forEach(part -> wanted.put(content(part), part));
            List<Known> kept = new ArrayList<>(state.map(State::parts).orElse(List.of()));
            checkMeant(kept);
            List<Known> gone = new ArrayList<>();
            boolean whole = sort(state, wanted, kept, gone);
            kept.forEach(part -> wanted.remove(part.content()));
            kept.forEach(part -> sources.kept(part.source(), part.rows()));
            gone.forEach(part -> sources.gone(part.source()));
            List<Known> fresh = new ArrayList<>();
            if (really) {
                prepare();
                long next = state.map(State::next).orElse(1L);
                remove(gone, whole);
                next = copy(wanted, next, fresh);
                note(state, next, gone, fresh);
            } else {
                if (target.isThere()) {
                    target.missing(columns)
                            .forEach(column -> notes.add(
                                    "The table gets the column " + column.name() + " (" + column.type() + ")"));
                } else {
                    notes.add("The table " + target + " is made");
                }
                for (PartFile part : wanted.values()) {
                    sources.fresh(source(part), export.count(part), 0);
                }
            }
            return new Handover(sources.changes(), notes);
        }

        private void checkMeant(List<Known> known) throws QueryException {
            long rows = known.stream().mapToLong(Known::rows).sum();
            if (!meant && to.mode() != Mode.APPEND && export.parts().isEmpty() && rows > 0) {
                throw new QueryException(dataset.name() + " has no rows now, and the table " + target + " has "
                        + Reasons.grouped(rows) + "; it is not emptied by itself. If the catalogue was lost, put it "
                        + "together again: hapster verify --rebuild. If it is meant: hapster deliver " + dataset.name()
                        + " " + delivery.name());
            }
        }

        /**
         * Finds out which parts stay as they are.
         *
         * @param kept what the table has; left with what stays
         * @param gone gets what does not
         * @return whether all rows of the table are to be taken out
         */
        private boolean sort(Optional<State> state, Map<String, PartFile> wanted, List<Known> kept, List<Known> gone)
                throws SQLException, IOException {
            if (to.mode() == Mode.APPEND || kept.isEmpty()) {
                return false;
            }
            Set<Known> stale = new HashSet<>();
            for (Known part : kept) {
                if (!wanted.containsKey(part.content())) {
                    stale.add(part);
                }
            }
            boolean all = state.get().mode() != to.mode();
            for (TableColumn before : state.get().filled()) {
                if (columns.stream().noneMatch(column -> column.name().equals(before.name())) && target.has(before)) {
                    notes.add("The column " + before.name() + " of the table is not delivered any more; it is left, "
                            + "with no values");
                }
            }
            if (to.mode() == Mode.FOLLOW && !target.has(TableColumn.PART)) {
                all = true;
            }
            Set<String> added = added(state.get());
            if (!columns.containsAll(state.get().filled())) {
                all = true;
            } else if (!added.isEmpty()) {
                for (Known part : kept) {
                    if (!stale.contains(part) && export.hasAny(wanted.get(part.content()), added)) {
                        stale.add(part);
                    }
                }
            }
            if (counted && !all) {
                changedByOthers(kept, stale);
            }
            boolean replaced = to.mode() == Mode.REPLACE && (!stale.isEmpty() || kept.size() < wanted.size());
            if (all || replaced) {
                stale.addAll(kept);
            }
            kept.removeAll(stale);
            gone.addAll(stale);
            return all || replaced;
        }

        /** Columns of which the rows that are there have no values yet. */
        private Set<String> added(State state) {
            Set<String> added = new HashSet<>();
            for (TableColumn column : others(columns)) {
                if (!state.filled().contains(column) || !target.has(column)) {
                    added.add(column.name());
                }
            }
            return added;
        }

        private void changedByOthers(List<Known> kept, Set<Known> stale) throws SQLException {
            if (to.mode() == Mode.REPLACE) {
                long rows = target.rows();
                long known = kept.stream().mapToLong(Known::rows).sum();
                if (rows != known) {
                    stale.addAll(kept);
                    notes.add("Others changed the table: it had " + Reasons.grouped(rows) + " rows, and not "
                            + Reasons.grouped(known) + "; all are delivered anew");
                }
                return;
            }
            Map<Long, Long> rows = target.rowsByPart();
            int changed = 0;
            for (Known part : kept) {
                Long there = rows.remove(part.number());
                if (part.rows() != (there == null ? 0 : there)) {
                    stale.add(part);
                    changed++;
                }
            }
            if (changed > 0) {
                notes.add("Others changed the table: rows of "
                        + (changed == 1 ? "1 file" : Reasons.grouped(changed) + " files")
                        + " were not as they had been delivered; they are delivered anew");
            }
            long foreign = rows.values().stream().mapToLong(Long::longValue).sum();
            if (foreign > 0) {
                notes.add("The table has " + Reasons.grouped(foreign)
                        + (foreign == 1 ? " row that is" : " rows that are")
                        + " not from the delivery; they are left");
            }
        }

        /** Makes the table where it is not there, or sees whether it takes the values. */
        private void prepare() throws SQLException, QueryException {
            if (target.isThere()) {
                List<TableColumn> missing = target.missing(columns);
                if (!missing.isEmpty()) {
                    target.add(missing); // somebody took them away meanwhile
                }
            } else {
                target.create(columns);
            }
        }

        private void remove(List<Known> gone, boolean whole) throws SQLException {
            if (whole) {
                target.clear();
            } else if (!gone.isEmpty()) {
                long there = target.remove(target.marker().numbers(gone));
                long expected = gone.stream().mapToLong(Known::rows).sum();
                if (there != expected && !counted) {
                    notes.add("Others changed the table: " + Reasons.grouped(there) + " rows were taken out, where "
                            + Reasons.grouped(expected) + " had been delivered");
                }
            }
        }

        private long copy(Map<String, PartFile> wanted, long first, List<Known> fresh)
                throws SQLException, IOException {
            if (wanted.isEmpty()) {
                return first;
            }
            long next = first;
            boolean numbered = columns.contains(TableColumn.PART);
            try (Copy copy = new Copy(connection, target, columns, export)) {
                long rows = 0;
                for (Map.Entry<String, PartFile> one : wanted.entrySet()) {
                    PartFile part = one.getValue();
                    String source = source(part);
                    long[] written = copy.part(part, numbered ? Long.toString(next) : "");
                    fresh.add(new Known(next++, one.getKey(), source, written[0]));
                    sources.fresh(source, written[0], written[1]);
                    rows += written[0];
                }
                long taken = copy.end();
                if (taken != rows) {
                    throw new DatabaseException("The table " + target + " took " + Reasons.grouped(taken) + " of "
                            + Reasons.grouped(rows) + " rows, so that a trigger or a rule of it drops some. "
                            + "Nothing was changed");
                }
            }
            return next;
        }

        private void note(Optional<State> state, long next, List<Known> gone, List<Known> fresh) throws SQLException {
            Marker marker = target.marker();
            List<TableColumn> filled = others(columns);
            boolean same = state.isPresent()
                    && gone.isEmpty()
                    && fresh.isEmpty()
                    && state.get().filled().equals(filled)
                    && state.get().mode() == to.mode()
                    && state.get().object() == target.object()
                    && state.get().dataset().equals(dataset.name())
                    && state.get().delivery().equals(delivery.name());
            if (!same) {
                long id = state.isPresent() ? state.get().id() : marker.begin(store, dataset.name(), delivery.name());
                marker.note(
                        new State(
                                id,
                                store,
                                dataset.name(),
                                delivery.name(),
                                to.mode(),
                                target.object(),
                                filled,
                                next,
                                List.of()),
                        gone,
                        fresh);
            }
        }
    }
}
