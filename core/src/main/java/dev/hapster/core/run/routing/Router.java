package dev.hapster.core.run.routing;

import dev.hapster.core.catalogue.Afterwards;
import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.Fingerprint;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.catalogue.Route;
import dev.hapster.core.catalogue.Route.Done;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.definition.Handling.After;
import dev.hapster.core.definition.Handling.Routing;
import dev.hapster.core.definition.TargetPattern;
import dev.hapster.core.disk.FileNames;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Roots;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.remote.Remotes;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.RulesVersion;
import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NotDirectoryException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Moves, copies and deletes files after runs decided about them. What it is asked to do is in the catalogue before, and
 * can be begun again at any point: a file that is there already under its target's name with the same content is what
 * an earlier attempt left. Nothing is ever overwritten. Thread-safe.
 */
public final class Router {

    /** Names that are tried, one after another, while others take those that were free. */
    private static final int MOST_ATTEMPTS = 1_000;

    private static final int MOST_NUMBERS = 100_000;

    private final Path workspace;
    private final Roots roots;
    private final Delivery delivery;
    private final Catalogue catalogue;
    private final Clock clock;
    private final Set<Path> reserved = ConcurrentHashMap.newKeySet();

    public Router(Path workspace, Roots roots, RejectStore rejects, Catalogue catalogue, Clock clock) {
        this.workspace = workspace;
        this.roots = roots;
        delivery = new Delivery(workspace, roots, rejects);
        this.catalogue = catalogue;
        this.clock = clock;
    }

    /** What lies where a target's fixed part points. */
    public Path resolve(String folder) {
        return roots.resolve(workspace, folder);
    }

    /**
     * What is to become of a file.
     *
     * @param route what is to be done; empty where nothing is
     * @param afterwards the same for the report, or why it is not done; empty where nobody expects anything
     * @param outdated whether nothing is done only because the job said otherwise when the file was loaded
     */
    public record Planned(Optional<Route> route, Optional<Afterwards> afterwards, boolean outdated) {
        public static final Planned NOTHING = new Planned(Optional.empty(), Optional.empty(), false);
    }

    /**
     * A file of which everything is decided.
     *
     * @param candidate the file, or the first of its sheets or entries
     * @param known what is known of it from before
     * @param results of it, or of all its sheets and entries
     * @param arrivals what it brought, as the log has it
     * @param rejected rows of it that are rejected
     */
    public record Decided(
            Candidate candidate,
            Optional<LedgerEntry> known,
            List<FileResult> results,
            List<Long> arrivals,
            long rejected) {

        Outcome outcome() {
            return results.stream().anyMatch(one -> one.outcome() == Outcome.WAITING)
                    ? Outcome.WAITING
                    : results.stream().anyMatch(one -> one.outcome() == Outcome.REJECTED)
                            ? Outcome.REJECTED
                            : Outcome.LOADED;
        }

        boolean isNews() {
            return results.stream().anyMatch(one -> one.sinceRun() == 0 && one.outcome() != Outcome.UNCHANGED);
        }
    }

    /** What is done with files by a run, or would be. */
    public record Plan(long run, Instant began, PreparedJob prepared, boolean dry, boolean applyAfter) {}

    /** What is to be done with a file of which everything is decided. */
    public Planned plan(Plan plan, Decided decided) {
        After after = plan.prepared.job().handling().after();
        if (after.isNothing()) {
            return Planned.NOTHING;
        }
        Candidate file = decided.candidate;
        FileResult first = decided.results.get(0);
        Outcome outcome = decided.outcome();
        Routing routing = outcome == Outcome.WAITING
                ? after.waiting()
                : outcome == Outcome.REJECTED ? after.rejected() : after.loaded();
        boolean outdated = !decided.isNews()
                && !plan.applyAfter
                && decided.known
                        .filter(known -> known.after().equals(RulesVersion.after(after)))
                        .isEmpty();
        if (outdated) {
            return new Planned(Optional.empty(), Optional.empty(), routing.isTaking());
        }
        if (routing.kind() == Routing.Kind.DELETE
                && outcome == Outcome.LOADED
                && decided.rejected > 0
                && !routing.always()) {
            return new Planned(
                    Optional.empty(),
                    Optional.of(Afterwards.nothing("kept: "
                            + (decided.rejected == 1
                                    ? "1 row of it is rejected"
                                    : decided.rejected + " rows of it are rejected")
                            + " and can be tried again while the file is there (`delete: even with "
                            + "rejects` deletes it all the same)")),
                    false);
        }
        long reasonsOf = outcome == Outcome.REJECTED && routing.declared() && routing.kind() != Routing.Kind.DELETE
                ? decided.results.stream()
                        .filter(one -> one.outcome() == Outcome.REJECTED)
                        .mapToLong(one -> one.sinceRun() > 0 ? one.sinceRun() : plan.run)
                        .max()
                        .orElse(0)
                : 0;
        boolean there = file.former().isPresent()
                && decided.known.isPresent()
                && outcome != Outcome.WAITING
                && decided.known.get().arrival().accepted() == (outcome == Outcome.LOADED);
        if (there) { // an earlier run has taken it where files of this kind go
            routing = new Routing(Routing.Kind.LEAVE, true, Optional.empty(), false);
        }
        boolean stays = !routing.isTaking();
        boolean stale =
                outcome == Outcome.LOADED && after.rejected().declared() && Files.exists(Delivery.beside(file.path()));
        if ((stays && !decided.isNews() && !plan.applyAfter)
                || (routing.kind() == Routing.Kind.LEAVE && reasonsOf == 0 && !stale)) {
            return Planned.NOTHING;
        }
        Fingerprint now;
        try {
            now = Fingerprint.look(file.path());
        } catch (IOException gone) {
            return Planned.NOTHING; // there is nothing to be done with it any more
        }
        if (outcome != Outcome.WAITING
                && (!now.modified().equals(first.fingerprint().modified())
                        || !now.changed().equals(first.fingerprint().changed()))) {
            return Planned.NOTHING; // it has changed since it was read: the next run decides about it
        }
        boolean whole = file.entry().isEmpty() && file.sheet().isEmpty();
        Optional<Path> wanted =
                routing.target().map(pattern -> target(pattern, plan.run, plan.began, plan.prepared, file, outcome));
        if (wanted.filter(this::isForbidden).isPresent()) {
            return new Planned(
                    Optional.empty(),
                    Optional.of(Afterwards.nothing(
                            "left where it is: " + wanted.get() + " belongs to Hapster's own store or definitions")),
                    false);
        }
        if (routing.kind() == Routing.Kind.COPY
                && reasonsOf == 0
                && !stale
                && isCopied(file.path(), wanted.orElseThrow())) {
            return Planned.NOTHING; // doing it twice does no harm
        }
        Path target = wanted.map(path -> plan.dry ? path : free(path)).orElse(file.path());
        Route route = new Route(
                plan.run,
                first.ordinal(),
                plan.prepared.job().name(),
                first.file(),
                first.identity(),
                routing.kind(),
                file.path(),
                target,
                now.withHash(whole ? first.fingerprint().hash() : ""),
                outcome,
                reasonsOf,
                decided.arrivals);
        return new Planned(Optional.of(route), Optional.of(route.afterwards(false)), false);
    }

    private boolean isForbidden(Path target) {
        if (Remotes.isRemote(target)) {
            return false;
        }
        try {
            Path existing = target;
            while (existing != null && !Files.exists(existing)) {
                existing = existing.getParent();
            }
            return roots.own(target) || (existing != null && roots.own(existing.toRealPath()));
        } catch (IOException unreadable) {
            return false; // taking it there will meet the same, and say so
        }
    }

    /** What would become of a file of an outcome, before anything is known of its content; empty where it stays. */
    public Optional<Afterwards> prospect(PreparedJob prepared, Candidate file, Outcome outcome, Instant at) {
        After after = prepared.job().handling().after();
        Routing routing = outcome == Outcome.WAITING
                ? after.waiting()
                : outcome == Outcome.REJECTED ? after.rejected() : after.loaded();
        return switch (routing.kind()) {
            case LEAVE -> Optional.empty();
            case DELETE ->
                Optional.of(Afterwards.deleted(
                        outcome == Outcome.LOADED && !routing.always() ? ", unless rows of it are rejected" : ""));
            case MOVE, COPY ->
                Optional.of(Afterwards.taken(
                        routing.kind(), target(routing.target().orElseThrow(), 0, at, prepared, file, outcome)));
        };
    }

    private Path target(
            TargetPattern pattern, long run, Instant began, PreparedJob prepared, Candidate file, Outcome outcome) {
        TargetPattern.Filling filling = new TargetPattern.Filling(
                prepared.job().name(),
                run,
                began,
                outcome.word(),
                file.path().getFileName().toString(),
                file.modified(),
                file.facts(),
                prepared.job().find().get(file.place() - 1).zone().orElse(clock.getZone()));
        return resolve(pattern.folder(filling)).resolve(pattern.name(filling));
    }

    /** Whether a copy with this content is there already, under the name or one with a number. */
    private static boolean isCopied(Path source, Path wanted) {
        try {
            Path copy = wanted;
            for (int number = 2; Files.exists(copy, LinkOption.NOFOLLOW_LINKS); copy = numbered(wanted, number++)) {
                if (Files.isRegularFile(copy) && Delivery.sameContent(source, copy)) {
                    return true;
                }
            }
            return false;
        } catch (IOException unreadable) {
            return false; // copying it will meet the same, and say so
        }
    }

    static Path numbered(Path wanted, int number) {
        String name = wanted.getFileName().toString();
        int ending = FileNames.ending(name);
        return number == 1
                ? wanted
                : wanted.resolveSibling(
                        FileNames.with(name.substring(0, ending), "-" + number + name.substring(ending)));
    }

    /** The name, or the first with a number that nobody has. */
    private Path free(Path wanted) {
        for (int number = 1; number < MOST_NUMBERS; number++) {
            Path path = numbered(wanted, number);
            if (!Files.exists(path, LinkOption.NOFOLLOW_LINKS) && reserved.add(path)) {
                return path;
            }
        }
        throw new IllegalStateException(
                "There are " + MOST_NUMBERS + " files called " + wanted.getFileName() + " in " + wanted.getParent());
    }

    /** Does it. */
    public Done execute(Route planned) {
        return execute(planned, false);
    }

    /** Finishes what an earlier attempt may have begun. */
    public Done finish(Route planned) {
        return execute(planned, true);
    }

    private Done execute(Route planned, boolean again) {
        Route route = planned;
        try {
            CrashPoint.BEFORE_ROUTING.reached();
            if (again) {
                delivery.clean(route);
            }
            for (int attempt = 0; ; attempt++) {
                try {
                    return delivery.deliver(route);
                } catch (FileAlreadyExistsException taken) {
                    if (attempt > MOST_ATTEMPTS) {
                        throw taken;
                    }
                    reserved.remove(route.target());
                    route = route.to(free(planned.target()));
                    catalogue.redirect(route);
                }
            }
        } catch (IOException
                | RuntimeException wrong) { // whatever it is, the others are delivered and the service goes on
            return new Done(route, Optional.empty(), Optional.of(words(route, wrong)), Optional.empty());
        } finally {
            reserved.remove(planned.target());
            reserved.remove(route.target());
        }
    }

    private static String words(Route route, Exception wrong) {
        String what =
                switch (route.kind()) {
                    case LEAVE -> "could not be given its reasons";
                    case DELETE -> "could not be deleted";
                    case MOVE -> "could not be moved to " + route.target();
                    case COPY -> "could not be copied to " + route.target();
                };
        String why = wrong instanceof java.nio.file.AccessDeniedException
                ? "the account that runs the service may not write there"
                : wrong instanceof NotDirectoryException file
                        ? file.getFile() + " is a file, and a folder is wanted there"
                        : wrong instanceof FileSystemException system && system.getReason() != null
                                ? system.getReason()
                                : Reasons.deepest(wrong);
        return route.source() + " " + what + ": " + why + ". It is tried again with the next run";
    }
}
