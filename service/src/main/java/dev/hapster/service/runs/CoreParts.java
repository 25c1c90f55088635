package dev.hapster.service.runs;

import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.draft.Drafting;
import dev.hapster.core.find.Roots;
import dev.hapster.core.remote.Remotes;
import dev.hapster.core.run.Runner;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.remote.Connections;
import dev.hapster.service.work.SetClock;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.inject.Produces;
import jakarta.inject.Singleton;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/** Puts the core together for one workspace. */
@ApplicationScoped
class CoreParts {

    @Produces
    @Singleton
    Clock clock() {
        String set = System.getProperty("hapster.clock");
        return set == null ? Clock.systemUTC() : new SetClock(Path.of(set));
    }

    @Produces
    @Singleton
    Workspace workspace(@ConfigProperty(name = "hapster.workspace") String folder) {
        return new Workspace(Path.of(folder));
    }

    @Produces
    @Singleton
    Roots roots(
            Workspace workspace, Remotes remotes, @ConfigProperty(name = "hapster.roots") Optional<List<String>> more) {
        List<Path> folders = new ArrayList<>(List.of(workspace.folder()));
        more.ifPresent(names -> names.forEach(name -> folders.add(Path.of(name))));
        try {
            return Roots.of(folders).reaching(remotes);
        } catch (IOException missing) {
            throw new IllegalStateException(
                    "A folder given with --root does not exist: " + missing.getMessage(), missing);
        }
    }

    @Produces
    @Singleton
    Remotes remotes(Workspace workspace) throws IOException {
        return Remotes.of(new Connections(workspace), workspace.store().resolve("elsewhere"));
    }

    @Produces
    @Singleton
    PartStore partStore(Workspace workspace) throws IOException {
        return new PartStore(workspace.store());
    }

    @Produces
    @Singleton
    RejectStore rejectStore(Workspace workspace) throws IOException {
        return new RejectStore(workspace.store());
    }

    @Produces
    @Singleton
    Runner runner(
            Workspace workspace, Roots roots, PartStore parts, RejectStore rejects, Catalogue catalogue, Clock clock) {
        return new Runner(workspace, roots, parts, rejects, catalogue, workers(), clock);
    }

    @Produces
    @Singleton
    Drafting drafting(Workspace workspace, Runner runner) {
        return new Drafting(
                workspace, runner, threads("draft-", Runtime.getRuntime().availableProcessors()));
    }

    /**
     * Twice as many threads as cores. Loading a file keeps one busy, and a run has no more than there are cores: what
     * keeps all of one run busy leaves some to others. They end with the process.
     */
    private static ExecutorService workers() {
        return threads("loader-", 2 * Runtime.getRuntime().availableProcessors());
    }

    private static ExecutorService threads(String name, int count) {
        AtomicInteger number = new AtomicInteger();
        return Executors.newFixedThreadPool(count, work -> {
            Thread thread = new Thread(work, name + number.incrementAndGet());
            thread.setDaemon(true);
            return thread;
        });
    }
}
