package dev.hapster.service.history;

import dev.hapster.core.workspace.Workspace;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The Git repository in which a workspace lies, where it lies in one and the program {@code git} is there. Git is only
 * asked, and nothing is run that the repository's own settings name. Where it does not answer, there is no commit.
 * Thread-safe.
 */
@ApplicationScoped
public class Repository {

    private static final Logger LOG = LoggerFactory.getLogger(Repository.class);
    private static final long PATIENCE = 5; // seconds
    private static final int MOST_BYTES = 100_000;
    private static final int SHA1_LETTERS = 40;

    private final Path folder;

    Repository(Workspace workspace) {
        folder = workspace.folder();
    }

    /**
     * A commit.
     *
     * @param id of the commit, as Git prints it in full
     * @param uncommitted definitions that differ from those in the commit, by their paths in the workspace
     */
    public record Commit(String id, List<String> uncommitted) {
        public Commit {
            uncommitted = List.copyOf(uncommitted);
        }
    }

    /**
     * The commit that is checked out.
     *
     * @param texts of definitions, by their paths in the workspace
     */
    public Optional<Commit> commit(Map<String, String> texts) {
        if (!isThere()) {
            return Optional.empty();
        }
        try {
            Optional<String> id =
                    git("rev-parse", "--verify", "--quiet", "HEAD").map(String::strip);
            if (id.isEmpty()) {
                return Optional.empty();
            }
            List<String> asked = new ArrayList<>(List.of("ls-tree", "-z", id.get(), "--"));
            asked.addAll(texts.keySet());
            String tree = git(asked.toArray(String[]::new)).orElse("");
            List<String> uncommitted = new ArrayList<>();
            String digest = id.get().length() > SHA1_LETTERS ? "SHA-256" : "SHA-1";
            texts.forEach((path, text) -> {
                boolean same = Arrays.stream(tree.split("\0"))
                        .filter(entry -> entry.endsWith("\t" + path))
                        .anyMatch(entry -> entry.contains(" " + blob(text, digest) + "\t")
                                || entry.contains(" " + blob(lines(text), digest) + "\t"));
                if (!same) {
                    uncommitted.add(path);
                }
            });
            return Optional.of(new Commit(id.get(), uncommitted));
        } catch (IOException unknown) {
            LOG.debug("Git does not say which commit {} is at", folder, unknown);
            return Optional.empty();
        }
    }

    private boolean isThere() {
        for (Path at = folder; at != null; at = at.getParent()) {
            if (Files.exists(at.resolve(".git"))) {
                return true;
            }
        }
        return false;
    }

    /** What Git prints, a few lines; empty where it ends with a fault, such as that there is no commit yet. */
    private Optional<String> git(String... asked) throws IOException {
        List<String> command = new ArrayList<>(List.of("git", "-c", "core.fsmonitor=false"));
        command.addAll(List.of(asked));
        ProcessBuilder builder =
                new ProcessBuilder(command).directory(folder.toFile()).redirectError(ProcessBuilder.Redirect.DISCARD);
        builder.environment().keySet().removeIf(name -> name.startsWith("GIT_"));
        builder.environment().put("GIT_OPTIONAL_LOCKS", "0");
        Process git = builder.start();
        try {
            git.getOutputStream().close();
            if (!git.waitFor(PATIENCE, TimeUnit.SECONDS)) {
                throw new IOException("git gives no answer within " + PATIENCE + " seconds");
            }
            return git.exitValue() == 0
                    ? Optional.of(new String(git.getInputStream().readNBytes(MOST_BYTES), StandardCharsets.UTF_8))
                    : Optional.empty();
        } catch (InterruptedException hurried) {
            Thread.currentThread().interrupt();
            throw new IOException("Interrupted", hurried);
        } finally {
            git.destroyForcibly();
        }
    }

    /** Git keeps texts with plain line feeds, where it is told to. */
    private static String lines(String text) {
        return text.replace("\r\n", "\n");
    }

    /** The number that Git gives a file of this text. */
    private static String blob(String text, String digest) {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        try {
            MessageDigest sum = MessageDigest.getInstance(digest);
            sum.update(("blob " + bytes.length + "\0").getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(sum.digest(bytes));
        } catch (NoSuchAlgorithmException missing) {
            throw new IllegalStateException(missing); // every Java has both
        }
    }
}
