package dev.hapster.core.definition.section;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.Encryption;
import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.key.Section;
import dev.hapster.core.definition.key.Shapes;
import dev.hapster.core.definition.yaml.YamlMap;
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

    /** The keys of one account. */
    public static final class Account {
        public static final Key<String> NAME = Key.of(
                "name",
                Shapes.matching(DatasetSection.FILE_NAME_RULE),
                "",
                "its name, by which deliveries and `notify` call it");
        public static final Key<Optional<YamlMap>> POSTGRESQL = Key.of(
                "postgresql",
                Shapes.section(Postgresql.SECTION),
                Optional.<YamlMap>empty(),
                "a server that speaks PostgreSQL's protocol");
        public static final Key<Optional<YamlMap>> MAIL = Key.of(
                "mail", Shapes.section(Mail.SECTION), Optional.<YamlMap>empty(), "a server that takes mail (SMTP)");
        public static final Key<Optional<YamlMap>> HTTP = Key.of(
                "http", Shapes.section(Web.SECTION), Optional.<YamlMap>empty(), "an address that is called over HTTP");

        public static final Section SECTION =
                Section.of(NAME, POSTGRESQL, MAIL, HTTP).requiring(NAME);

        private Account() {}
    }

    public static final Key<Boolean> ACCOUNTS = Key.of(
            "accounts",
            Shapes.form(Map.of("type", "array", "maxItems", MOST_ACCOUNTS, "items", Account.SECTION.schema())),
            false,
            "all accounts");

    public static final Section SECTION = Section.of(ACCOUNTS).requiring(ACCOUNTS);
}
