package dev.hapster.core.definition.section;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.Encryption;
import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.key.Section;
import dev.hapster.core.definition.key.Shapes;
import dev.hapster.core.definition.yaml.YamlMap;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;

/** The keys of {@code accounts.yaml}. */
public final class AccountSection {

    public static final int MOST_ACCOUNTS = 100;
    private static final int LAST_PORT = 65_535;

    private AccountSection() {}

    /** Where a secret stands. */
    public static final class Secret {
        public static final Key<Optional<String>> ENV = Key.of(
                "env", Shapes.some(), Optional.<String>empty(), "the variable of the service's environment that it is");
        public static final Key<Optional<String>> FILE = Key.of(
                "file",
                Shapes.some(),
                Optional.<String>empty(),
                "the file of which it is the first line, relative to the workspace or absolute");

        public static final Section SECTION = Section.of(ENV, FILE);

        private Secret() {}
    }

    /** The keys of a server that speaks PostgreSQL's protocol. */
    public static final class Postgresql {
        public static final Key<String> HOST =
                Key.of("host", Shapes.text(), "localhost", "name or address of the server");
        public static final Key<Integer> PORT =
                Key.of("port", Shapes.whole(1, LAST_PORT), AccountDef.POSTGRESQL_PORT, "its port");
        public static final Key<String> DATABASE = Key.of("database", Shapes.text(), "", "name of the database");
        public static final Key<String> USER = Key.of("user", Shapes.text(), "", "who signs in");
        public static final Key<Optional<YamlMap>> PASSWORD = Key.of(
                "password",
                Shapes.section(Secret.SECTION),
                Optional.<YamlMap>empty(),
                "where the password stands: `{env: NAME}` or `{file: PATH}`; none where the server asks for none");
        public static final Key<Optional<Encryption>> ENCRYPTION = Key.of(
                "encryption",
                Shapes.word(Encryption.class).optional(Encryption.VERIFIED),
                Optional.<Encryption>empty(),
                "`verified`, `required` or `off`; without it `off` for `localhost` and addresses of this machine, "
                        + "`verified` for all others");

        public static final Section SECTION =
                Section.of(HOST, PORT, DATABASE, USER, PASSWORD, ENCRYPTION).requiring(DATABASE, USER);

        private Postgresql() {}
    }

    /** The keys of a server that takes mail. */
    public static final class Mail {
        public static final Key<String> HOST =
                Key.of("host", Shapes.text(), "localhost", "name or address of the server (SMTP)");
        public static final Key<Integer> PORT = Key.of(
                "port",
                Shapes.whole(1, LAST_PORT),
                AccountDef.MAIL_PORT,
                "its port; with 465 the connection is encrypted from the beginning, with others by STARTTLS");
        public static final Key<String> FROM = Key.of("from", Shapes.text(), "", "the address of the sender");
        public static final Key<Optional<String>> USER =
                Key.of("user", Shapes.some(), Optional.<String>empty(), "who signs in; without it nobody does");
        public static final Key<Optional<YamlMap>> PASSWORD = Key.of(
                "password",
                Shapes.section(Secret.SECTION),
                Optional.<YamlMap>empty(),
                "where the password stands: `{env: NAME}` or `{file: PATH}`");

        public static final Section SECTION = Section.of(HOST, PORT, FROM, USER, PASSWORD, Postgresql.ENCRYPTION)
                .requiring(FROM);

        private Mail() {}
    }

    /** The keys of an address that is called over HTTP. */
    public static final class Web {
        public static final Key<String> URL =
                Key.of("url", Shapes.text(), "", "what is called (POST): `https://…` or `http://…`");
        public static final Key<Optional<YamlMap>> KEY = Key.of(
                "key",
                Shapes.section(Secret.SECTION),
                Optional.<YamlMap>empty(),
                "where the key stands by which calls are signed; without it they are not");
        public static final Key<Optional<YamlMap>> TOKEN = Key.of(
                "token",
                Shapes.section(Secret.SECTION),
                Optional.<YamlMap>empty(),
                "where the token stands that is sent as `Authorization: Bearer …`; without it none is");

        public static final Section SECTION = Section.of(URL, KEY, TOKEN).requiring(URL);

        private Web() {}
    }

    /** The keys of a server that speaks SFTP. */
    public static final class Sftp {
        private static final int MOST_CONNECTIONS = 16;

        public static final Key<String> HOST = Key.of("host", Shapes.text(), "", "name or address of the server");
        public static final Key<Integer> PORT =
                Key.of("port", Shapes.whole(1, LAST_PORT), AccountDef.SFTP_PORT, "its port");
        public static final Key<String> USER = Key.of("user", Shapes.text(), "", "who signs in");
        public static final Key<Optional<YamlMap>> PASSWORD = Key.of(
                "password",
                Shapes.section(Secret.SECTION),
                Optional.<YamlMap>empty(),
                "where the password stands: `{env: NAME}` or `{file: PATH}`");
        public static final Key<Optional<String>> KEY_FILE = Key.of(
                "key_file",
                Shapes.some(),
                Optional.<String>empty(),
                "the file of the private key (OpenSSH or PEM), relative to the workspace or absolute");
        public static final Key<Optional<YamlMap>> PASSPHRASE = Key.of(
                "passphrase",
                Shapes.section(Secret.SECTION),
                Optional.<YamlMap>empty(),
                "where the key's passphrase stands; none where it has none");
        public static final Key<String> KNOWN_HOSTS = Key.of(
                "known_hosts",
                Shapes.text(),
                "known_hosts",
                "the file in which the server's key stands, as OpenSSH writes it, relative to the workspace or "
                        + "absolute; a server with another key is not spoken with");
        public static final Key<Boolean> TRUST_FIRST = Key.of(
                "unknown_host",
                Shapes.either("reject", "add"),
                false,
                "what becomes of a server that `known_hosts` does not name: `reject` it, or `add` its key and trust "
                        + "it from then on");
        public static final Key<String> FOLDER = Key.of(
                "folder",
                Shapes.text(),
                ".",
                "where paths begin: absolute on the server, or relative to the folder to which the sign-in leads");
        public static final Key<Integer> CONNECTIONS =
                Key.of("connections", Shapes.whole(1, MOST_CONNECTIONS), 4, "how many are open at once, at most");

        public static final Key<Duration> PATIENCE = Key.of(
                "patience",
                Shapes.duration(),
                Duration.ofSeconds(30),
                "how long the server may be silent before the connection counts as lost");

        public static final Section SECTION = Section.of(
                        HOST,
                        PORT,
                        USER,
                        PASSWORD,
                        KEY_FILE,
                        PASSPHRASE,
                        KNOWN_HOSTS,
                        TRUST_FIRST,
                        FOLDER,
                        CONNECTIONS,
                        PATIENCE)
                .requiring(HOST, USER);

        private Sftp() {}
    }

    /** The keys of an object store that speaks the S3 API. */
    public static final class S3 {
        public static final Key<Optional<String>> ENDPOINT = Key.of(
                "endpoint",
                Shapes.some(),
                Optional.<String>empty(),
                "where it is: `https://…` or `http://…`; without it Amazon's for the region");
        public static final Key<String> REGION =
                Key.of("region", Shapes.text(), "us-east-1", "the region of the buckets");
        public static final Key<Optional<Boolean>> PATH_STYLE = Key.of(
                "path_style",
                Shapes.flag().optional(true),
                Optional.<Boolean>empty(),
                "whether the bucket stands in the path and not in the name of the host; without it `yes` where there "
                        + "is an `endpoint`");
        public static final Key<Optional<String>> KEY_ID = Key.of(
                "key_id",
                Shapes.some(),
                Optional.<String>empty(),
                "the public half of what signs in; without it nobody does");
        public static final Key<Optional<YamlMap>> SECRET_KEY = Key.of(
                "secret_key",
                Shapes.section(Secret.SECTION),
                Optional.<YamlMap>empty(),
                "where the other half stands: `{env: NAME}` or `{file: PATH}`");
        public static final Key<Optional<YamlMap>> SESSION_TOKEN = Key.of(
                "session_token",
                Shapes.section(Secret.SECTION),
                Optional.<YamlMap>empty(),
                "where a session's token stands, for keys that hold for a while");

        public static final Section SECTION =
                Section.of(ENDPOINT, REGION, PATH_STYLE, KEY_ID, SECRET_KEY, SESSION_TOKEN, Sftp.PATIENCE);

        private S3() {}
    }

    /** The keys of one account. */
    public static final class Account {
        public static final Key<String> NAME = Key.of(
                "name",
                Shapes.matching(DatasetSection.FILE_NAME_RULE),
                "",
                "its name, by which places, deliveries and `notify` call it");
        public static final Key<Optional<YamlMap>> POSTGRESQL = Key.of(
                "postgresql",
                Shapes.section(Postgresql.SECTION),
                Optional.<YamlMap>empty(),
                "a server that speaks PostgreSQL's protocol");
        public static final Key<Optional<YamlMap>> MAIL = Key.of(
                "mail", Shapes.section(Mail.SECTION), Optional.<YamlMap>empty(), "a server that takes mail (SMTP)");
        public static final Key<Optional<YamlMap>> HTTP = Key.of(
                "http", Shapes.section(Web.SECTION), Optional.<YamlMap>empty(), "an address that is called over HTTP");

        public static final Key<Optional<YamlMap>> SFTP =
                Key.of("sftp", Shapes.section(Sftp.SECTION), Optional.<YamlMap>empty(), "folders on a server (SFTP)");
        public static final Key<Optional<YamlMap>> S3_STORE = Key.of(
                "s3", Shapes.section(S3.SECTION), Optional.<YamlMap>empty(), "buckets of an object store (S3 API)");

        public static final Section SECTION =
                Section.of(NAME, POSTGRESQL, SFTP, S3_STORE, MAIL, HTTP).requiring(NAME);

        private Account() {}
    }

    public static final Key<Boolean> ACCOUNTS = Key.of(
            "accounts",
            Shapes.form(Map.of("type", "array", "maxItems", MOST_ACCOUNTS, "items", Account.SECTION.schema())),
            false,
            "all accounts");

    public static final Section SECTION = Section.of(ACCOUNTS).requiring(ACCOUNTS);
}
