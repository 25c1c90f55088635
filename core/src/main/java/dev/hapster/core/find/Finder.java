package dev.hapster.core.find;

import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.NameList;
import dev.hapster.core.find.Finding.Trouble;
import dev.hapster.core.find.Listing.Entry;
import dev.hapster.core.find.NameLists.Listed;
import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.remote.RemotePath;
import dev.hapster.core.remote.Remotes;
import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Searches the places of a job. Folders outside the roots are rejected, links are followed inside the roots only, and
 * no more than a stated number of entries is looked at. Immutable and thread-safe.
 */
public final class Finder {

    private static final Logger LOG = LoggerFactory.getLogger(Finder.class);
    /** Names of a list that a message shows one by one. */
    private static final int SHOWN = 5;

    private final Path workspace;
    private final Roots roots;
    private final NameLists lists;
    private final Containers insides;
    private final Clock clock;

    /**
     * @param workspace the folder to which relative folders refer
     * @param lists reads lists of names
     * @param insides looks into archives and workbooks
     * @param clock the present, for rules such as {@code modified: last 7 days}
     */
    public Finder(Path workspace, Roots roots, NameLists lists, Containers insides, Clock clock) {
        this.insides = insides;
        this.clock = clock;
        this.workspace = workspace.toAbsolutePath().normalize();
        this.roots = roots;
        this.lists = lists;
    }

    /**
     * Looks into the workspace's own folder, so that the first search that somebody waits for finds everything loaded.
     */
    public void prepare() {
        Place own = new Place(
                ".", 0, List.of(new FindRule.Take(List.of(NamePattern.of("*.{yaml,lock}")))), Optional.empty());
        long told = find(List.of(own)).candidates().stream()
                .filter(file -> file.created().isPresent())
                .count();
        LOG.debug("The file system tells of {} files when they were created", told);
    }

    /** Lists every file of the places, as they are now. A file that two places reach is taken by the first of them. */
    public Finding find(List<Place> places) {
        Map<Integer, Place> numbered = new LinkedHashMap<>();
        places.forEach(place -> numbered.put(numbered.size() + 1, place));
        return find(numbered);
    }

    /** @param places by their number in the job, counted from 1 */
    public Finding find(Map<Integer, Place> places) {
        return sift(places, this::list);
    }

    /**
     * Lets listings through the rules of places.
     *
     * @param places by their number in the job, counted from 1
     * @param listings gives what lies in a place; an older listing will do for a preview
     */
    public Finding sift(Map<Integer, Place> places, Function<Place, Listing> listings) {
        Instant now = clock.instant();
        List<Candidate> candidates = new ArrayList<>();
        List<RuleCounts> sieves = new ArrayList<>();
        List<Trouble> troubles = new ArrayList<>();
        Set<String> taken = new HashSet<>();
        places.forEach((number, place) -> {
            Listing listing = listings.apply(place);
            listing.troubles.forEach(trouble -> troubles.add(trouble.at(number)));
            boolean searched =
                    listing.entries.size() > 0 || listing.troubles.stream().noneMatch(Trouble::grave);
            if (searched) {
                ContainerSearch unfolding = new ContainerSearch(place, insides);
                RuleFilter filter = new RuleFilter(number, place, unfolding.archives(listing));
                RuleCounts sieve = filter.sift(now, taken);
                List<Candidate> files = filter.candidates();
                List<RuleCounts.Step> steps = new ArrayList<>(sieve.steps());
                candidates.addAll(
                        place.sheets().isPresent()
                                ? unfolding.sheets(files, place.sheets().get(), steps)
                                : files);
                sieves.add(new RuleCounts(number, place.folder(), sieve.seen(), steps));
            }
        });
        return new Finding(candidates, sieves, troubles);
    }

    /**
     * A file of a place, whether the place's rules take it or not.
     *
     * @param relative its path below the place's folder
     * @return empty where it is not a file, or lies outside the roots
     */
    public Optional<Path> file(Place place, String relative) {
        try {
            Path folder = roots.resolve(workspace, place.folder());
            Path path = folder.resolve(relative).normalize();
            return path.startsWith(folder) && Files.isRegularFile(path) && roots.hold(path)
                    ? Optional.of(path)
                    : Optional.empty();
        } catch (InvalidPathException | IOException none) {
            return Optional.empty();
        }
    }

    /**
     * A file that a run has taken to another folder, as it would be found in its own.
     *
     * @param number which place of the job it was found in, counted from 1
     * @param file where it lay
     * @param now where it lies
     * @param inside its place inside the file, such as {@code !Mar}; empty where the file is meant
     * @param size as it was listed
     * @return empty where it is there no more, or outside the roots
     */
    public Optional<Candidate> moved(Place place, int number, Path file, Path now, String inside, long size) {
        try {
            if (!Files.isRegularFile(now) || !roots.hold(now)) {
                return Optional.empty();
            }
            Path folder = roots.resolve(workspace, place.folder());
            String relative = file.startsWith(folder)
                    ? folder.relativize(file).toString().replace('\\', '/')
                    : file.getFileName().toString();
            boolean archived = inside.startsWith(NamePattern.INSIDE);
            int mark = place.sheets().isEmpty() ? -1 : inside.lastIndexOf('!');
            boolean sheeted = mark >= 0 && !(archived && mark == 0);
            Optional<String> sheet = sheeted ? Optional.of(inside.substring(mark + 1)) : Optional.empty();
            Optional<String> entry = archived
                    ? Optional.of(inside.substring(NamePattern.INSIDE.length(), sheeted ? mark : inside.length()))
                    : Optional.empty();
            String path =
                    relative + entry.map(name -> NamePattern.INSIDE + name).orElse("");
            List<NamePattern> takes = place.rules().stream()
                    .filter(FindRule.Take.class::isInstance)
                    .flatMap(rule -> ((FindRule.Take) rule).names().stream())
                    .toList();
            List<NamePattern> titles =
                    place.sheets().map(sheets -> sheets.names()).orElse(List.of());
            return Optional.of(new Candidate(
                    number,
                    now,
                    path + (sheeted ? "!" + sheet.get() : ""),
                    archived ? size : Files.size(now),
                    Files.getLastModifiedTime(now).toInstant(),
                    BirthTime.of(now, Files.readAttributes(now, java.nio.file.attribute.BasicFileAttributes.class)),
                    true,
                    "it was rejected before",
                    false,
                    named(takes, path),
                    Optional.empty(),
                    entry,
                    sheet,
                    sheet.flatMap(name -> named(titles, name)),
                    Optional.of(file)));
        } catch (IOException gone) {
            return Optional.empty();
        }
    }

    private static Optional<Candidate.Named> named(List<NamePattern> patterns, String path) {
        return patterns.stream()
                .filter(pattern -> !pattern.facts().isEmpty() && pattern.matches(path))
                .findFirst()
                .map(pattern -> new Candidate.Named(pattern, path));
    }

    /** Looks into the folder of a place. Its rules have no part in this. */
    public Listing list(Place place) {
        Instant at = clock.instant();
        List<Trouble> troubles = new ArrayList<>();
        List<Entry> entries = List.of();
        long listed = -1;
        try {
            Path folder = roots.resolve(workspace, place.folder());
            Optional<Trouble> refusal = refuse(folder);
            if (refusal.isPresent()) {
                troubles.add(refusal.get());
            } else if (place.list().isPresent()) {
                entries = new ArrayList<>();
                listed = named(folder, place.list().get(), entries, troubles);
            } else if (folder instanceof RemotePath elsewhere) {
                entries = new RemoteWalk(elsewhere, roots, place.most()).entries(place.depth(), troubles);
            } else {
                entries = new Walk(folder, roots, place.most()).entries(place.depth(), troubles);
            }
            boolean here = !entries.isEmpty() && !Remotes.isRemote(folder);
            return new Listing(entries, troubles, here ? OpenFiles.forWriting() : Map.of(), listed, at);
        } catch (InvalidPathException wrong) {
            troubles.add(new Trouble(0, true, "'" + wrong.getInput() + "' is not a path: " + wrong.getReason(), ""));
        } catch (RemoteFault wrong) {
            troubles.add(Trouble.of(place, wrong));
        } catch (IOException wrong) {
            troubles.add(new Trouble(0, true, "the folder " + place.folder() + " cannot be searched: " + wrong, ""));
        }
        return new Listing(List.of(), troubles, Map.of(), listed, at);
    }

    private Optional<Trouble> refuse(Path folder) throws RemoteFault {
        if (folder instanceof RemotePath elsewhere) {
            roots.remotes().store(elsewhere); // says so where there is no such account
            return Optional.empty(); // whether the folder is there, listing it tells
        }
        try {
            Optional<Trouble> own = own(folder, Files.exists(folder) ? folder.toRealPath() : folder);
            if (own.isPresent()) {
                return own;
            }
            if (!roots.hold(folder)) {
                return Optional.of(outside(folder));
            }
            if (!Files.isDirectory(folder)) {
                return Optional.of(new Trouble(
                        0, true, folder + " is a file, not a folder", "Name its folder, and the file under `take`"));
            }
        } catch (AccessDeniedException wrong) {
            return Optional.of(new Trouble(
                    0,
                    true,
                    "the folder " + folder + " may not be read",
                    "Give the service's account the right to read it"));
        } catch (IOException missing) {
            return Optional.of(
                    !roots.holdAsWritten(folder)
                            ? outside(folder)
                            : new Trouble(
                                    0,
                                    true,
                                    "the folder " + folder + " does not exist",
                                    "Create it, or correct `folder`"));
        }
        return Optional.empty();
    }

    private Optional<Trouble> own(Path folder, Path real) {
        return roots.own(folder) || roots.own(real)
                ? Optional.of(new Trouble(
                        0,
                        true,
                        "the folder " + folder
                                + " belongs to Hapster's own store or definitions, and no job may read it",
                        "Name the folder in which the files arrive; `hapster export` gives rows as a file"))
                : Optional.empty();
    }

    private Trouble outside(Path folder) {
        return new Trouble(
                0,
                true,
                "the folder " + folder + " lies outside the folders that the service may use (" + roots + ")",
                "Start the service with `--root " + folder + "`");
    }

    /**
     * The files that a list names; those that are missing or named twice are troubles. Returns how many names there
     * are.
     */
    private long named(Path folder, NameList list, List<Entry> entries, List<Trouble> troubles) {
        List<Listed> names;
        try {
            Path file = roots.resolve(workspace, list.file());
            if (!roots.hold(file)) {
                troubles.add(new Trouble(
                        0,
                        true,
                        "the list " + file + " lies outside the folders that the service may use (" + roots + ")",
                        ""));
                return 0;
            }
            names = lists.read(file, list);
        } catch (java.nio.file.NoSuchFileException missing) {
            troubles.add(new Trouble(
                    0,
                    true,
                    "the list " + list.file() + " does not exist",
                    "Create it, or correct `list`; it is relative to the workspace"));
            return 0;
        } catch (IOException wrong) {
            troubles.add(new Trouble(0, true, "the list " + list.file() + ": " + wrong.getMessage(), ""));
            return 0;
        }
        List<String> missing = new ArrayList<>();
        List<String> twice = new ArrayList<>();
        Map<Path, Long> seen = new HashMap<>();
        for (Listed one : names) {
            Optional<String> wrong = resolve(folder, one, entries, seen, twice);
            wrong.ifPresent(why -> missing.add("line " + one.line() + " " + Reasons.quote(one.name()) + " " + why));
        }
        if (!missing.isEmpty()) {
            troubles.add(new Trouble(
                    0,
                    list.missingStops(),
                    missing.size() + " of the " + names.size() + " names in " + list.file() + " cannot be found in "
                            + folder + ": " + some(missing),
                    list.missingStops()
                            ? "Correct the list, or let the run go on with `missing: report`"
                            : "Correct the list"));
        }
        if (!twice.isEmpty()) {
            troubles.add(new Trouble(
                    0,
                    false,
                    twice.size() + (twice.size() == 1 ? " name stands" : " names stand") + " twice in " + list.file()
                            + ": " + some(twice),
                    "Each is taken once"));
        }
        return names.size();
    }

    private static String some(List<String> all) {
        return String.join("; ", all.subList(0, Math.min(SHOWN, all.size())))
                + (all.size() > SHOWN ? "; and " + (all.size() - SHOWN) + " more" : "");
    }

    /** Adds the file that a name stands for; or says why there is none. */
    private Optional<String> resolve(
            Path folder, Listed one, List<Entry> entries, Map<Path, Long> seen, List<String> twice) {
        try {
            Path path = folder.resolve(one.name()).normalize();
            if (!Files.exists(path) && one.name().indexOf('\\') >= 0) {
                path = folder.resolve(one.name().replace('\\', '/')).normalize();
            }
            if (!path.startsWith(folder) || path.equals(folder)) {
                return Optional.of("lies outside the folder");
            }
            Long first = seen.putIfAbsent(path, one.line());
            if (first != null) {
                twice.add("line " + one.line() + " " + Reasons.quote(one.name()) + ", first in line " + first);
                return Optional.empty();
            }
            Path real = path.toRealPath();
            if (!roots.holdReal(real)) {
                return Optional.of("is a link to " + real + ", outside the roots");
            }
            BasicFileAttributes attributes =
                    Files.readAttributes(real, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
            if (!attributes.isRegularFile()) {
                return Optional.of(attributes.isDirectory() ? "is a folder" : "is not an ordinary file");
            }
            entries.add(Walk.entry(
                    path,
                    real,
                    folder.relativize(path)
                            .toString()
                            .replace(path.getFileSystem().getSeparator(), "/"),
                    attributes,
                    Optional.empty()));
            return Optional.empty();
        } catch (InvalidPathException wrong) {
            return Optional.of("is not a name of a file: " + wrong.getReason());
        } catch (AccessDeniedException wrong) {
            return Optional.of("may not be read");
        } catch (IOException missing) {
            return Optional.of("does not exist");
        }
    }
}
