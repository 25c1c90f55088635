package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.Encryption;
import dev.hapster.core.definition.AccountDef.OfEnvironment;
import dev.hapster.core.definition.AccountDef.OfFile;
import dev.hapster.core.definition.AccountDef.Secret;
import dev.hapster.core.definition.AccountDef.Server;
import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.section.AccountSection;
import dev.hapster.core.definition.section.AccountSection.Account;
import dev.hapster.core.definition.section.AccountSection.Mail;
import dev.hapster.core.definition.section.AccountSection.Postgresql;
import dev.hapster.core.definition.section.AccountSection.S3;
import dev.hapster.core.definition.section.AccountSection.Sftp;
import dev.hapster.core.definition.section.AccountSection.Web;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.definition.yaml.YamlMap;
import java.net.URI;
import java.net.URISyntaxException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/** Reads the file of accounts. */
final class AccountParser {

    private static final String LOCAL = "localhost|127(\\.\\d{1,3}){3}|::1";

    private AccountParser() {}

    static Map<String, AccountDef> accounts(String file, String text) throws DefinitionException {
        List<Problem> problems = new ArrayList<>();
        Map<String, AccountDef> accounts = new LinkedHashMap<>();
        YamlMap root = AccountSection.SECTION.check(YamlMap.parse(file, text, problems));
        List<YamlMap> maps = root.has("accounts") ? root.maps("accounts") : List.of();
        if (maps.size() > AccountSection.MOST_ACCOUNTS) {
            root.wrong("accounts", "there are at most " + AccountSection.MOST_ACCOUNTS + " accounts", "");
        } else {
            for (YamlMap map : maps) {
                Account.SECTION.check(map);
                String name = map.required("name", "Call it by what it leads to, such as `name: warehouse`");
                if (map.has("name") && !name.matches(DatasetSection.FILE_NAME_RULE)) {
                    map.wrong(
                            "name",
                            "an account cannot be called '" + name + "'",
                            "Use letters, digits, - and _, beginning with a letter or digit");
                }
                server(map).ifPresent(server -> {
                    if (accounts.put(name, new AccountDef(name, server)) != null) {
                        map.wrong("name", "the account '" + name + "' is declared twice", "Keep one of them");
                    }
                });
            }
        }
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return accounts;
    }

    private static Optional<Server> server(YamlMap map) {
        List<String> there = Stream.of(Account.POSTGRESQL, Account.SFTP, Account.S3_STORE, Account.MAIL, Account.HTTP)
                .map(Key::name)
                .filter(map::has)
                .toList();
        if (there.size() != 1) {
            map.wrong(
                    there.isEmpty() ? "the account does not say where it leads" : "an account leads to one place",
                    "Write one of `postgresql: {…}`, `sftp: {…}`, `s3: {…}`, `mail: {…}`, `http: {…}`");
            return Optional.empty();
        }
        return Account.POSTGRESQL
                .in(map)
                .<Server>map(AccountParser::postgresql)
                .or(() -> Account.SFTP.in(map).map(AccountParser::sftp))
                .or(() -> Account.S3_STORE.in(map).map(AccountParser::s3))
                .or(() -> Account.MAIL.in(map).map(AccountParser::mail))
                .or(() -> Account.HTTP.in(map).map(AccountParser::web));
    }

    private static AccountDef.Mail mail(YamlMap map) {
        String host = host(map, Mail.HOST, "mail.vessa.example");
        String from = map.required("from", "Say who sends: `from: hapster@vessa.example`");
        if (map.has("from") && !from.matches(NotifyParser.ADDRESS)) {
            map.wrong("from", "'" + from + "' is not an address", "Write it like hapster@vessa.example");
        }
        Optional<Secret> password = secret(map, Mail.PASSWORD);
        if (Mail.USER.in(map).isPresent() != password.isPresent()) {
            map.wrong("'user' and 'password' go together", "Write both, or none where nobody has to sign in");
        }
        return new AccountDef.Mail(host, Mail.PORT.in(map), from, Mail.USER.in(map), password, encryption(map, host));
    }

    private static AccountDef.Web web(YamlMap map) {
        String example = "https://alarms.vessa.example/hapster";
        String url = map.required("url", "Say what is called: `url: " + example + "`");
        return new AccountDef.Web(
                address(map, "url", url, example, "Use `token: {env: NAME}`"),
                secret(map, Web.KEY),
                secret(map, Web.TOKEN));
    }

    private static URI address(YamlMap map, String key, String url, String example, String password) {
        try {
            URI address = new URI(url);
            boolean web = address.getHost() != null && List.of("http", "https").contains(address.getScheme());
            if (map.has(key) && (!web || address.getUserInfo() != null)) {
                map.wrong(
                        key,
                        web
                                ? "a password does not stand in this file"
                                : "'" + key + "' must begin with http:// or https://",
                        web ? password : "Such as " + example);
            }
            return address;
        } catch (URISyntaxException wrong) {
            map.wrong(key, "'" + key + "' is not an address: " + wrong.getReason(), "");
            return URI.create("http://localhost");
        }
    }

    private static AccountDef.Sftp sftp(YamlMap map) {
        map.required("host", "Name the server: `host: files.vessa.example`");
        Optional<Secret> password = secret(map, Sftp.PASSWORD);
        Optional<String> keyFile = Sftp.KEY_FILE.in(map);
        if (password.isPresent() == keyFile.isPresent()) {
            map.wrong(
                    password.isPresent()
                            ? "'password' and 'key_file' exclude each other"
                            : "the account does not say how to sign in",
                    "Write `password: {env: NAME}`, or `key_file: PATH` of a private key");
        }
        if (keyFile.isEmpty() && map.has("passphrase")) {
            map.wrong("passphrase", "'passphrase' goes with 'key_file' only", "Use `password` for a password");
        }
        return new AccountDef.Sftp(
                host(map, Sftp.HOST, "files.vessa.example"),
                Sftp.PORT.in(map),
                map.required("user", "Say who signs in: `user: hapster`"),
                password,
                keyFile,
                secret(map, Sftp.PASSPHRASE),
                Sftp.KNOWN_HOSTS.in(map),
                Sftp.TRUST_FIRST.in(map),
                Sftp.FOLDER.in(map),
                Sftp.CONNECTIONS.in(map),
                patience(map));
    }

    private static Duration patience(YamlMap map) {
        Duration patience = Sftp.PATIENCE.in(map);
        if (patience.compareTo(Duration.ofSeconds(1)) < 0 || patience.compareTo(Duration.ofMinutes(10)) > 0) {
            map.wrong("patience", "'patience' lies between 1s and 10 min", "Such as 30s");
        }
        return patience;
    }

    private static AccountDef.S3 s3(YamlMap map) {
        Optional<String> keyId = S3.KEY_ID.in(map);
        Optional<Secret> secret = secret(map, S3.SECRET_KEY);
        if (keyId.isPresent() != secret.isPresent()) {
            map.wrong("'key_id' and 'secret_key' go together", "Write both, or none where nobody has to sign in");
        }
        Optional<URI> endpoint = S3.ENDPOINT
                .in(map)
                .map(url -> address(
                        map, "endpoint", url, "https://objects.vessa.example", "Use `key_id` and `secret_key`"));
        return new AccountDef.S3(
                endpoint,
                S3.REGION.in(map),
                S3.PATH_STYLE.in(map).orElse(endpoint.isPresent()),
                keyId,
                secret,
                secret(map, S3.SESSION_TOKEN),
                patience(map));
    }

    private static String host(YamlMap map, Key<String> key, String example) {
        String host = key.in(map);
        if (!host.matches("[\\w.:-]{1,253}")) {
            map.wrong("host", "'" + host + "' is not the name or address of a server", "Such as " + example);
        }
        return host;
    }

    private static Encryption encryption(YamlMap map, String host) {
        return Postgresql.ENCRYPTION.in(map).orElse(host.matches(LOCAL) ? Encryption.OFF : Encryption.VERIFIED);
    }

    private static AccountDef.Postgresql postgresql(YamlMap map) {
        String host = host(map, Postgresql.HOST, "db.vessa.example");
        return new AccountDef.Postgresql(
                host,
                Postgresql.PORT.in(map),
                map.required("database", "Name the database: `database: river`"),
                map.required("user", "Say who signs in: `user: hapster`"),
                secret(map, Postgresql.PASSWORD),
                encryption(map, host));
    }

    private static Optional<Secret> secret(YamlMap map, Key<Optional<YamlMap>> key) {
        String name = key.name();
        String hint = "Write `" + name + ": {env: NAME}` or `" + name + ": {file: PATH}`";
        if (map.has(name) && map.isText(name)) {
            map.wrong(name, "a " + name + " does not stand in this file", hint);
            return Optional.empty();
        }
        Optional<YamlMap> secret = key.in(map);
        if (secret.isEmpty()) {
            return Optional.empty();
        }
        Optional<String> variable = AccountSection.Secret.ENV.in(secret.get());
        Optional<String> path = AccountSection.Secret.FILE.in(secret.get());
        if (variable.isPresent() == path.isPresent()) {
            map.wrong(name, "'" + name + "' names one place", hint);
        }
        return variable.<Secret>map(OfEnvironment::new).or(() -> path.map(OfFile::new));
    }
}
