package dev.hapster.core.workspace;

import dev.hapster.core.definition.AccountDef.OfEnvironment;
import dev.hapster.core.definition.AccountDef.OfFile;
import dev.hapster.core.definition.AccountDef.Secret;
import java.io.BufferedReader;
import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;

/** Reads secrets where accounts say that they stand. */
public final class Secrets {

    private Secrets() {}

    /** A secret is not where it should be. */
    public static final class MissingException extends Exception {
        MissingException(String message) {
            super(message);
        }
    }

    /**
     * @param what it is, such as {@code The password of the account warehouse}
     * @throws MissingException with a sentence for people, without the secret
     */
    public static String read(Secret secret, String what, Path workspace) throws MissingException, IOException {
        if (secret instanceof OfEnvironment environment) {
            String found = System.getenv(environment.variable());
            if (found == null || found.isEmpty()) {
                throw new MissingException(what + " is to stand in the environment variable " + environment.variable()
                        + ", and the service was started without it. Set it and start the service again");
            }
            return found;
        }
        Path file = workspace.resolve(((OfFile) secret).path());
        try (BufferedReader lines = Files.newBufferedReader(file, StandardCharsets.UTF_8)) {
            String line = lines.readLine();
            if (line == null || line.isEmpty()) {
                throw new MissingException(what + " is to be the first line of " + file + ", which is empty");
            }
            return line;
        } catch (NoSuchFileException missing) {
            throw new MissingException(what + " is to stand in " + file + ", which does not exist");
        } catch (MalformedInputException binary) {
            throw new MissingException(what + " is to stand in " + file + ", which is not a text in UTF-8");
        }
    }
}
