package dev.hapster.core.deliver.table;

import dev.hapster.core.definition.DeliveryDef.Mode;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * What is written down beside a table: who delivers to it, and the rows of which parts it has. It changes in the same
 * transaction as the rows. Not thread-safe.
 */
final class Marker {

    private final Connection connection;
    private final String deliveries;
    private final String parts;
    private final String table;

    /**
     * @param schema in which the table lies
     * @param table its name
     */
    Marker(Connection connection, String schema, String table) {
        this.connection = connection;
        this.table = table;
        deliveries = Database.quoted(schema) + ".hapster_delivery";
        parts = Database.quoted(schema) + ".hapster_part";
    }

    /**
     * A part of which the table has the rows.
     *
     * @param number under which
     * @param content by which it is told whether the rows are still the same
     * @param source the file that its rows are from
     */
    record Known(long number, String content, String source, long rows) {}

    /**
     * A delivery to the table.
     *
     * @param object the number by which the database knows the table
     * @param filled the columns that it fills
     * @param next the number of the next part
     */
    record State(
            long id,
            String store,
            String dataset,
            String delivery,
            Mode mode,
            long object,
            List<TableColumn> filled,
            long next,
            List<Known> parts) {}

    /** Whether there is anything to read. */
    boolean isThere() throws SQLException {
        try (PreparedStatement ask = connection.prepareStatement("SELECT to_regclass(?) IS NOT NULL")) {
            ask.setString(1, deliveries);
            try (ResultSet found = ask.executeQuery()) {
                found.next();
                return found.getBoolean(1);
            }
        }
    }

    void create() throws SQLException {
        try (Statement make = connection.createStatement()) {
            make.execute("CREATE TABLE " + deliveries
                    + " (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, table_name text NOT NULL UNIQUE,"
                    + " store text NOT NULL, dataset text NOT NULL, delivery text NOT NULL, mode text NOT NULL,"
                    + " table_oid bigint NOT NULL, filled text NOT NULL, next_part bigint NOT NULL, rows bigint NOT NULL,"
                    + " delivered_at timestamptz NOT NULL)");
            make.execute("CREATE TABLE " + parts + " (delivery bigint NOT NULL REFERENCES " + deliveries
                    + " ON DELETE CASCADE, part bigint NOT NULL, content text NOT NULL, source text NOT NULL,"
                    + " rows bigint NOT NULL, PRIMARY KEY (delivery, part))");
            make.execute("COMMENT ON TABLE " + deliveries + " IS 'Which tables Hapster delivers to'");
            make.execute("COMMENT ON TABLE " + parts + " IS 'Of which files they have the rows'");
        }
    }

    Optional<State> read() throws SQLException {
        try (PreparedStatement ask = connection.prepareStatement("SELECT id, store, dataset, delivery, mode,"
                + " table_oid, filled, next_part FROM " + deliveries + " WHERE table_name = ?")) {
            ask.setString(1, table);
            try (ResultSet found = ask.executeQuery()) {
                if (!found.next()) {
                    return Optional.empty();
                }
                long id = found.getLong(1);
                return Optional.of(new State(
                        id,
                        found.getString(2),
                        found.getString(3),
                        found.getString(4),
                        Mode.valueOf(found.getString(5).toUpperCase(Locale.ROOT)),
                        found.getLong(6),
                        columns(found.getString(7)),
                        found.getLong(8),
                        parts(id)));
            }
        }
    }

    private static List<TableColumn> columns(String filled) {
        List<TableColumn> columns = new ArrayList<>();
        filled.lines().forEach(line -> {
            int tab = line.indexOf('\t');
            columns.add(new TableColumn(line.substring(0, tab), line.substring(tab + 1)));
        });
        return columns;
    }

    private List<Known> parts(long id) throws SQLException {
        List<Known> known = new ArrayList<>();
        try (PreparedStatement ask = connection.prepareStatement(
                "SELECT part, content, source, rows FROM " + parts + " WHERE delivery = ? ORDER BY part")) {
            ask.setLong(1, id);
            try (ResultSet found = ask.executeQuery()) {
                while (found.next()) {
                    known.add(new Known(found.getLong(1), found.getString(2), found.getString(3), found.getLong(4)));
                }
            }
        }
        return known;
    }

    /** Writes down who delivers from now on; of parts nothing is known yet. */
    long begin(String store, String dataset, String delivery) throws SQLException {
        try (PreparedStatement drop =
                connection.prepareStatement("DELETE FROM " + deliveries + " WHERE table_name = ?")) {
            drop.setString(1, table);
            drop.executeUpdate();
        }
        try (PreparedStatement add = connection.prepareStatement("INSERT INTO " + deliveries
                + " (table_name, store, dataset, delivery, mode, table_oid, filled, next_part, rows, delivered_at)"
                + " VALUES (?, ?, ?, ?, '', 0, '', 1, 0, now()) RETURNING id")) {
            add.setString(1, table);
            add.setString(2, store);
            add.setString(3, dataset);
            add.setString(4, delivery);
            try (ResultSet made = add.executeQuery()) {
                made.next();
                return made.getLong(1);
            }
        }
    }

    /**
     * Writes down what was done.
     *
     * @param state as it is from now on
     * @param gone parts of which the rows were taken out
     * @param fresh parts of which the rows were put in
     */
    void note(State state, Collection<Known> gone, List<Known> fresh) throws SQLException {
        try (PreparedStatement drop =
                connection.prepareStatement("DELETE FROM " + parts + " WHERE delivery = ? AND part = ANY (?)")) {
            drop.setLong(1, state.id());
            drop.setArray(2, numbers(gone));
            drop.executeUpdate();
        }
        try (PreparedStatement add =
                connection.prepareStatement("INSERT INTO " + parts + " (delivery, part, content, source, rows)"
                        + " SELECT ?, * FROM unnest(?::bigint[], ?::text[], ?::text[], ?::bigint[])")) {
            add.setLong(1, state.id());
            add.setArray(2, numbers(fresh));
            add.setArray(
                    3,
                    connection.createArrayOf(
                            "text", fresh.stream().map(Known::content).toArray()));
            add.setArray(
                    4,
                    connection.createArrayOf(
                            "text", fresh.stream().map(Known::source).toArray()));
            add.setArray(
                    5,
                    connection.createArrayOf(
                            "bigint", fresh.stream().map(Known::rows).toArray()));
            add.executeUpdate();
        }
        StringBuilder filled = new StringBuilder();
        state.filled().forEach(column -> filled.append(column.name())
                .append('\t')
                .append(column.type())
                .append('\n'));
        try (PreparedStatement set = connection.prepareStatement("UPDATE " + deliveries
                + " SET store = ?, dataset = ?, delivery = ?, mode = ?, table_oid = ?, filled = ?, next_part = ?, delivered_at = now(),"
                + " rows = (SELECT coalesce(sum(p.rows), 0) FROM " + parts + " p WHERE p.delivery = id)"
                + " WHERE id = ?")) {
            set.setString(1, state.store());
            set.setString(2, state.dataset());
            set.setString(3, state.delivery());
            set.setString(4, state.mode().name().toLowerCase(Locale.ROOT));
            set.setLong(5, state.object());
            set.setString(6, filled.toString());
            set.setLong(7, state.next());
            set.setLong(8, state.id());
            set.executeUpdate();
        }
    }

    java.sql.Array numbers(Collection<Known> some) throws SQLException {
        return connection.createArrayOf(
                "bigint", some.stream().map(Known::number).toArray());
    }
}
