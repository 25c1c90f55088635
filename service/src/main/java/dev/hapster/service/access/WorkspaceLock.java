package dev.hapster.service.access;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;

/** One service a workspace: a locked file in its store, which names the process that holds it. */
public final class WorkspaceLock {

    /** Held until the process ends; the operating system lets go of it then, however it ends. */
    @SuppressWarnings("UnusedVariable")
    private static FileChannel held;

    private WorkspaceLock() {}

    /** Another service has the workspace, or its store cannot be written. */
    public static final class TakenException extends Exception {
        TakenException(String message, Throwable cause) {
            super(message, cause);
        }
    }

    public static synchronized void take(Path workspace) throws TakenException {
        Path file = workspace.resolve("store").resolve("service.lock");
        try {
            Files.createDirectories(file.getParent());
            FileChannel channel = FileChannel.open(
                    file, StandardOpenOption.CREATE, StandardOpenOption.READ, StandardOpenOption.WRITE);
            FileLock lock = channel.tryLock();
            if (lock == null) {
                throw new TakenException(
                        "The workspace " + workspace + " is in use by the service with process number "
                                + holder(channel) + ". Stop that one first, or use it.",
                        null);
            }
            channel.truncate(0);
            channel.write(
                    ByteBuffer.wrap(Long.toString(ProcessHandle.current().pid()).getBytes(StandardCharsets.US_ASCII)));
            held = channel;
        } catch (OverlappingFileLockException twice) {
            throw new TakenException("The workspace " + workspace + " is in use by this very process", twice);
        } catch (IOException wrong) {
            throw new TakenException(
                    "The store of the workspace cannot be written (" + file + "): " + wrong.getMessage(), wrong);
        }
    }

    private static String holder(FileChannel channel) throws IOException {
        ByteBuffer text = ByteBuffer.allocate(32);
        channel.read(text, 0);
        String number = new String(text.array(), 0, text.position(), StandardCharsets.US_ASCII).strip();
        return number.isEmpty() ? "unknown" : number;
    }
}
