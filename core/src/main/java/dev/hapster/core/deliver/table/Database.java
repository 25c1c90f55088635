package dev.hapster.core.deliver.table;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.Postgresql;
import dev.hapster.core.definition.AccountDef.Secret;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.workspace.Secrets;
import java.io.IOException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Optional;
import java.util.Set;
import org.postgresql.ds.PGSimpleDataSource;
import org.postgresql.util.PSQLException;
import org.postgresql.util.ServerErrorMessage;

/** A database that an account leads to. Immutable. */
final class Database {

    private static final int SECONDS_TO_CONNECT = 10;
    /** So long a server may be silent; it may have to take many rows out before it says a word. */
    private static final int SECONDS_OF_SILENCE = 3600;

    private final String name;
    private final Postgresql at;
    private final Path workspace;

    /** @throws QueryException where the account leads elsewhere */
    Database(AccountDef account, Path workspace) throws QueryException {
        if (!(account.at() instanceof Postgresql server)) {
            throw new QueryException("The account " + account.name() + " leads to "
                    + account.at().noun() + "; a table needs one with `postgresql`");
        }
        name = account.name();
        at = server;
        this.workspace = workspace;
    }

    /**
     * Signs in.
     *
     * @throws QueryException where the account's secret is not where it should be
     */
    Connection open() throws SQLException, IOException, QueryException {
        PGSimpleDataSource source = new PGSimpleDataSource();
        String host = at.host();
        source.setServerNames(new String[] {host.indexOf(':') < 0 ? host : "[" + host + "]"});
        source.setPortNumbers(new int[] {at.port()});
        source.setDatabaseName(at.database());
        source.setUser(at.user());
        if (at.password().isPresent()) {
            source.setPassword(secret(at.password().get()));
        }
        source.setConnectTimeout(SECONDS_TO_CONNECT);
        source.setLoginTimeout(SECONDS_TO_CONNECT);
        source.setSocketTimeout(SECONDS_OF_SILENCE);
        source.setTcpKeepAlive(true);
        source.setApplicationName("Hapster");
        switch (at.encryption()) {
            case OFF -> source.setSslMode("disable");
            case REQUIRED -> source.setSslMode("require");
            case VERIFIED -> {
                source.setSslMode("verify-full");
                source.setSslfactory("org.postgresql.ssl.DefaultJavaSSLFactory");
            }
        }
        return source.getConnection();
    }

    private String secret(Secret secret) throws QueryException, IOException {
        try {
            return Secrets.read(secret, "The password of the account " + name, workspace);
        } catch (Secrets.MissingException missing) {
            throw new QueryException(missing.getMessage());
        }
    }

    @Override
    public String toString() {
        return at.toString();
    }

    private static final String WRONG_PASSWORD = "28P01";
    private static final String WRONG_USER = "28000";
    private static final Set<String> LOGIN = Set.of(WRONG_PASSWORD, WRONG_USER);

    /** What went wrong, as a sentence. */
    DatabaseException told(SQLException wrong) {
        String state = wrong.getSQLState() == null ? "" : wrong.getSQLState();
        String said = state.startsWith("08") ? Reasons.deepest(wrong) : said(wrong);
        String what =
                switch (state) {
                    case "08001", "08004", "08006" ->
                        "The database " + at + " does not answer: " + said
                                + ". Is it running, and are host and port of " + "the account " + name
                                + " right?";
                    case WRONG_PASSWORD, WRONG_USER ->
                        "The database " + at + " does not let " + at.user() + " in: " + said
                                + ". Look at user and password of the account " + name;
                    case "42501" -> at.user() + " lacks a right in the database " + at + ": " + said;
                    case "55P03" ->
                        "The table, or what belongs to it, is locked by somebody else: " + said
                                + ". Nothing was changed";
                    default -> "The database " + at + " says: " + said;
                };
        DatabaseException told = new DatabaseException(what, LOGIN.contains(state));
        told.addSuppressed(wrong);
        return told;
    }

    private static String said(SQLException wrong) {
        Optional<ServerErrorMessage> message = wrong instanceof PSQLException server
                ? Optional.ofNullable(server.getServerErrorMessage())
                : Optional.empty();
        String text = message.map(ServerErrorMessage::getMessage).orElse(wrong.getMessage());
        String detail = message.map(ServerErrorMessage::getDetail).orElse(null);
        String all = detail == null ? text : text + " (" + detail + ")";
        return all.endsWith(".") ? all.substring(0, all.length() - 1) : all;
    }

    /** A name as a statement has it. */
    static String quoted(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }
}
