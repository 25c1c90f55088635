package dev.hapster.core.definition;

import java.net.URI;
import java.time.Duration;
import java.util.Optional;

/**
 * How to sign in to a remote place, as {@code accounts.yaml} says it.
 *
 * @param name by which definitions call it
 */
public record AccountDef(String name, Server at) {

    public static final int POSTGRESQL_PORT = 5432;

    public static final int MAIL_PORT = 587;

    public static final int SFTP_PORT = 22;

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

    /**
     * A server that speaks SFTP.
     *
     * @param password where it stands; empty where a key is used
     * @param keyFile the private key, relative to the workspace or absolute; empty where a password is used
     * @param passphrase of the key, where it stands; empty where the key needs none
     * @param knownHosts the file of host keys, relative to the workspace or absolute
     * @param trustFirst whether a host that the file does not know is trusted, and its key added
     * @param folder where paths begin; relative to the folder to which the sign-in leads
     * @param connections at most so many at once
     * @param patience so long the server may be silent
     */
    public record Sftp(
            String host,
            int port,
            String user,
            Optional<Secret> password,
            Optional<String> keyFile,
            Optional<Secret> passphrase,
            String knownHosts,
            boolean trustFirst,
            String folder,
            int connections,
            Duration patience)
            implements Server {

        @Override
        public String noun() {
            return "SFTP";
        }

        @Override
        public String toString() {
            return host + ":" + port;
        }
    }

    /**
     * An object store that speaks the S3 API.
     *
     * @param endpoint where it is; empty for the one that Amazon has for the region
     * @param pathStyle whether the bucket stands in the path and not in the name of the host
     * @param keyId the public half of what signs in; empty where nobody has to
     * @param secretKey the other half, where it stands
     * @param sessionToken where it stands; empty where there is none
     * @param patience so long the server may be silent
     */
    public record S3(
            Optional<URI> endpoint,
            String region,
            boolean pathStyle,
            Optional<String> keyId,
            Optional<Secret> secretKey,
            Optional<Secret> sessionToken,
            Duration patience)
            implements Server {

        @Override
        public String noun() {
            return "S3";
        }

        @Override
        public String toString() {
            return endpoint.map(URI::toString).orElse("Amazon S3 in " + region);
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
