package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.run.Reference.Mode;
import dev.hapster.core.run.Reference.Reading;
import dev.hapster.core.run.Reference.Row;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.stream.Stream;

/**
 * A random sequence of what happens to a job and its folder, told at the same time to a {@link World} that does it and
 * to the {@link Reference} that says what must come of it. Both catalogues, the one in memory and the service's own,
 * are held to the same stories.
 */
public final class Story {

    private static final List<String> NAMES = List.of("a.csv", "b.csv", "c.csv", "d.csv");

    /** Who does what the story says. */
    public interface World {

        /** The workspace. */
        Path workspace();

        /** The folder into which the files are put, below the workspace. */
        String inbox();

        /** Name of the job and of its dataset. */
        String name();

        /** @param again names of files that are loaded though they have not changed; {@code *} for all */
        long run(Set<String> again) throws Exception;

        /** Takes again what is rejected: everything, or what a run said. */
        long retry(long of) throws Exception;

        /** Whether a retry takes everything that is rejected; otherwise what the run said. */
        boolean retriesAll();

        /** Whether an entry can be taken back; and how many rows more there would be. */
        long[] effect(long of) throws Exception;

        long undo(long of) throws Exception;

        /** @return 0 where there are no rows of such files; below 0 where it cannot be done */
        long remove(String file) throws Exception;

        /** Lets go of what does not count, at once; false where it cannot be asked for. */
        boolean sweep() throws Exception;

        /** Puts small files together, where that is not done anyway. */
        void merge() throws Exception;

        /** The number of the last entry of the history. */
        long last();

        /** Moves the workspace elsewhere; false where it cannot. */
        boolean move() throws Exception;

        /** A run of which no commit succeeds; false where it cannot be asked for. */
        boolean fail() throws Exception;

        /** Rows of the dataset, as {@code file:line id=value}. */
        List<String> rows() throws Exception;

        /** Where the job took files: by name, generation and entry. */
        Map<String, Path> taken() throws Exception;

        /** Holds what is kept against the log. */
        void check() throws Exception;
    }

    private final World world;
    private final Mode mode;
    private final Random random;
    private final boolean moves;
    private final Reference reference;
    private final List<String> told = new ArrayList<>();
    private final List<Long> entries = new ArrayList<>();
    private final Map<String, Path> taken = new TreeMap<>();
    private final Set<String> lastRejected = new TreeSet<>();
    private int clock;
    private boolean mended;
    private long lastRun;

    public Story(World world, Mode mode, long seed) throws IOException {
        this.world = world;
        this.mode = mode;
        random = new Random(seed);
        moves = mode != Mode.REPLACE && random.nextInt(3) == 0;
        reference = new Reference(mode);
        told.add(mode + (moves ? ", files are moved" : ""));
        Files.createDirectories(in());
        define();
    }

    private Path in() {
        return world.workspace().resolve(world.inbox());
    }

    private void define() throws IOException {
        write(
                "datasets/" + world.name() + ".yaml",
                "dataset: " + world.name()
                        + "\nkey: id\nretain: {replaced: 30d}\ncolumns:\n"
                        + "  - {name: id, type: text, required: true}\n"
                        + "  - {name: value, type: integer, required: true}\n"
                        + "  - {name: op, type: text}\n");
        String how =
                switch (mode) {
                    case BY_FILE -> "";
                    case ADDS -> "same_name: adds\n";
                    case APPEND -> "load: append\n";
                    case REPLACE -> "load: replace\n";
                    case UPDATE -> "load: update\ndeleted: \"op == 'del'\"\n";
                    case NEWEST -> "load: update\nnewest_by: value\ndeleted: \"op == 'del'\"\n";
                    case FIRST_IN_RUN -> "duplicates: {by: id, within: run, then: keep_first}\n";
                    case FIRST -> "duplicates: {by: id, within: dataset, then: keep_first}\n";
                    case LAST -> "duplicates: {by: id, within: dataset, then: keep_last}\n";
                    case REJECT -> "duplicates: {by: id, within: dataset, then: reject}\n";
                };
        write(
                "jobs/" + world.name() + ".yaml",
                "job: " + world.name() + "\ninto: " + world.name() + "\nfind: [{folder: " + world.inbox()
                        + ", settle: 0s, take: \"*.csv\"}]\n"
                        + (mended ? "map: {value: {clean: [{remove: \"<\"}]}}\n" : "") + how
                        + (moves
                                ? "after: {loaded: {move: \"done/" + world.name() + "\"}, rejected: {move: \"bad/"
                                        + world.name() + "\"}}\n"
                                : ""));
    }

    private void write(String name, String text) throws IOException {
        Path file = world.workspace().resolve(name);
        Files.createDirectories(file.getParent());
        Files.writeString(file, text);
    }

    /** Goes through so many steps, and looks after each whether the dataset is what it must be. */
    public void play(int steps) throws Exception {
        try {
            learn(); // the workspace may have been moved since
            for (int step = 0; step < steps; step++) {
                act();
                assertThat(world.rows()).isEqualTo(reference.rows());
                world.check();
            }
        } catch (AssertionError | Exception wrong) {
            throw new AssertionError(String.join("\n", told), wrong);
        }
    }

    private void act() throws Exception {
        switch (random.nextInt(26)) {
            case 0, 1, 2, 3, 4, 5 -> deliver();
            case 6 -> rename();
            case 7 -> {
                String name = any(NAMES);
                told.add(name + " goes");
                Files.deleteIfExists(in().resolve(name));
            }
            case 8, 9, 10, 11, 12, 13 -> run(random.nextInt(6) == 0 ? Set.of("*") : Set.of());
            case 14 -> again();
            case 15 -> retry();
            case 16 -> {
                mended = !mended;
                told.add("mended " + mended);
                define();
            }
            case 17, 18, 19 -> undo();
            case 20 -> takeOut();
            case 21 -> sweep();
            case 23, 24 -> {
                told.add("files merged");
                world.merge();
            }
            case 22 -> {
                if (world.move()) {
                    told.add("workspace moved to " + world.workspace());
                    learn();
                }
            }
            default -> {
                if ((mode != Mode.REPLACE || !files().isEmpty()) && world.fail()) {
                    told.add("a run fails");
                }
            }
        }
    }

    private <T> T any(List<T> all) {
        return all.get(random.nextInt(all.size()));
    }

    // what happens in the folder

    private void deliver() throws IOException {
        String name = any(NAMES);
        Path file = in().resolve(name);
        String content;
        List<Path> there = files();
        if (random.nextInt(4) == 0 && !there.isEmpty()) {
            content = Files.readString(any(there)); // a copy of another one
        } else if (random.nextInt(7) == 0) {
            content = "what,is,this\n" + random.nextInt(3) + "\n";
        } else {
            content = content();
        }
        Files.writeString(file, content);
        Files.setLastModifiedTime(
                file, FileTime.from(Instant.parse("2026-03-01T00:00:00Z").plusSeconds(++clock)));
        told.add(name + " = " + content.replace("\n", "; "));
    }

    private String content() {
        Random few = new Random(random.nextInt(9)); // few contents, so that they come again
        StringBuilder text = new StringBuilder("id,value,op\n");
        for (int i = 0; i <= few.nextInt(4); i++) {
            text.append('k')
                    .append(few.nextInt(4))
                    .append(',')
                    .append(few.nextInt(5) == 0 ? "<" : "")
                    .append(few.nextInt(9))
                    .append(',')
                    .append(deletes() && few.nextInt(6) == 0 ? "del" : "")
                    .append('\n');
        }
        return text.toString();
    }

    private boolean deletes() {
        return mode == Mode.UPDATE || mode == Mode.NEWEST;
    }

    private List<Path> files() throws IOException {
        try (Stream<Path> all = Files.list(in())) {
            return all.sorted().toList();
        }
    }

    private void rename() throws IOException {
        List<Path> there = files();
        if (!there.isEmpty()) {
            Path from = any(there);
            Path to = from.resolveSibling(any(NAMES));
            told.add(from.getFileName() + " renamed to " + to.getFileName());
            Files.move(from, to, StandardCopyOption.REPLACE_EXISTING);
        }
    }

    // what is done with the job

    /** A file as the model reads it. */
    private record Parsed(boolean accepted, List<Row> rows, Set<Integer> open) {}

    private Parsed parse(String content) {
        String[] lines = content.split("\n");
        if (!lines[0].startsWith("id,")) {
            return new Parsed(false, List.of(), Set.of());
        }
        List<Row> rows = new ArrayList<>();
        Set<Integer> open = new TreeSet<>();
        for (int i = 1; i < lines.length; i++) {
            String[] fields = lines[i].split(",", -1);
            boolean deletes = fields[2].equals("del");
            boolean marked = fields[1].startsWith("<") && !mended;
            if (marked && (!deletes || mode == Mode.NEWEST)) {
                open.add(
                        i + 1); // a deletion goes by its key, whatever else is wrong with it; unless the value says how
                // new it is
            } else {
                rows.add(new Row(i + 1, fields[0], Integer.parseInt(fields[1].replace("<", "")), deletes));
            }
        }
        return new Parsed(true, rows, open);
    }

    private record Present(String file, Path path, String content, FileTime modified) {}

    private List<Present> present() throws IOException {
        List<Present> present = new ArrayList<>();
        for (Path path : files()) {
            present.add(new Present(
                    path.getFileName().toString(), path, Files.readString(path), Files.getLastModifiedTime(path)));
        }
        return present;
    }

    private Reading read(long entry, int turn, String file, int generation, String content) {
        Parsed parsed = parse(content);
        List<Reading> whole = reference.log.stream()
                .filter(one -> one.file().equals(file) && one.generation() == generation && one.base() == null)
                .toList();
        Reading last = whole.isEmpty() ? null : whole.get(whole.size() - 1);
        Reading lastOn = whole.stream()
                .filter(one -> reference.on(one.entry()))
                .reduce((a, b) -> b)
                .orElse(last);
        Reading same = lastOn != null && lastOn.content().equals(content)
                ? lastOn
                : last != null && last.content().equals(content) ? last : null;
        return new Reading(
                entry,
                turn,
                file,
                generation,
                content,
                parsed.accepted,
                parsed.rows,
                parsed.open,
                mended,
                same == null ? entry : same.placeEntry(),
                same == null ? turn : same.placeTurn(),
                null);
    }

    private int generation(String file, String content) {
        int latest = reference.log.stream()
                .filter(one -> one.file().equals(file))
                .mapToInt(Reading::generation)
                .max()
                .orElse(0);
        if (latest == 0) {
            return 1;
        }
        Reading last = reference.log.stream()
                .filter(one -> one.file().equals(file) && one.generation() == latest)
                .reduce((a, b) -> b)
                .orElseThrow();
        return taken.containsKey(file + latest + "@" + last.entry())
                        && !last.content().equals(content)
                ? latest + 1
                : latest;
    }

    private boolean skips(Present one, Reading known) {
        if (known == null || !known.content().equals(one.content)) {
            return false;
        }
        if (!known.accepted()) {
            return known.mended() == mended;
        }
        boolean copy = reference.copy(known);
        return reference.stands(known)
                && (copy || !reference.asCopy.contains(known))
                && (copy || known.mended() == mended || (known.open().isEmpty() && mode != Mode.REPLACE));
    }

    private void learn() throws Exception {
        if (moves) {
            taken.putAll(world.taken());
        }
    }

    private void again() throws Exception {
        List<String> there =
                files().stream().map(path -> path.getFileName().toString()).toList();
        if (!there.isEmpty()) {
            run(Set.of(any(there)));
        }
    }

    private void run(Set<String> again) throws Exception {
        List<Present> present = present();
        long entry = world.run(again);
        entries.add(entry);
        lastRun = entry;
        told.add("run " + entry + (again.isEmpty() ? "" : " again " + again));
        model(entry, present, file -> again.contains("*") || again.contains(file));
        learn();
    }

    private void model(long entry, List<Present> present, Predicate<String> again) {
        lastRejected.clear();
        if (mode == Mode.REPLACE && present.isEmpty()) {
            return;
        }
        List<Present> byTurn = present.stream()
                .sorted(Comparator.comparing(Present::modified).thenComparing(Present::file))
                .toList();
        Map<Present, Reading> known = new LinkedHashMap<>();
        byTurn.forEach(one -> known.put(one, reference.current(one.file)));
        List<Reading> before = List.copyOf(reference.log);
        Map<Present, Reading> fresh = new LinkedHashMap<>();
        for (int turn = 0; turn < byTurn.size(); turn++) {
            Present one = byTurn.get(turn);
            if (again.test(one.file) || (!skips(one, known.get(one)) && !reference.asCopy.contains(known.get(one)))) {
                fresh.put(one, read(entry, turn, one.file, generation(one.file, one.content), one.content));
            }
        }
        reference.log.addAll(fresh.values());
        boolean added = true;
        look(entry, byTurn, fresh, known);
        while (added) { // what was a copy, and is none any more, is read again
            added = false;
            for (int turn = 0; turn < byTurn.size(); turn++) {
                Present one = byTurn.get(turn);
                if (!fresh.containsKey(one) && !skips(one, known.get(one))) {
                    fresh.put(one, read(entry, turn, one.file, generation(one.file, one.content), one.content));
                    reference.log.add(fresh.get(one));
                    added = true;
                    look(entry, byTurn, fresh, known);
                }
            }
        }
        boolean had = before.stream().anyMatch(one -> onBefore(one, entry));
        if (mode == Mode.REPLACE && had && reference.looks.get(entry).isEmpty()) {
            reference.log.removeAll(fresh.values());
            reference.looks.remove(entry);
            return;
        }
        fresh.values().stream()
                .filter(Reading::accepted)
                .filter(reference::copy)
                .forEach(reference.asCopy::add);
        known.forEach(
                (one, last) -> lastRejected.add(fresh.getOrDefault(one, last).file()
                        + fresh.getOrDefault(one, last).generation()));
        known.forEach((one, last) -> {
            if (!fresh.containsKey(one) && last.accepted()) {
                lastRejected.remove(last.file() + last.generation()); // of an unchanged file the run said nothing
            }
        });
    }

    private boolean onBefore(Reading one, long entry) {
        Set<String> look = reference.looks.remove(entry);
        boolean counted =
                (reference.counts(one) && !one.rows().isEmpty()) || (reference.stands(one) && reference.counts(one));
        if (look != null) {
            reference.looks.put(entry, look);
        }
        return counted;
    }

    private void look(long entry, List<Present> present, Map<Present, Reading> fresh, Map<Present, Reading> known) {
        if (mode == Mode.REPLACE) {
            Set<String> there = new TreeSet<>();
            for (Present one : present) {
                Reading last = fresh.getOrDefault(one, known.get(one));
                if (last.accepted()) {
                    there.add(one.file + last.generation());
                }
            }
            reference.looks.put(entry, there);
        }
    }

    private void retry() throws Exception {
        if (lastRun == 0) {
            return;
        }
        Map<String, Reading> asked = new LinkedHashMap<>();
        for (Reading one : List.copyOf(reference.log)) {
            Reading current = reference.current(one.file(), one.generation());
            boolean meant = world.retriesAll() || lastRejected.contains(one.file() + one.generation());
            if (meant
                    && current != null
                    && (!current.accepted() || (!current.open().isEmpty() && !reference.copy(current)))) {
                asked.put(one.file() + one.generation(), current);
            }
        }
        List<Object[]> found = new ArrayList<>();
        for (Reading one : asked.values()) {
            Path at = taken.get(one.file() + one.generation() + "@" + one.entry());
            Path path = at != null ? at : in().resolve(one.file());
            if (Files.exists(path)) {
                found.add(new Object[] {one, Files.readString(path), Files.getLastModifiedTime(path)});
            }
        }
        found.sort(Comparator.comparing((Object[] one) -> (FileTime) one[2]));
        long entry = world.retry(lastRun);
        entries.add(entry);
        told.add("retry " + entry);
        List<Reading> fresh = new ArrayList<>();
        for (int turn = 0; turn < found.size(); turn++) {
            Reading of = (Reading) found.get(turn)[0];
            String content = (String) found.get(turn)[1];
            boolean rowsOnly = of.accepted() && of.content().equals(content);
            if (!rowsOnly && of.accepted() && !reference.counts(of)) {
                continue; // its rows were removed, and it would have to be loaded whole
            }
            if (rowsOnly) {
                Parsed parsed = parse(content);
                fresh.add(new Reading(
                        entry,
                        turn,
                        of.file(),
                        of.generation(),
                        content,
                        true,
                        parsed.rows.stream()
                                .filter(row -> of.open().contains(row.line()))
                                .toList(),
                        new TreeSet<>(
                                parsed.open.stream().filter(of.open()::contains).toList()),
                        mended,
                        of.placeEntry(),
                        of.placeTurn(),
                        of));
            } else {
                int generation = taken.containsKey(of.file() + of.generation() + "@" + of.entry())
                        ? of.generation()
                        : generation(of.file(), content);
                fresh.add(read(entry, turn, of.file(), generation, content));
            }
        }
        reference.log.addAll(fresh);
        fresh.stream()
                .filter(one -> one.accepted() && one.base() == null)
                .filter(reference::copy)
                .forEach(reference.asCopy::add);
        learn();
    }

    private void undo() throws Exception {
        if (entries.isEmpty()) {
            return;
        }
        long of = any(entries);
        boolean did = reference.log.stream().anyMatch(one -> one.entry() == of)
                || reference.looks.containsKey(of)
                || reference.undos.containsKey(of)
                || reference.removals.containsKey(of);
        reference.undos.put(Long.MAX_VALUE, of);
        int after = reference.rows().size();
        boolean missing = missing(() -> reference.undos.remove(Long.MAX_VALUE));
        boolean possible = did && reference.on(of) && !missing;
        told.add("undo " + of + (possible ? "" : " in vain"));
        long[] effect = world.effect(of);
        assertThat(effect[0] == 1).as("can be undone").isEqualTo(possible);
        if (possible) {
            assertThat(effect[1])
                    .as("rows more")
                    .isEqualTo(after - reference.rows().size());
            long entry = world.undo(of);
            entries.add(entry);
            reference.undos.put(entry, of);
        }
    }

    /** Whether rows would have to come back that are no longer kept; takes back what was supposed. */
    private boolean missing(Runnable takeBack) {
        List<Reading> would = reference.log.stream().filter(reference::counts).toList();
        takeBack.run();
        List<Reading> counted = reference.log.stream().filter(reference::counts).toList();
        boolean gone = would.stream()
                .anyMatch(one -> !counted.contains(one)
                        && (reference.swept.contains(one) || reference.thinned.containsKey(one)));
        long last = reference.thinned.entrySet().stream()
                .filter(one -> would.contains(one.getKey()) && counted.contains(one.getKey()))
                .mapToLong(java.util.Map.Entry::getValue)
                .max()
                .orElse(0);
        return gone || counted.stream().anyMatch(one -> !would.contains(one) && one.entry() <= last);
    }

    private void takeOut() throws Exception {
        String name = any(NAMES);
        List<Reading> gone = reference.log.stream()
                .filter(one -> one.file().equals(name) && reference.counts(one))
                .toList();
        reference.removals.put(Long.MAX_VALUE, gone);
        boolean missing = missing(() -> reference.removals.remove(Long.MAX_VALUE));
        told.add("remove " + name + (missing ? " in vain" : ""));
        long entry = world.remove(name);
        assertThat(Long.signum(entry)).isEqualTo(gone.isEmpty() ? 0 : missing ? -1 : 1);
        if (entry > 0) {
            entries.add(entry);
            reference.removals.put(entry, gone);
        }
    }

    private void sweep() throws Exception {
        if (world.sweep()) {
            told.add("swept");
            reference.log.stream()
                    .filter(one -> !reference.counts(one)
                            && !(reference.stands(one) && reference.copy(one) && !reference.removed(one)))
                    .forEach(reference.swept::add);
            long last = world.last();
            reference.givenWay().forEach(one -> reference.thinned.putIfAbsent(one, last));
        }
    }
}
