package dev.hapster.service.remote;

import dev.hapster.core.remote.Remotes;
import dev.hapster.service.work.Repeating;
import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import org.slf4j.LoggerFactory;

/** Lets go of connections and of copies that nobody uses any more. */
@ApplicationScoped
class Resting {

    private static final long PAUSE = 10_000;

    private final Remotes remotes;
    private final Repeating resting;

    Resting(Remotes remotes) {
        this.remotes = remotes;
        resting = new Repeating(
                "elsewhere",
                PAUSE,
                this::rest,
                LoggerFactory.getLogger(Resting.class),
                "Connections to other machines that rest could not be closed");
    }

    void start(@Observes StartupEvent event) {
        resting.start();
    }

    void stop(@Observes ShutdownEvent event) throws InterruptedException {
        resting.stop();
        remotes.close();
    }

    private void rest() {
        remotes.rest();
    }
}
