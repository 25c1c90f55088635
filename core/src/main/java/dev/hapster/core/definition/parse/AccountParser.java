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
import dev.hapster.core.definition.section.AccountSection.Web;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.definition.yaml.YamlMap;
import java.net.URI;
import java.net.URISyntaxException;
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
        List<String> there = Stream.of(Account.POSTGRESQL, Account.MAIL, Account.HTTP)
                .map(Key::name)
                .filter(map::has)
                .toList();
        if (there.size() != 1) {
            map.wrong(
                    there.isEmpty() ? "the account does not say where it leads" : "an account leads to one place",
                    "Write one of `postgresql: {…}`, `mail: {…}`, `http: {…}`");
            return Optional.empty();
        }
        return Account.POSTGRESQL
                .in(map)
                .<Server>map(AccountParser::postgresql)
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
        String url = map.required("url", "Say what is called: `url: https://alarms.vessa.example/hapster`");
        URI address = URI.create("http://localhost");
        try {
            address = new URI(url);
            boolean web = address.getHost() != null && List.of("http", "https").contains(address.getScheme());
            if (map.has("url") && (!web || address.getUserInfo() != null)) {
                map.wrong(
                        "url",
                        web ? "a password does not stand in this file" : "'url' must begin with http:// or https://",
                        web ? "Use `token: {env: NAME}`" : "Such as https://alarms.vessa.example/hapster");
            }
        } catch (URISyntaxException wrong) {
            map.wrong("url", "'url' is not an address: " + wrong.getReason(), "");
        }
        return new AccountDef.Web(address, secret(map, Web.KEY), secret(map, Web.TOKEN));
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
