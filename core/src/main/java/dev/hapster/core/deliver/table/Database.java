package dev.hapster.core.deliver.table;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.OfEnvironment;
import dev.hapster.core.definition.AccountDef.OfFile;
import dev.hapster.core.definition.AccountDef.Postgresql;
import dev.hapster.core.definition.AccountDef.Secret;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.reason.Reasons;
import java.io.BufferedReader;
import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Optional;
import org.postgresql.ds.PGSimpleDataSource;
import org.postgresql.util.PSQLException;
import org.postgresql.util.ServerErrorMessage;

/** A database that an account leads to. Immutable. */
final class Database {

    private static final int SECONDS_TO_CONNECT = 10;
    /** So long a server may be silent; it may have to take many rows out before it says a word. */
    private static final int SECONDS_OF_SILENCE = 3600;

    private final AccountDef account;
    private final Path workspace;

    Database(AccountDef account, Path workspace) {
        this.account = account;
        this.workspace = workspace;
    }

    /**
     * Signs in.
     *
     * @throws QueryException where the account's secret is not where it should be
     */
    Connection open() throws SQLException, IOException, QueryException {
        Postgresql at = account.at();
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
        String what = "The password of the account " + account.name();
        if (secret instanceof OfEnvironment environment) {
            String found = System.getenv(environment.variable());
            if (found == null || found.isEmpty()) {
                throw new QueryException(what + " is to stand in the environment variable " + environment.variable()
                        + ", and the service was started without it. Set it and start the service again");
            }
            return found;
        }
        Path file = workspace.resolve(((OfFile) secret).path());
        try (BufferedReader lines = Files.newBufferedReader(file, StandardCharsets.UTF_8)) {
            String line = lines.readLine();
            if (line == null || line.isEmpty()) {
                throw new QueryException(what + " is to be the first line of " + file + ", which is empty");
            }
            return line;
        } catch (NoSuchFileException missing) {
            throw new QueryException(what + " is to stand in " + file + ", which does not exist");
        } catch (MalformedInputException binary) {
            throw new QueryException(what + " is to stand in " + file + ", which is not a text in UTF-8");
        }
    }

    @Override
    public String toString() {
        return account.at().toString();
    }

    /** What went wrong, as a sentence. */
    DatabaseException told(SQLException wrong) {
        String state = wrong.getSQLState() == null ? "" : wrong.getSQLState();
        Postgresql at = account.at();
        String said = state.startsWith("08") ? Reasons.deepest(wrong) : said(wrong);
        String what =
                switch (state) {
                    case "08001", "08004", "08006" ->
                        "The database " + at + " does not answer: " + said
                                + ". Is it running, and are host and port of " + "the account " + account.name()
                                + " right?";
                    case "28P01", "28000" ->
                        "The database " + at + " does not let " + at.user() + " in: " + said
                                + ". Look at user and password of the account " + account.name();
                    case "42501" -> at.user() + " lacks a right in the database " + at + ": " + said;
                    case "55P03" ->
                        "The table, or what belongs to it, is locked by somebody else: " + said
                                + ". Nothing was changed";
                    default -> "The database " + at + " says: " + said;
                };
        DatabaseException told = new DatabaseException(what);
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
