package dev.hapster.core.run.open;

import dev.hapster.core.pattern.Durations;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.open.SourceStream.SourceException;
import java.io.IOException;
import java.time.Duration;
import java.util.function.BooleanSupplier;

/** Looks at every reading of a source whether it is to go on. Thread-safe. */
public interface Watch {

    /** Lets everything go on. */
    Watch NONE = () -> {};

    /** @throws SourceException where the reading is to end */
    void check() throws SourceException;

    /**
     * Ends the reading of one file.
     *
     * @param over whether nobody waits for it any more
     * @param most how long reading it may take, from now on
     */
    static Watch until(BooleanSupplier over, Duration most) {
        long begun = System.nanoTime();
        return () -> {
            if (over.getAsBoolean()) {
                throw new OverException();
            }
            if (System.nanoTime() - begun > most.toNanos()) {
                throw new SlowException(most);
            }
        };
    }

    /** Nobody waits for the file any more. */
    final class OverException extends SourceException {
        OverException() {
            super(new IOException("the run was cancelled"));
        }
    }

    /** Reading takes longer than the job allows. */
    final class SlowException extends SourceException {
        private final transient Duration most;

        SlowException(Duration most) {
            super(new IOException("it takes longer than " + Durations.format(most)));
            this.most = most;
        }

        @Override
        public Reason reason() {
            return Reasons.slow(Durations.format(most));
        }
    }
}
