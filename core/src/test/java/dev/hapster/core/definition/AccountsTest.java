package dev.hapster.core.definition;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.hapster.core.definition.AccountDef.Encryption;
import dev.hapster.core.definition.AccountDef.OfEnvironment;
import dev.hapster.core.definition.AccountDef.Postgresql;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.yaml.DefinitionException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The file of accounts says where to sign in, and never a secret. */
class AccountsTest {

    private static Postgresql at(String keys) throws DefinitionException {
        return (Postgresql) Definitions.accounts("accounts.yaml", "accounts: [{name: w, postgresql: {" + keys + "}}]")
                .get("w")
                .at();
    }

    @Test
    void whatIsNotSaidIsUsualAndSafe() throws DefinitionException {
        Postgresql far = at("host: db.vessa.example, database: river, user: u, password: {env: PASS}");
        assertThat(far.port()).isEqualTo(5432);
        assertThat(far.password()).contains(new OfEnvironment("PASS"));
        assertThat(far.encryption()).isEqualTo(Encryption.VERIFIED);
        assertThat(at("database: river, user: u").encryption()).isEqualTo(Encryption.OFF);
        assertThat(at("host: \"::1\", database: r, user: u, encryption: required")
                        .encryption())
                .isEqualTo(Encryption.REQUIRED);
        assertThat(at("host: 127.0.0.1.vessa.example, database: r, user: u").encryption())
                .as("an address of this machine in the name of another")
                .isEqualTo(Encryption.VERIFIED);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "database: r, user: u, password: told | a password does not stand in this file",
                "database: r, user: u, password: {env: A, file: b} | 'password' names one place",
                "database: r, user: u, password: {} | 'password' names one place",
                "database: r, user: u, password: {enf: A} | unknown key 'enf'",
                "database: r | 'user' is missing",
                "host: \"a/b?ssl=0\", database: r, user: u | is not the name or address of a server",
                "port: 0, database: r, user: u | 'port' must be",
                "database: r, user: u, encryption: of | Did you mean 'off'?",
            })
    void mistakesAreSaid(String keys, String said) {
        DefinitionException wrong = catchThrowableOfType(DefinitionException.class, () -> at(keys));
        assertThat(wrong.problems().toString()).contains(said);
    }
}
