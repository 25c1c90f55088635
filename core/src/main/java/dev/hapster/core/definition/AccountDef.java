package dev.hapster.core.definition;

import java.util.Optional;

/**
 * How to sign in to a remote place, as {@code accounts.yaml} says it.
 *
 * @param name by which definitions call it
 */
public record AccountDef(String name, Postgresql at) {

    public static final int POSTGRESQL_PORT = 5432;

    /**
     * A server that speaks PostgreSQL's protocol.
     *
     * @param password where it stands; empty where the server asks for none
     */
    public record Postgresql(
            String host, int port, String database, String user, Optional<Secret> password, Encryption encryption) {

        /** For sentences; without what is secret. */
        @Override
        public String toString() {
            return database + " at " + host + ":" + port;
        }
    }

    /** Whether the connection to a server is encrypted, and whether the server has to show who it is. */
    public enum Encryption {
        /** Nothing is. */
        OFF,
        /** It is, with whoever answers. */
        REQUIRED,
        /** It is, and the server's certificate is from an authority that Java knows, and for this host. */
        VERIFIED
    }

    /** Where a secret stands; never the secret itself. */
    public sealed interface Secret {}

    /** In a variable of the service's environment. */
    public record OfEnvironment(String variable) implements Secret {}

    /** In the first line of a file. */
    public record OfFile(String path) implements Secret {}
}
