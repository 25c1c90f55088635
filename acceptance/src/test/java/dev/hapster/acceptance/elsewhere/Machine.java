package dev.hapster.acceptance.elsewhere;

import dev.hapster.acceptance.Workspaces;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;

/** A server of our own that keeps files in a folder, behind a wire that can be disturbed. */
public abstract class Machine implements AutoCloseable {

    private final Path data;
    private final Wire wire;
    private final int port;
    private boolean direct;

    Machine(Path data, int port) throws IOException {
        this.data = data;
        wire = new Wire(port);
        this.port = port;
    }

    /** What leads to it, and can be disturbed. */
    public Wire wire() {
        return wire;
    }

    /** From now on it is named by its own port, and nothing can be disturbed any more; for measurements. */
    public void speakDirectly() throws IOException {
        direct = true;
    }

    /** By which it is reached. */
    int port() {
        return direct ? port : wire.port();
    }

    Path data() {
        return data;
    }

    /** Its account in {@code accounts.yaml}. */
    public abstract String account();

    /** How a job names what lies there. */
    public abstract String address(String path);

    /** Puts a file there; the folders that it needs are made. */
    public void put(String path, byte[] content) throws Exception {
        Files.createDirectories(data.resolve(path).getParent());
        Files.write(data.resolve(path), content);
    }

    public void put(String path, Path file) throws Exception {
        Files.createDirectories(data.resolve(path).getParent());
        Files.copy(file, data.resolve(path));
    }

    public void put(String path, String content) throws Exception {
        put(path, content.getBytes(StandardCharsets.UTF_8));
    }

    public void delete(String path) throws Exception {
        Files.delete(data.resolve(path));
    }

    /** Everything that lies there: contents by path. */
    public Map<String, String> files() throws Exception {
        return Workspaces.contents(data, StandardCharsets.UTF_8);
    }

    @Override
    public void close() {
        try {
            wire.close();
        } catch (IOException wrong) {
            throw new UncheckedIOException(wrong);
        }
    }
}
