package dev.hapster.core.deliver.table;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.UUID;

/** By which a store is told from others, wherever its workspace is moved. */
public final class StoreId {

    private static final String FILE = "id";

    private StoreId() {}

    /**
     * The id of a store; it gets one where it has none.
     *
     * @param store its folder
     */
    public static synchronized String of(Path store) throws IOException {
        Path file = store.resolve(FILE);
        try {
            return UUID.fromString(
                            Files.readString(file, StandardCharsets.US_ASCII).strip())
                    .toString();
        } catch (NoSuchFileException first) {
            return make(store, file);
        } catch (IllegalArgumentException wrong) {
            throw new IOException(
                    file + " holds no id of a store. Put it back from a backup; without it, tables that "
                            + "were delivered are taken for another workspace's",
                    wrong);
        }
    }

    private static String make(Path store, Path file) throws IOException {
        String id = UUID.randomUUID().toString();
        Path draft = store.resolve(FILE + ".draft");
        try (FileChannel channel = FileChannel.open(
                draft, StandardOpenOption.CREATE, StandardOpenOption.TRUNCATE_EXISTING, StandardOpenOption.WRITE)) {
            channel.write(ByteBuffer.wrap((id + "\n").getBytes(StandardCharsets.US_ASCII)));
            channel.force(true);
        }
        Files.move(draft, file, StandardCopyOption.ATOMIC_MOVE);
        return id;
    }
}
