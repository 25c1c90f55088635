package dev.hapster.core.definition;

import java.net.URI;
import java.util.Optional;

/**
 * How to sign in to a remote place, as {@code accounts.yaml} says it.
 *
 * @param name by which definitions call it
 */
public record AccountDef(String name, Server at) {

    public static final int POSTGRESQL_PORT = 5432;

    public static final int MAIL_PORT = 587;

    /** Where it leads. */
    public sealed interface Server {
        /** What it is, as people call it. */
        String noun();
    }

    /**
     * A server that speaks PostgreSQL's protocol.
     *
     * @param password where it stands; empty where the server asks for none
     */
    public record Postgresql(
            String host, int port, String database, String user, Optional<Secret> password, Encryption encryption)
            implements Server {

        @Override
        public String noun() {
            return "a database";
        }

        /** For sentences; without what is secret. */
        @Override
        public String toString() {
            return database + " at " + host + ":" + port;
        }
    }

    /**
     * A server that takes mail (SMTP).
     *
     * @param from the address of the sender
     * @param user who signs in; empty where nobody has to
     */
    public record Mail(
            String host, int port, String from, Optional<String> user, Optional<Secret> password, Encryption encryption)
            implements Server {

        @Override
        public String noun() {
            return "mail";
        }

        @Override
        public String toString() {
            return host + ":" + port;
        }
    }

    /**
     * An address that is called over HTTP.
     *
     * @param key by which calls are signed (HMAC); empty where they are not
     * @param token what is sent as bearer token; empty where none is
     */
    public record Web(URI url, Optional<Secret> key, Optional<Secret> token) implements Server {

        @Override
        public String noun() {
            return "HTTP";
        }

        /** For sentences; without what may be secret in it. */
        @Override
        public String toString() {
            return url.getScheme() + "://" + url.getAuthority() + url.getPath();
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
