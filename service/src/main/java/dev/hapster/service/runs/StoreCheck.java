package dev.hapster.service.runs;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Part;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.load.PartNotes;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.core.workspace.Workspace.Kind;
import dev.hapster.service.catalogue.Names;
import dev.hapster.service.catalogue.StoredCatalogue;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Holds the catalogue against the store: parts that one has and the other does not, and what counts against the log. A
 * catalogue that was lost, or is older than the store, is noticed by that when the service starts, and put together
 * again from what the parts tell. Thread-safe.
 */
@ApplicationScoped
public class StoreCheck {

    private static final Logger LOG = LoggerFactory.getLogger(StoreCheck.class);

    private static final Pattern NUMBERS = Pattern.compile("/(\\d{1,11})-(\\d{1,7})-");

    private static final int MOST_AGAIN = 5;

    private final Workspace workspace;
    private final StoredCatalogue records;
    private final PartStore parts;
    private final Runner runner;
    private final Renames renames;
    private volatile List<String> problems = List.of();
    private final List<String> left = new CopyOnWriteArrayList<>();

    StoreCheck(Workspace workspace, StoredCatalogue records, PartStore parts, Runner runner, Renames renames) {
        this.workspace = workspace;
        this.records = records;
        this.parts = parts;
        this.runner = runner;
        this.renames = renames;
    }

    /** What was wrong when the store was last looked through, and what the start left; empty where nothing was. */
    public List<String> problems() {
        return Stream.concat(left.stream(), problems.stream()).toList();
    }

    /** Something that came to light while a part was read. It is shown until the store is verified. */
    public void met(String problem) {
        if (!problems.contains(problem)) {
            LOG.error(problem);
            problems = Stream.concat(problems.stream(), Stream.of(problem)).toList();
        }
    }

    /** Something that the start could not put in order. It is shown until the next start. */
    void left(String problem) {
        LOG.warn(problem);
        left.add(problem);
    }

    /**
     * What a look through the store found.
     *
     * @param arrivals arrivals that the catalogue knows
     * @param parts files of parts in the store
     * @param unknown files of parts that the catalogue does not know
     * @param missing parts of rows that count, and that are not there
     * @param differing parts that have another number of rows than the catalogue says
     * @param unsettled arrivals that were kept as standing otherwise than the log says
     * @param takenIn parts that were taken into the catalogue
     * @param corrected arrivals of which it was corrected how they stand
     * @param problems what is wrong now, a sentence each
     */
    public record Verified(
            long arrivals,
            long parts,
            List<String> unknown,
            List<String> missing,
            List<String> differing,
            List<String> unsettled,
            long takenIn,
            long corrected,
            List<String> problems) {}

    /** Looks at the start: names alone, so that it is quick. */
    void look() throws IOException {
        List<String> strangers = strangers();
        long newest = newest(strangers);
        for (Names.Rename rename : renames.noted()) {
            newest = Math.max(newest, rename.upTo());
        }
        if (newest > records.lastRun()) {
            records.numbersFrom(newest + 1); // numbers of runs and arrivals are in the parts: none must be given twice
        }
        List<String> found = new ArrayList<>();
        unknown(strangers, newest).ifPresent(found::add);
        List<String> missing = new ArrayList<>();
        for (String dataset : records.datasets()) {
            records.parts(dataset).stream()
                    .filter(part -> !Files.exists(parts.path(part.name())))
                    .forEach(part -> missing.add(part.name() + " (" + cure(part.job(), part.source()) + ")"));
        }
        missing(missing).ifPresent(found::add);
        problems = List.copyOf(found);
        problems.forEach(LOG::error);
    }

    private List<String> strangers() throws IOException {
        Set<String> known = PartStore.files(records.partNames());
        List<String> strangers = new ArrayList<>(
                parts.all().stream().filter(part -> !known.contains(part)).toList());
        Map<Long, String> parts = strangers.isEmpty() ? Map.of() : records.partsByArrival();
        for (String file : List.copyOf(strangers)) {
            Set<Long> arrivals = arrivals(file);
            if (!arrivals.isEmpty() && arrivals.stream().allMatch(arrival -> isElsewhere(parts.get(arrival)))) {
                this.parts.dropFile(
                        file); // whoever let go of its rows, or put them elsewhere, did not come to the file
                strangers.remove(file);
            }
        }
        return strangers;
    }

    /**
     * Whether rows are not needed in a file that the catalogue does not know.
     *
     * @param part where the catalogue has them; empty where they were let go of, null where it does not know them
     */
    private boolean isElsewhere(String part) {
        return part != null && (part.isEmpty() || Files.exists(parts.path(part)));
    }

    /** The arrivals of which a file has rows; none where that cannot be read. */
    private Set<Long> arrivals(String file) {
        long alone = arrival(file);
        if (alone > 0) {
            return Set.of(alone);
        }
        try {
            Set<Long> arrivals = new HashSet<>();
            for (Map<String, String> notes : parts.contents(file).values()) {
                arrivals.add(Long.parseLong(notes.getOrDefault("arrival", "0")));
            }
            return arrivals;
        } catch (IOException | RuntimeException unreadable) {
            LOG.warn("What {} holds cannot be read", file, unreadable);
            return Set.of();
        }
    }

    /** The last of the runs that wrote something that is in these files. */
    private long newest(List<String> files) {
        return files.stream()
                .mapToLong(file -> {
                    long writer = run(file);
                    return writer > 0 ? writer : lastEntry(file);
                })
                .max()
                .orElse(0);
    }

    /** The last of the runs that parts are from that became one file. */
    private long lastEntry(String file) {
        try {
            return parts.contents(file).values().stream()
                    .mapToLong(notes -> Long.parseLong(notes.getOrDefault("entry", "0")))
                    .max()
                    .orElse(0);
        } catch (IOException | RuntimeException unreadable) {
            LOG.warn("What {} holds cannot be read", file, unreadable);
            return 0;
        }
    }

    /** The arrival that a file belongs to, by its name; 0 where that does not say. */
    private static long arrival(String part) {
        Matcher numbers = NUMBERS.matcher(part);
        return numbers.find() ? Arrival.id(Long.parseLong(numbers.group(1)), Integer.parseInt(numbers.group(2))) : 0;
    }

    /** The run that wrote a file, by its name; 0 where no run did. */
    private static long run(String part) {
        String number = part.substring(part.indexOf('/') + 1).replaceFirst("-.*$", "");
        return number.matches("\\d{1,18}") ? Long.parseLong(number) : 0;
    }

    private Optional<String> unknown(List<String> strangers, long newest) {
        if (strangers.isEmpty()) {
            return Optional.empty();
        }
        boolean lost = newest > records.lastRun() || records.datasets().isEmpty();
        return Optional.of(
                (strangers.size() == 1 ? "1 file in the store is" : strangers.size() + " files in the store are")
                        + " unknown to the catalogue, such as " + strangers.get(0) + ". "
                        + (lost
                                ? "The catalogue was lost, or is older than the store: rows are missing from the datasets"
                                : "Their rows belong to no dataset")
                        + ". hapster verify --rebuild takes in what the parts tell");
    }

    private static Optional<String> missing(List<String> missing) {
        return missing.isEmpty()
                ? Optional.empty()
                : Optional.of((missing.size() == 1 ? "1 part is" : missing.size() + " parts are")
                        + " missing from the store, and their rows cannot be read, such as " + missing.get(0));
    }

    /** @param rebuild whether parts are taken in that the catalogue does not know, and it is corrected what counts */
    Verified verify(boolean rebuild) throws IOException {
        return parts.reading(() -> verified(rebuild));
    }

    private Verified verified(boolean rebuild) throws IOException {
        long takenIn = rebuild ? takeIn() : 0;
        List<String> unknown = strangers();
        List<String> missing = new ArrayList<>();
        List<String> differing = new ArrayList<>();
        List<String> unsettled = new ArrayList<>();
        List<String> found = new ArrayList<>();
        Map<String, List<Part>> lost = new LinkedHashMap<>();
        long arrivals = 0;
        for (String dataset : records.datasets()) {
            List<LedgerEntry> entries =
                    records.history(dataset, Optional.empty()).entries();
            arrivals += entries.size();
            PartStore.Check check = parts.check();
            for (LedgerEntry entry : entries) {
                compare(entry, check, missing, differing, lost);
            }
            try {
                runner.resettle(workspace.dataset(dataset), rebuild)
                        .forEach(entry -> unsettled.add(entry.arrival().source() + " of run "
                                + entry.arrival().entry()));
            } catch (DefinitionException | UnknownNameException unreadable) {
                found.add("What counts of " + dataset + " cannot be found anew: " + unreadable.getMessage());
            }
        }
        lost.forEach((what, parts) -> found.add(what + cure(parts)));
        unknown(unknown, newest(unknown)).ifPresent(found::add);
        missing(missing).ifPresent(found::add);
        differing.stream()
                .findFirst()
                .ifPresent(first -> found.add((differing.size() == 1 ? "1 part has" : differing.size() + " parts have")
                        + " another number of rows than the catalogue says, such as " + first));
        if (!rebuild && !unsettled.isEmpty()) {
            found.add((unsettled.size() == 1 ? "1 arrival is" : unsettled.size() + " arrivals are")
                    + " kept as standing otherwise than the log says, such as " + unsettled.get(0)
                    + ". hapster verify --rebuild corrects it");
        }
        problems = List.copyOf(found);
        return new Verified(
                arrivals,
                parts.all().size(),
                unknown,
                missing,
                differing,
                unsettled,
                takenIn,
                rebuild ? unsettled.size() : 0,
                problems);
    }

    /** What helps where the rows of parts are missing or damaged: a sentence, or nothing where there are none. */
    public static String cure(List<Part> lost) {
        if (lost.size() < 2) {
            return lost.stream()
                    .map(part -> ". " + cure(part.job(), part.source()))
                    .findFirst()
                    .orElse("");
        }
        List<String> sources =
                lost.stream().map(Part::source).distinct().sorted().toList();
        String again = lost.stream()
                .map(Part::job)
                .distinct()
                .sorted()
                .map(job -> "hapster run " + job + " " + sources(lost, job))
                .collect(Collectors.joining("; "));
        return ". It holds the rows of " + Reasons.some(sources)
                + ": put it back from a copy of the store, or load these files again: " + again;
    }

    /** Which files of a job are loaded again: the lost ones, or simply all where these are many. */
    private static String sources(List<Part> lost, String job) {
        List<String> sources = lost.stream()
                .filter(part -> part.job().equals(job))
                .map(Part::source)
                .distinct()
                .sorted()
                .toList();
        return sources.size() > MOST_AGAIN
                ? "--again --all"
                : sources.stream().map(source -> "--again \"" + source + "\"").collect(Collectors.joining(" "));
    }

    /** What helps where a part of a file is missing or damaged. */
    public static String cure(String job, String source) {
        return "Its rows are from " + source + ": put the part back from a copy of the store, or load that file again: "
                + "hapster run " + job + " --again \"" + source + "\"";
    }

    private void compare(
            LedgerEntry entry,
            PartStore.Check check,
            List<String> missing,
            List<String> differing,
            Map<String, List<Part>> lost) {
        String part = entry.arrival().part();
        if (part.isEmpty()) {
            return;
        }
        try {
            if (!Files.exists(parts.path(part))) {
                if (entry.isLoaded()) {
                    missing.add(part + " ("
                            + cure(entry.arrival().job(), entry.arrival().source()) + ")");
                }
            } else if (check.of(part) != entry.arrival().rows()) {
                differing.add(part);
            }
        } catch (IOException | RuntimeException damaged) {
            if (!entry.isLoaded()) {
                LOG.warn("{}; its rows do not count now, and cannot be put back", damaged.getMessage());
                return;
            }
            lost.computeIfAbsent(damaged.getMessage(), what -> new ArrayList<>())
                    .add(new Part(
                            entry.arrival().id(),
                            part,
                            "",
                            entry.arrival().job(),
                            entry.arrival().source(),
                            "",
                            entry.arrival().rows(),
                            entry.arrival().entry(),
                            entry.arrival().content(),
                            Optional.empty()));
        }
    }

    private long takeIn() throws IOException {
        List<LedgerEntry> entries = new ArrayList<>();
        Map<Long, String> datasets = new HashMap<>();
        Map<Long, String> known = records.partsByArrival();
        Map<String, Map<String, String>> moved = new HashMap<>();
        List<Names.Rename> renamed = renames.noted();
        for (String file : strangers()) {
            try {
                for (Map.Entry<String, Map<String, String>> part :
                        parts.contents(file).entrySet()) {
                    Map<String, String> notes = new HashMap<>(part.getValue());
                    long by = Long.parseLong(notes.getOrDefault("entry", Long.toString(run(file))));
                    for (Kind kind : Kind.values()) {
                        notes.computeIfPresent(kind.word(), (key, name) -> Renames.now(renamed, kind, name, by));
                    }
                    Optional<LedgerEntry> entry = PartNotes.entry(
                            part.getKey(), notes, Files.exists(parts.deletions(file)), text -> runner.opener()
                                    .roots()
                                    .resolve(workspace.folder(), text));
                    if (entry.isEmpty()) {
                        continue;
                    }
                    long arrival = entry.get().arrival().id();
                    String dataset = notes.get("dataset");
                    if (!known.containsKey(arrival)) {
                        if (datasets.putIfAbsent(arrival, dataset) == null) {
                            entries.add(entry.get());
                        }
                    } else if (!isElsewhere(known.get(arrival))) {
                        moved.computeIfAbsent(dataset, name -> new HashMap<>())
                                .put(known.put(arrival, part.getKey()), part.getKey());
                    }
                }
            } catch (IOException | IllegalArgumentException unreadable) {
                LOG.warn("What {} holds is not taken in: {}", file, unreadable.getMessage());
            }
        }
        if (!entries.isEmpty()) {
            records.takeIn(entries, datasets);
            LOG.warn("{} parts were taken into the catalogue from what they tell", entries.size());
        }
        long found = 0;
        for (Map.Entry<String, Map<String, String>> one : moved.entrySet()) {
            if (records.movedParts(one.getKey(), one.getValue())) {
                found += one.getValue().size();
                LOG.warn(
                        "{} parts of {} were found again in other files",
                        one.getValue().size(),
                        one.getKey());
            }
        }
        return entries.size() + found;
    }
}
