package dev.hapster.cli.http;

import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.List;
import java.util.OptionalLong;
import java.util.UUID;
import java.util.function.BiFunction;
import org.apache.hc.client5.http.classic.methods.HttpGet;
import org.apache.hc.client5.http.classic.methods.HttpPost;
import org.apache.hc.client5.http.impl.classic.CloseableHttpClient;
import org.apache.hc.client5.http.impl.classic.HttpClients;
import org.apache.hc.core5.function.Supplier;
import org.apache.hc.core5.http.ClassicHttpRequest;
import org.apache.hc.core5.http.ContentType;
import org.apache.hc.core5.http.Header;
import org.apache.hc.core5.http.HttpEntity;
import org.apache.hc.core5.http.io.entity.ByteArrayEntity;

/**
 * Answers with rows, of any length. The service says in front how many there will be and behind how many it wrote; what
 * is not whole is never taken for whole.
 */
public final class Rows {

    private static final String EXPECTED = "Hapster-Rows";
    private static final String WRITTEN = "Hapster-Rows-Written";

    private final String address;
    private final byte[] sent;
    private final BiFunction<Integer, String, ClientException> rejection;

    /**
     * @param sent a body of JSON that goes with the call; null where none does
     * @param rejection what is told of an answer of another kind, from its status and its text
     */
    Rows(String address, byte[] sent, BiFunction<Integer, String, ClientException> rejection) {
        this.address = address;
        this.sent = sent;
        this.rejection = rejection;
    }

    /**
     * What was fetched.
     *
     * @param bytes its size
     * @param rows how many rows the service wrote; empty where something between it and the client kept that back
     */
    public record Fetched(long bytes, OptionalLong rows) {}

    /** A fault of the place that rows are written to, and none of the connection. */
    private static final class TargetException extends IOException {
        TargetException(IOException why) {
            super(why.getMessage(), why);
        }
    }

    /**
     * Writes rows into a file, which appears only once it is whole.
     *
     * @throws IOException where the service is not there
     */
    Fetched into(Path target) throws IOException {
        Path part = target.resolveSibling(".hapster-" + UUID.randomUUID() + ".part"); // nobody can have planted it
        part.toFile().deleteOnExit();
        try {
            OptionalLong rows;
            try (FileChannel file = FileChannel.open(part, StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE)) {
                rows = fetch(Channels.newOutputStream(file), "nothing was written");
                file.force(true);
            } catch (FileSystemException wrong) {
                throw new TargetException(wrong);
            }
            Files.move(part, target, StandardCopyOption.REPLACE_EXISTING);
            return new Fetched(Files.size(target), rows);
        } catch (TargetException | FileSystemException wrong) {
            throw new ClientException(ExitStatus.FAILED, "Cannot write " + target + ": " + why(target, wrong));
        } finally {
            try {
                Files.deleteIfExists(part);
            } catch (IOException left) {
                System.err.println(part + " could not be removed: " + left.getMessage());
            }
        }
    }

    /** Passes rows on as they come. */
    void copy(OutputStream out) throws IOException {
        try {
            fetch(out, "what was written is not whole");
        } catch (TargetException closed) {
            throw new ClientException(ExitStatus.FAILED, "The rows could not be passed on: " + closed.getMessage());
        }
    }

    private OptionalLong fetch(OutputStream out, String sofar) throws IOException {
        try (CloseableHttpClient http = HttpClients.custom()
                .disableContentCompression()
                .disableAutomaticRetries()
                .disableRedirectHandling()
                .build()) {
            return http.execute(call(), answer -> {
                HttpEntity body = answer.getEntity();
                if (answer.getCode() != 200) {
                    throw rejection.apply(
                            answer.getCode(), new String(body.getContent().readAllBytes(), StandardCharsets.UTF_8));
                }
                try {
                    body.writeTo(new Target(out));
                    out.flush();
                } catch (TargetException wrong) {
                    throw wrong;
                } catch (IOException broken) {
                    throw notWhole("broke off (" + broken.getMessage() + ")", sofar);
                }
                OptionalLong written = written(body);
                Header expected = answer.getFirstHeader(EXPECTED);
                if (expected != null
                        && written.isPresent()
                        && !expected.getValue().equals(Long.toString(written.getAsLong()))) {
                    throw notWhole("has " + written.getAsLong() + " of " + expected.getValue() + " rows", sofar);
                }
                return written;
            });
        }
    }

    private ClassicHttpRequest call() {
        if (sent == null) {
            return new HttpGet(address);
        }
        HttpPost post = new HttpPost(address);
        post.setEntity(new ByteArrayEntity(sent, ContentType.APPLICATION_JSON));
        return post;
    }

    private static ClientException notWhole(String what, String sofar) {
        return new ClientException(ExitStatus.FAILED, "The answer of the service " + what + "; " + sofar);
    }

    private static OptionalLong written(HttpEntity body) {
        Supplier<List<? extends Header>> behind = body.getTrailers();
        List<? extends Header> trailers = behind == null ? null : behind.get();
        return trailers == null
                ? OptionalLong.empty()
                : trailers.stream()
                        .filter(header -> header.getName().equalsIgnoreCase(WRITTEN))
                        .mapToLong(header -> Long.parseLong(header.getValue()))
                        .findFirst();
    }

    private static String why(Path target, IOException wrong) {
        Path folder = target.toAbsolutePath().getParent();
        if (folder != null && !Files.isDirectory(folder)) {
            return "the folder " + folder + " does not exist";
        }
        IOException first = wrong.getCause() instanceof IOException cause ? cause : wrong;
        return first instanceof FileSystemException system && system.getReason() != null
                ? system.getReason()
                : first.getMessage();
    }

    /** Tells faults of the target from those of the connection. */
    private static final class Target extends FilterOutputStream {
        Target(OutputStream out) {
            super(out);
        }

        @Override
        public void write(byte[] bytes, int from, int length) throws IOException {
            try {
                out.write(bytes, from, length);
            } catch (IOException wrong) {
                throw new TargetException(wrong);
            }
        }
    }
}
