package dev.hapster.core.run.routing;

import com.dynatrace.hash4j.hashing.HashStream128;
import com.dynatrace.hash4j.hashing.HashValue128;
import com.dynatrace.hash4j.hashing.Hashing;
import de.siegmar.fastcsv.writer.CsvWriter;
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
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Roots;
import dev.hapster.core.store.RejectStore;
import dev.hapster.core.store.RejectStore.Reject;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.RulesVersion;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;

/**
 * Moves, copies and deletes files after runs decided about them. What it is asked to do is in the catalogue before, and
 * can be begun again at any point: a file that is there already under its target's name with the same content is what
 * an earlier attempt left. Nothing is ever overwritten. Thread-safe.
 */
public final class Router {

    private static final int MOST_REASONS = 1_000_000;
    private static final int MOST_NUMBERS = 100_000;

    private final Path workspace;
    private final Roots roots;
    private final RejectStore rejects;
    private final Catalogue catalogue;
    private final Clock clock;
    private final Set<Path> reserved = ConcurrentHashMap.newKeySet();

    public Router(Path workspace, Roots roots, RejectStore rejects, Catalogue catalogue, Clock clock) {
        this.workspace = workspace;
        this.roots = roots;
        this.rejects = rejects;
        this.catalogue = catalogue;
        this.clock = clock;
    }

    /** What lies where a target's fixed part points. */
    public Path resolve(String folder) {
        return workspace.resolve(folder).normalize();
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
        boolean stale = outcome == Outcome.LOADED && after.rejected().declared() && Files.exists(beside(file.path()));
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
                if (Files.isRegularFile(copy) && sameContent(source, copy)) {
                    return true;
                }
            }
            return false;
        } catch (IOException unreadable) {
            return false; // copying it will meet the same, and say so
        }
    }

    private static Path numbered(Path wanted, int number) {
        String name = wanted.getFileName().toString();
        int dot = name.indexOf('.', 1);
        return number == 1
                ? wanted
                : wanted.resolveSibling((dot < 0 ? name : name.substring(0, dot)) + "-" + number
                        + (dot < 0 ? "" : name.substring(dot)));
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

    /** Does it, or finishes what was begun. */
    public Done execute(Route planned) {
        Route route = planned;
        try {
            CrashPoint.BEFORE_ROUTING.reached();
            for (int attempt = 0; ; attempt++) {
                try {
                    Done done =
                            switch (route.kind()) {
                                case LEAVE -> new Done(route, Optional.empty(), Optional.empty(), Optional.empty());
                                case DELETE -> delete(route);
                                case MOVE -> move(route);
                                case COPY -> copy(route);
                            };
                    if (done.note().isEmpty()) {
                        beside(route);
                    }
                    return done;
                } catch (FileAlreadyExistsException taken) {
                    if (attempt > MOST_NUMBERS) {
                        throw taken;
                    }
                    route = route.to(free(route.target()));
                    catalogue.redirect(route);
                }
            }
        } catch (IOException wrong) {
            return new Done(route, Optional.empty(), Optional.of(words(route, wrong)), Optional.empty());
        } finally {
            reserved.remove(planned.target());
            reserved.remove(route.target());
        }
    }

    private static String words(Route route, IOException wrong) {
        String what =
                switch (route.kind()) {
                    case LEAVE -> "could not be given its reasons";
                    case DELETE -> "could not be deleted";
                    case MOVE -> "could not be moved to " + route.target();
                    case COPY -> "could not be copied to " + route.target();
                };
        String why = wrong instanceof java.nio.file.AccessDeniedException
                ? "the account that runs the service may not write there"
                : wrong instanceof FileSystemException system && system.getReason() != null
                        ? system.getReason()
                        : String.valueOf(wrong.getMessage());
        return route.source() + " " + what + ": " + why + ". It is tried again with the next run";
    }

    private static Done gone(Route route, String note) {
        return new Done(route, Optional.empty(), Optional.empty(), Optional.of(route.source() + " " + note));
    }

    private Done delete(Route route) throws IOException {
        if (!Files.exists(route.source())) {
            return new Done(route, Optional.empty(), Optional.empty(), Optional.empty());
        }
        if (!isStill(route)) {
            return gone(route, "was not deleted: it has changed since it was read");
        }
        Files.delete(route.source());
        CrashPoint.SOURCE_GONE.reached();
        return new Done(route, Optional.empty(), Optional.empty(), Optional.empty());
    }

    private Done move(Route route) throws IOException {
        Path source = route.source();
        Path target = route.target();
        if (!Files.exists(source, LinkOption.NOFOLLOW_LINKS)) {
            return Files.exists(target)
                    ? new Done(route, Optional.of(target), Optional.empty(), Optional.empty())
                    : gone(route, "was not moved: it is gone");
        }
        if (Files.exists(target, LinkOption.NOFOLLOW_LINKS)) {
            if (!Files.isSameFile(source, target) && !sameContent(source, target)) {
                throw new FileAlreadyExistsException(target.toString());
            }
        } else {
            if (!isStill(route)) {
                return gone(route, "was not moved: it has changed since it was read");
            }
            folder(target.getParent());
            try {
                Files.createLink(target, source);
                force(target.getParent());
            } catch (FileAlreadyExistsException taken) {
                throw taken;
            } catch (FileSystemException | UnsupportedOperationException acrossFileSystems) {
                verifiedCopy(route);
            }
            CrashPoint.TARGET_NAMED.reached();
        }
        Files.delete(source);
        CrashPoint.SOURCE_GONE.reached();
        return new Done(route, Optional.of(target), Optional.empty(), Optional.empty());
    }

    private Done copy(Route route) throws IOException {
        if (Files.exists(route.target(), LinkOption.NOFOLLOW_LINKS)) {
            if (!Files.exists(route.source()) || sameContent(route.source(), route.target())) {
                return new Done(route, Optional.empty(), Optional.empty(), Optional.empty());
            }
            throw new FileAlreadyExistsException(route.target().toString());
        }
        if (!Files.exists(route.source()) || !isStill(route)) {
            return gone(route, "was not copied: it is gone, or has changed since it was read");
        }
        folder(route.target().getParent());
        verifiedCopy(route);
        CrashPoint.TARGET_NAMED.reached();
        return new Done(route, Optional.empty(), Optional.empty(), Optional.empty());
    }

    /** Makes the folder, which must lie below the roots also when links are followed. */
    private void folder(Path folder) throws IOException {
        Path existing = folder;
        while (existing != null && !Files.exists(existing)) {
            existing = existing.getParent();
        }
        if (roots.own(folder) || (existing != null && roots.own(existing.toRealPath()))) {
            throw new IOException(folder + " belongs to Hapster's own store or definitions");
        }
        if (existing == null || !roots.hold(existing)) {
            throw new IOException(folder + " lies outside the folders that the service may write to (" + roots + ")");
        }
        Files.createDirectories(folder);
    }

    /**
     * Whether the file is what was read. A link to it, made on the way, changes the time of its attributes; the
     * content's time tells.
     */
    private static boolean isStill(Route route) throws IOException {
        Fingerprint now = Fingerprint.look(route.source());
        return now.size() == route.seen().size()
                && now.modified().equals(route.seen().modified());
    }

    /** Copies to a name of its own, reads it back, and only then gives it its name. */
    private void verifiedCopy(Route route) throws IOException {
        Path draft = route.target()
                .resolveSibling("." + route.target().getFileName() + ".hapster-" + route.run() + "-" + route.ordinal());
        try {
            String source;
            try (InputStream in = Files.newInputStream(route.source());
                    OutputStream out = Files.newOutputStream(
                            draft,
                            StandardOpenOption.CREATE,
                            StandardOpenOption.TRUNCATE_EXISTING,
                            StandardOpenOption.WRITE)) {
                source = hash(in, out);
            }
            Files.setLastModifiedTime(draft, Files.getLastModifiedTime(route.source()));
            try (FileChannel channel = FileChannel.open(draft, StandardOpenOption.READ)) {
                channel.force(true);
            }
            CrashPoint.COPY_WRITTEN.reached();
            if (!hash(draft).equals(source)
                    || (!route.seen().hash().isEmpty() && !route.seen().hash().equals(source))) {
                throw new IOException("the copy does not equal what was read");
            }
            name(draft, route.target());
            force(route.target().getParent());
        } finally {
            Files.deleteIfExists(draft);
        }
    }

    /** Gives a file a name that nobody has; a second link does not take one that is there, as renaming would. */
    private static void name(Path draft, Path target) throws IOException {
        try {
            Files.createLink(target, draft);
        } catch (FileAlreadyExistsException taken) {
            throw taken;
        } catch (FileSystemException | UnsupportedOperationException noLinks) {
            if (Files.exists(target, LinkOption.NOFOLLOW_LINKS)) {
                throw new FileAlreadyExistsException(target.toString(), null, noLinks.getMessage());
            }
            Files.move(draft, target, StandardCopyOption.ATOMIC_MOVE);
        }
    }

    private static boolean sameContent(Path one, Path other) throws IOException {
        return Files.size(one) == Files.size(other) && hash(one).equals(hash(other));
    }

    private static String hash(Path file) throws IOException {
        try (InputStream in = Files.newInputStream(file)) {
            return hash(in, OutputStream.nullOutputStream());
        }
    }

    private static String hash(InputStream in, OutputStream out) throws IOException {
        HashStream128 hash = Hashing.xxh3_128().hashStream();
        byte[] buffer = new byte[1 << 17];
        for (int count = in.read(buffer); count >= 0; count = in.read(buffer)) {
            hash.putBytes(buffer, 0, count);
            out.write(buffer, 0, count);
        }
        HashValue128 value = hash.get();
        return String.format("%016x%016x", value.getMostSignificantBits(), value.getLeastSignificantBits());
    }

    private static void force(Path folder) throws IOException {
        try (FileChannel channel = FileChannel.open(folder, StandardOpenOption.READ)) {
            channel.force(true);
        } catch (FileSystemException folders) {
            return; // some systems do not let folders be opened; their renames are durable by themselves
        }
    }

    static Path beside(Path file) {
        return file.resolveSibling(file.getFileName() + Candidate.REASONS);
    }

    /** Puts the reasons beside a rejected file, and takes away those that no longer hold. */
    private void beside(Route route) throws IOException {
        Path stale = beside(route.source());
        if (route.reasonsOf() == 0 || (!route.source().equals(route.target()) && route.kind() == Routing.Kind.MOVE)) {
            if (isOurs(stale)) {
                Files.delete(stale);
            }
        }
        if (route.reasonsOf() == 0) {
            return;
        }
        Path target = beside(route.target());
        if (Files.exists(target) && !isOurs(target)) {
            target = free(target);
        }
        List<Reject> lines =
                rejects.read(route.reasonsOf(), reject -> reject.isIn(route.identity(), route.file()), 0, MOST_REASONS);
        Path draft = target.resolveSibling("." + target.getFileName() + ".tmp");
        try {
            try (CsvWriter csv = CsvWriter.builder()
                    .build(
                            draft,
                            StandardCharsets.UTF_8,
                            StandardOpenOption.CREATE,
                            StandardOpenOption.TRUNCATE_EXISTING,
                            StandardOpenOption.WRITE)) {
                csv.writeRecord(RejectStore.BESIDE_COLUMNS);
                for (Reject line : lines) {
                    csv.writeRecord(
                            line.file(),
                            line.line() == 0 ? "" : Long.toString(line.line()),
                            line.column(),
                            line.value(),
                            line.code(),
                            line.reason(),
                            line.original());
                }
            }
            Files.move(draft, target, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
            CrashPoint.REASONS_WRITTEN.reached();
        } finally {
            reserved.remove(target);
            Files.deleteIfExists(draft);
        }
    }

    private static boolean isOurs(Path file) throws IOException {
        if (!Files.isRegularFile(file)) {
            return false;
        }
        try (Stream<String> lines = Files.lines(file)) {
            return lines.findFirst()
                    .filter(String.join(",", RejectStore.BESIDE_COLUMNS)::equals)
                    .isPresent();
        } catch (java.io.UncheckedIOException noText) {
            return false;
        }
    }
}
