package dev.hapster.service.runs;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.definition.yaml.DefinitionException;
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
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
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
     * @param unknown parts that the catalogue does not know
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
        Set<String> known = records.partNames();
        List<String> strangers = new ArrayList<>(
                parts.all().stream().filter(part -> !known.contains(part)).toList());
        Set<Long> swept = strangers.isEmpty() ? Set.of() : records.swept();
        for (String part : List.copyOf(strangers)) {
            if (swept.contains(arrival(part))) {
                parts.drop(part); // its rows were let go of, and whoever did so did not come to the file
                strangers.remove(part);
            }
        }
        return strangers;
    }

    private static long newest(List<String> strangers) {
        return strangers.stream().mapToLong(StoreCheck::run).max().orElse(0);
    }

    /** The arrival that a part belongs to, by its name; 0 where that does not say. */
    private static long arrival(String part) {
        Matcher numbers = NUMBERS.matcher(part);
        return numbers.find() ? Arrival.id(Long.parseLong(numbers.group(1)), Integer.parseInt(numbers.group(2))) : 0;
    }

    /** The run that wrote a part, by its name. */
    private static long run(String part) {
        String number = part.substring(part.indexOf('/') + 1).replaceFirst("-.*$", "");
        return number.matches("\\d{1,18}") ? Long.parseLong(number) : 0;
    }

    private Optional<String> unknown(List<String> strangers, long newest) {
        if (strangers.isEmpty()) {
            return Optional.empty();
        }
        boolean lost = newest > records.lastRun() || records.datasets().isEmpty();
        return Optional.of((strangers.size() == 1 ? "1 part is" : strangers.size() + " parts are")
                + " in the store that the catalogue does not know, such as " + strangers.get(0) + ". "
                + (lost
                        ? "The catalogue was lost, or is older than the store: rows are missing from the datasets"
                        : "They belong to no dataset")
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
        long takenIn = rebuild ? takeIn() : 0;
        List<String> unknown = strangers();
        List<String> missing = new ArrayList<>();
        List<String> differing = new ArrayList<>();
        List<String> unsettled = new ArrayList<>();
        List<String> found = new ArrayList<>();
        long arrivals = 0;
        for (String dataset : records.datasets()) {
            List<LedgerEntry> entries =
                    records.history(dataset, Optional.empty()).entries();
            arrivals += entries.size();
            for (LedgerEntry entry : entries) {
                compare(entry, missing, differing, found);
            }
            try {
                runner.resettle(workspace.dataset(dataset), rebuild)
                        .forEach(entry -> unsettled.add(entry.arrival().source() + " of run "
                                + entry.arrival().entry()));
            } catch (DefinitionException | UnknownNameException unreadable) {
                found.add("What counts of " + dataset + " cannot be found anew: " + unreadable.getMessage());
            }
        }
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

    /** What helps where a part of a file is missing or damaged. */
    public static String cure(String job, String source) {
        return "Its rows are from " + source + ": put the part back from a copy of the store, or load that file again: "
                + "hapster run " + job + " --again \"" + source + "\"";
    }

    private void compare(LedgerEntry entry, List<String> missing, List<String> differing, List<String> found) {
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
            } else if (parts.check(part) != entry.arrival().rows()) {
                differing.add(part);
            }
        } catch (IOException | RuntimeException damaged) {
            if (!entry.isLoaded()) {
                LOG.warn("{}; its rows do not count now, and cannot be put back", damaged.getMessage());
                return;
            }
            found.add(damaged.getMessage() + ". "
                    + cure(entry.arrival().job(), entry.arrival().source()));
        }
    }

    private long takeIn() throws IOException {
        List<LedgerEntry> entries = new ArrayList<>();
        Map<Long, String> datasets = new HashMap<>();
        List<Names.Rename> renamed = renames.noted();
        for (String part : strangers()) {
            try {
                Map<String, String> notes = PartStore.notes(parts.path(part));
                for (Kind kind : Kind.values()) {
                    notes.computeIfPresent(kind.word(), (key, name) -> Renames.now(renamed, kind, name, run(part)));
                }
                Optional<LedgerEntry> entry = PartNotes.entry(part, notes, Files.exists(parts.deletions(part)));
                if (entry.isPresent()
                        && datasets.putIfAbsent(entry.get().arrival().id(), notes.get("dataset")) == null) {
                    entries.add(entry.get());
                }
            } catch (IOException | IllegalArgumentException unreadable) {
                LOG.warn("The part {} is not taken in: {}", part, unreadable.getMessage());
            }
        }
        if (!entries.isEmpty()) {
            records.takeIn(entries, datasets);
            LOG.warn("{} parts were taken into the catalogue from what they tell", entries.size());
        }
        return entries.size();
    }
}
