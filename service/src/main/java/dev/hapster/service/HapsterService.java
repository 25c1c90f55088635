package dev.hapster.service;

import dev.hapster.service.access.HeadTimeout;
import dev.hapster.service.access.WorkspaceLock;
import io.quarkus.runtime.Quarkus;
import io.quarkus.runtime.QuarkusApplication;
import io.quarkus.runtime.annotations.QuarkusMain;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * Starts the service on one workspace: {@code -Dhapster.workspace=FOLDER}, and with {@code -Dhapster.roots=A,B} the
 * folders that jobs may read besides it. Ends with status 3 where it cannot start, saying why on standard error. With
 * {@code -Dhapster.ends-with-input=true} it ends with its standard input.
 */
@QuarkusMain
public class HapsterService implements QuarkusApplication {

    private static final int FAILED = 3;

    public static void main(String[] args) {
        Path workspace = Path.of(System.getProperty("hapster.workspace", "."))
                .toAbsolutePath()
                .normalize();
        if (!Files.isDirectory(workspace)) {
            refuse("There is no folder " + workspace + ". Create it, or name another with --workspace.");
        }
        if (workspace.toString().contains(";")) {
            refuse("The workspace's path must not contain ';': " + workspace);
        }
        try {
            WorkspaceLock.take(workspace);
        } catch (WorkspaceLock.TakenException taken) {
            refuse(taken.getMessage());
        }
        System.setProperty("hapster.workspace", workspace.toString());
        HeadTimeout.install();
        Quarkus.run(
                HapsterService.class,
                (status, failure) -> {
                    if (failure != null) {
                        System.err.println("The service could not start: " + rootCause(failure) + damaged(failure));
                    }
                    System.exit(failure == null ? status : FAILED);
                },
                args);
    }

    @Override
    public int run(String... args) {
        if (Boolean.getBoolean("hapster.ends-with-input")) {
            endWithInput(); // only now: what asks for the end while the service starts is not heard
        }
        Quarkus.waitForExit();
        return 0;
    }

    /** Ends the service when the process that started it ends, however that ends: its pipe to us is closed then. */
    private static void endWithInput() {
        Thread watch = new Thread(
                () -> {
                    try {
                        System.in.transferTo(java.io.OutputStream.nullOutputStream());
                    } catch (java.io.IOException closed) {
                        // means the same as its end
                    }
                    Quarkus.asyncExit();
                },
                "input");
        watch.setDaemon(true);
        watch.start();
    }

    /** What to do where the catalogue's file is damaged. */
    private static String damaged(Throwable failure) {
        for (Throwable cause = failure; cause != null && cause.getCause() != cause; cause = cause.getCause()) {
            if (isCorrupt(cause)) {
                return "\nThe catalogue is damaged. Put back a copy of it; or move it away "
                        + "(store/catalogue.mv.db), start again, and let"
                        + "\n  hapster verify --rebuild\nput it together from what the parts in the store tell.";
            }
        }
        return "";
    }

    private static boolean isCorrupt(Throwable cause) {
        if (cause instanceof org.h2.mvstore.MVStoreException store) {
            return store.getErrorCode() == org.h2.mvstore.DataUtils.ERROR_FILE_CORRUPT;
        }
        return cause instanceof java.sql.SQLException database
                && database.getErrorCode() == org.h2.api.ErrorCode.FILE_CORRUPTED_1;
    }

    private static String rootCause(Throwable failure) {
        Throwable cause = failure;
        while (cause.getCause() != null && cause.getCause() != cause) {
            cause = cause.getCause();
        }
        return cause.getMessage() == null ? cause.toString() : cause.getMessage();
    }

    private static void refuse(String why) {
        System.err.println(why);
        System.exit(FAILED);
    }
}
