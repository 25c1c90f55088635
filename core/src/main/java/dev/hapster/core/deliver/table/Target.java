package dev.hapster.core.deliver.table;

import com.dynatrace.hash4j.hashing.Hashing;
import dev.hapster.core.definition.DeliveryDef.Mode;
import dev.hapster.core.definition.DeliveryDef.ToTable;
import dev.hapster.core.deliver.table.TableColumn.There;
import dev.hapster.core.query.value.QueryException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** The table that rows are delivered to. Not thread-safe. */
final class Target {

    private final Connection connection;
    private final String schema;
    private final String name;
    private final String quoted;
    private Map<String, There> columns;
    private long object;

    private Target(Connection connection, String schema, String name) {
        this.connection = connection;
        this.schema = schema;
        this.name = name;
        quoted = Database.quoted(schema) + "." + Database.quoted(name);
    }

    /**
     * Looks for it.
     *
     * @throws QueryException where rows cannot be put there
     */
    static Target of(Connection connection, ToTable to, Database database) throws SQLException, QueryException {
        String schema = schema(connection, to, database);
        Target target = new Target(connection, schema, to.table());
        target.look();
        return target;
    }

    private static String schema(Connection connection, ToTable to, Database database)
            throws SQLException, QueryException {
        try (PreparedStatement ask = connection.prepareStatement(
                to.schema().isEmpty()
                        ? "SELECT current_schema() WHERE current_schema() IS NOT NULL"
                        : "SELECT nspname FROM pg_namespace WHERE nspname = ?")) {
            if (!to.schema().isEmpty()) {
                ask.setString(1, to.schema());
            }
            try (ResultSet found = ask.executeQuery()) {
                if (found.next()) {
                    return found.getString(1);
                }
            }
        }
        throw new QueryException(
                to.schema().isEmpty()
                        ? "The search path of the database " + database
                                + " leads to no schema. Say which one: `table: SCHEMA." + to.table() + "`"
                        : "The database " + database + " has no schema " + to.schema() + ". Make it: CREATE SCHEMA "
                                + Database.quoted(to.schema()));
    }

    private void look() throws SQLException, QueryException {
        columns = new LinkedHashMap<>();
        try (PreparedStatement ask = connection.prepareStatement(
                "SELECT c.oid, c.relkind, a.attname, t.typname, a.atttypmod, format_type(a.atttypid, a.atttypmod)"
                        + " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace"
                        + " LEFT JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped"
                        + " LEFT JOIN pg_type t ON t.oid = a.atttypid"
                        + " WHERE n.nspname = ? AND c.relname = ? ORDER BY a.attnum")) {
            ask.setString(1, schema);
            ask.setString(2, name);
            try (ResultSet found = ask.executeQuery()) {
                boolean any = false;
                while (found.next()) {
                    any = true;
                    object = found.getLong(1);
                    String kind = found.getString(2);
                    if (!kind.equals("r") && !kind.equals("p")) {
                        throw new QueryException(
                                this + " is not a table, but a view or the like. Deliver to another name");
                    }
                    if (found.getString(3) != null) {
                        columns.put(
                                found.getString(3), new There(found.getString(4), found.getInt(5), found.getString(6)));
                    }
                }
                if (!any) {
                    columns = null;
                }
            }
        }
    }

    boolean isThere() {
        return columns != null;
    }

    /**
     * The number by which the database knows it; another table of the same name has another, and so has a restored one.
     */
    long object() {
        return object;
    }

    boolean has(TableColumn column) {
        return isThere() && columns.containsKey(column.name());
    }

    /** As people and statements know it. */
    @Override
    public String toString() {
        return schema + "." + name;
    }

    String quoted() {
        return quoted;
    }

    Marker marker() {
        return new Marker(connection, schema, name);
    }

    /** Keeps others who deliver away from it until the transaction ends. */
    void lock() throws SQLException {
        lock("hapster " + this);
    }

    /** Keeps others from making what all tables of the schema share. */
    void lockSchema() throws SQLException {
        lock("hapster " + schema);
    }

    private void lock(String what) throws SQLException {
        try (PreparedStatement lock = connection.prepareStatement("SELECT pg_advisory_xact_lock(?)")) {
            lock.setLong(1, Hashing.xxh3_64().hashCharsToLong(what));
            lock.execute();
        }
    }

    boolean isEmpty() throws SQLException {
        if (!isThere()) {
            return true;
        }
        try (Statement ask = connection.createStatement();
                ResultSet found = ask.executeQuery("SELECT NOT EXISTS (SELECT 1 FROM " + quoted + ")")) {
            found.next();
            return found.getBoolean(1);
        }
    }

    /**
     * Compares its columns with those that are to be filled.
     *
     * @return those that it does not have
     * @throws QueryException where one that it has does not take the values
     */
    List<TableColumn> missing(List<TableColumn> wanted) throws QueryException {
        List<TableColumn> missing = new ArrayList<>();
        List<TableColumn> wrong = new ArrayList<>();
        for (TableColumn column : wanted) {
            There there = columns.get(column.name());
            if (there == null) {
                missing.add(column);
            } else if (!column.fits(there)) {
                wrong.add(column);
            }
        }
        if (!wrong.isEmpty()) {
            throw new QueryException("The table " + this + " cannot take all values: "
                    + wrong.stream()
                            .map(column -> column.name() + " is "
                                    + columns.get(column.name()).shown() + " there, and would have to be "
                                    + column.type())
                            .collect(Collectors.joining("; "))
                    + ". Change it: ALTER TABLE " + quoted + " "
                    + wrong.stream()
                            .map(column -> "ALTER COLUMN " + column.quoted() + " TYPE " + column.type())
                            .collect(Collectors.joining(", ")));
        }
        return missing;
    }

    /** Gives it columns that it does not have. */
    void add(List<TableColumn> missing) throws SQLException {
        try (Statement change = connection.createStatement()) {
            change.execute("ALTER TABLE " + quoted + " "
                    + missing.stream()
                            .map(column -> "ADD COLUMN " + column.declared())
                            .collect(Collectors.joining(", ")));
        }
        if (missing.contains(TableColumn.PART)) {
            index();
        }
    }

    void create(List<TableColumn> wanted) throws SQLException, QueryException {
        try (Statement make = connection.createStatement()) {
            make.execute("CREATE TABLE " + quoted + " ("
                    + wanted.stream().map(TableColumn::declared).collect(Collectors.joining(", ")) + ")");
        }
        if (wanted.contains(TableColumn.PART)) {
            index();
        }
        look();
    }

    /** Rows of a part lie together, so that an index of ranges finds them, and costs next to nothing. */
    private void index() throws SQLException {
        try (Statement make = connection.createStatement()) {
            make.execute("COMMENT ON COLUMN " + quoted + "." + TableColumn.PART.quoted()
                    + " IS 'The number in hapster_part of what brought the row'");
            Savepoint before = connection.setSavepoint();
            try {
                make.execute("CREATE INDEX ON " + quoted + " USING brin (" + TableColumn.PART.quoted()
                        + ") WITH (autosummarize = on)");
                connection.releaseSavepoint(before);
            } catch (SQLException noSuchIndex) {
                connection.rollback(before); // it is only quicker with it
            }
        }
    }

    /** How many rows it has of each part; under {@code null} those that are of none. */
    Map<Long, Long> rowsByPart() throws SQLException {
        Map<Long, Long> rows = new HashMap<>();
        try (Statement ask = connection.createStatement();
                ResultSet found = ask.executeQuery("SELECT " + TableColumn.PART.quoted() + ", count(*) FROM " + quoted
                        + " GROUP BY " + TableColumn.PART.quoted())) {
            while (found.next()) {
                rows.put((Long) found.getObject(1), found.getLong(2));
            }
        }
        return rows;
    }

    long rows() throws SQLException {
        try (Statement ask = connection.createStatement();
                ResultSet found = ask.executeQuery("SELECT count(*) FROM " + quoted)) {
            found.next();
            return found.getLong(1);
        }
    }

    /** Takes all rows out; readers see them until the transaction is committed. */
    long clear() throws SQLException {
        try (Statement clear = connection.createStatement()) {
            return clear.executeLargeUpdate("DELETE FROM " + quoted);
        }
    }

    /** Takes the rows of some parts out. */
    long remove(java.sql.Array parts) throws SQLException {
        try (PreparedStatement remove = connection.prepareStatement(
                "DELETE FROM " + quoted + " WHERE " + TableColumn.PART.quoted() + " = ANY (?)")) {
            remove.setArray(1, parts);
            return remove.executeLargeUpdate();
        }
    }

    /** What has to be done by hand before somebody else may deliver to it in a mode. */
    String advice(Mode mode) {
        return "Deliver to another table, or empty this one: TRUNCATE " + quoted
                + (mode == Mode.APPEND ? "" : ", or add to it: `mode: append`");
    }
}
