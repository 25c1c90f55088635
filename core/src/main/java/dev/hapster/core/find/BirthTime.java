package dev.hapster.core.find;

import com.sun.jna.Memory;
import com.sun.jna.Native;
import com.sun.jna.Platform;
import dev.hapster.core.remote.Remotes;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Instant;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * When a file came into being. Java tells it itself on most systems; on Linux only from version 22 on, and before that
 * this asks the system with {@code statx(2)}, once somebody wants to know. Thread-safe.
 */
public final class BirthTime {

    private static final Logger LOG = LoggerFactory.getLogger(BirthTime.class);
    private static final int FIRST_JAVA_THAT_TELLS = 22;
    private static final boolean ASK =
            Platform.isLinux() && Runtime.version().feature() < FIRST_JAVA_THAT_TELLS && Statx.works();

    private final Path path;
    private volatile Optional<Instant> told;

    private BirthTime(Path path) {
        this.path = path;
    }

    private BirthTime(Optional<Instant> told) {
        path = null;
        this.told = told;
    }

    static BirthTime of(Path path, BasicFileAttributes attributes) {
        if (Remotes.isRemote(path)) {
            return new BirthTime(Optional.empty());
        }
        if (ASK) {
            return new BirthTime(path);
        }
        boolean tells = !Platform.isLinux() || Runtime.version().feature() >= FIRST_JAVA_THAT_TELLS;
        Instant created = attributes.creationTime().toInstant();
        return new BirthTime(tells && created.toEpochMilli() != 0 ? Optional.of(created) : Optional.empty());
    }

    static BirthTime known(Instant created) {
        return new BirthTime(Optional.of(created));
    }

    /** Empty where neither Java nor the system tells. */
    Optional<Instant> get() {
        Optional<Instant> answer = told;
        if (answer == null) {
            answer = Statx.birth(path);
            told = answer;
        }
        return answer;
    }

    /** The C library's statx. Offsets are those of struct statx, which is the same on all machines. */
    private static final class Statx {
        private static final int AT_FDCWD = -100;
        private static final int STATX_BTIME = 0x800;
        private static final int SIZE = 256;
        private static final int MASK = 0;
        private static final int BIRTH_SECONDS = 80;
        private static final int BIRTH_NANOS = 88;
        private static final boolean BOUND = bind();
        private static final ThreadLocal<Memory> ANSWER = ThreadLocal.withInitial(() -> new Memory(SIZE));

        private static boolean bind() {
            try {
                Native.register(Statx.class, "c");
                return true;
            } catch (UnsatisfiedLinkError | NoClassDefFoundError missing) {
                LOG.info("The system does not tell when files were created: {}", missing.getMessage());
                return false;
            }
        }

        static boolean works() {
            return BOUND && birth(Path.of("/")) != null;
        }

        /** @param path as the C library takes it: bytes in the platform's encoding, with a zero at the end */
        private static native int statx(int folder, byte[] path, int flags, int mask, Memory answer);

        static Optional<Instant> birth(Path path) {
            Memory answer = ANSWER.get();
            byte[] name = path.toString().getBytes(NAMES);
            byte[] closed = java.util.Arrays.copyOf(name, name.length + 1);
            if (statx(AT_FDCWD, closed, 0, STATX_BTIME, answer) != 0 || (answer.getInt(MASK) & STATX_BTIME) == 0) {
                return Optional.empty();
            }
            return Optional.of(Instant.ofEpochSecond(answer.getLong(BIRTH_SECONDS), answer.getInt(BIRTH_NANOS)));
        }

        /** In what names of files are written here. */
        private static final java.nio.charset.Charset NAMES =
                java.nio.charset.Charset.forName(System.getProperty("sun.jnu.encoding", "UTF-8"));
    }
}
