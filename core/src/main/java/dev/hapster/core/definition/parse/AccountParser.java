package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.Encryption;
import dev.hapster.core.definition.AccountDef.OfEnvironment;
import dev.hapster.core.definition.AccountDef.OfFile;
import dev.hapster.core.definition.AccountDef.Secret;
import dev.hapster.core.definition.section.AccountSection;
import dev.hapster.core.definition.section.AccountSection.Account;
import dev.hapster.core.definition.section.AccountSection.Postgresql;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.definition.yaml.YamlMap;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

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
                Optional<YamlMap> server = Account.POSTGRESQL.in(map);
                if (server.isEmpty()) {
                    map.missing("postgresql", "Say where it leads: `postgresql: {host: …, database: …, user: …}`");
                } else if (accounts.put(name, new AccountDef(name, postgresql(server.get()))) != null) {
                    map.wrong("name", "the account '" + name + "' is declared twice", "Keep one of them");
                }
            }
        }
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return accounts;
    }

    private static AccountDef.Postgresql postgresql(YamlMap map) {
        String host = Postgresql.HOST.in(map);
        if (!host.matches("[\\w.:-]{1,253}")) {
            map.wrong("host", "'" + host + "' is not the name or address of a server", "Such as db.vessa.example");
        }
        return new AccountDef.Postgresql(
                host,
                Postgresql.PORT.in(map),
                map.required("database", "Name the database: `database: river`"),
                map.required("user", "Say who signs in: `user: hapster`"),
                password(map),
                Postgresql.ENCRYPTION.in(map).orElse(host.matches(LOCAL) ? Encryption.OFF : Encryption.VERIFIED));
    }

    private static Optional<Secret> password(YamlMap map) {
        String hint = "Write `password: {env: NAME}` or `password: {file: PATH}`";
        if (map.isText("password")) {
            map.wrong("password", "a password does not stand in this file", hint);
            return Optional.empty();
        }
        Optional<YamlMap> password = Postgresql.PASSWORD.in(map);
        if (password.isEmpty()) {
            return Optional.empty();
        }
        Optional<String> variable = AccountSection.Secret.ENV.in(password.get());
        Optional<String> path = AccountSection.Secret.FILE.in(password.get());
        if (variable.isPresent() == path.isPresent()) {
            map.wrong("password", "'password' names one place", hint);
        }
        return variable.<Secret>map(OfEnvironment::new).or(() -> path.map(OfFile::new));
    }
}
