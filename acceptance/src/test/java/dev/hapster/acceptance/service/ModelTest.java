package dev.hapster.acceptance.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.http.Api;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.terminal.ClientException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Random things happen to a workspace (files come, change and go; runs, runs again, retries, undone runs, removed rows,
 * kills; columns are added, renamed, widened; a rule is mended and spoilt), and after each step the service holds what
 * a model of a few maps says. More of it: {@code -Dhapster.model.steps=500}.
 */
class ModelTest {

    private static final int STEPS = Integer.getInteger("hapster.model.steps", 60);
    private static final List<CrashPoint> KILLS = List.of(
            CrashPoint.FILE_OPENED,
            CrashPoint.PART_WRITTEN,
            CrashPoint.PART_NAMED,
            CrashPoint.BEFORE_COMMIT,
            CrashPoint.IN_COMMIT,
            CrashPoint.COMMITTED,
            CrashPoint.BEFORE_MERGE,
            CrashPoint.MERGE_WRITTEN,
            CrashPoint.BEFORE_END);

    /**
     * What lies in a file: rows by their numbers, those with a mark in front fit only once the rule is mended; or
     * nothing that fits at all.
     */
    private record Content(boolean fits, List<Integer> rows, Set<Integer> marked, int number) {
        String text() {
            StringBuilder text = new StringBuilder(fits ? "id,value\n" : "something,else\n");
            rows.forEach(row -> text.append('r')
                    .append(number)
                    .append(',')
                    .append(marked.contains(row) ? "<" : "")
                    .append(row)
                    .append('\n'));
            return text.toString();
        }
    }

    /** What is known of a file. Each time that it is dealt with there is another one. */
    private static final class State {
        final Content content;
        final boolean rejected;
        final List<String> rows;
        final List<Integer> refused;
        final int rules;

        State(Content content, boolean rejected, List<String> rows, List<Integer> refused, int rules) {
            this.content = content;
            this.rejected = rejected;
            this.rows = rows;
            this.refused = refused;
            this.rules = rules;
        }

        boolean open() {
            return rejected || !refused.isEmpty();
        }
    }

    private record Change(State before, State after) {}

    /** An entry of the history. */
    private record Entry(long number, boolean removal, Map<String, Change> changes, Set<String> refused) {}

    @TempDir
    private Path folder;

    private TestService service;
    private Random random;
    private final List<String> log = new ArrayList<>();

    private final Map<String, Content> inbox = new TreeMap<>();
    private final Map<String, State> known = new TreeMap<>();
    private final List<Entry> history = new ArrayList<>();
    private boolean mended;
    private boolean lab;
    private boolean renamed;
    private boolean decimal;
    private int rules;
    private int numbers;

    @ParameterizedTest
    @ValueSource(ints = {1, 2})
    void whateverHappensTheServiceHoldsWhatTheModelSays(int seed) throws Exception {
        random = new Random(seed + Integer.getInteger("hapster.model.seed", 0));
        Files.createDirectories(folder.resolve("in"));
        define();
        service = TestService.start(
                folder,
                "-XX:TieredStopAtLevel=1",
                "-Dhapster.pauses=" + folder,
                "-Dhapster.merged-from=2",
                "-Dhapster.unread-for=0");
        try {
            for (int step = 0; step < STEPS; step++) {
                step();
                compare();
            }
        } finally {
            service.close();
        }
    }

    private void define() throws IOException {
        String value = renamed ? "amount" : "value";
        Workspaces.write(
                folder,
                "datasets/samples.yaml",
                "dataset: samples\ncolumns:\n  - {name: id, type: text}\n  - {name: " + value + ", type: "
                        + (decimal ? "\"decimal(21,2)\"" : "integer") + ", required: true"
                        + (renamed ? ", was: value" : "") + "}\n"
                        + (lab ? "  - {name: lab, type: text, default: North}\n" : ""));
        Workspaces.job(
                folder,
                "small",
                "in",
                "map: {" + value + ": {from: value" + (mended ? ", clean: [{remove: \"<\"}]" : "") + "}}\n");
        rules = (mended ? 1 : 0) + (lab ? 2 : 0) + (renamed ? 4 : 0) + (decimal ? 8 : 0);
    }

    private void step() throws Exception {
        int what = random.nextInt(20);
        if (what < 7) {
            arrive();
        } else if (what < 12) {
            run(Set.of());
        } else if (what < 13 && !inbox.isEmpty()) {
            run(Set.of(any(inbox.keySet())));
        } else if (what < 15) {
            undo();
        } else if (what < 16) {
            retry();
        } else if (what < 17) {
            remove();
        } else if (what < 18) {
            kill();
        } else {
            change();
        }
    }

    private <T> T any(Set<T> set) {
        return new ArrayList<>(set).get(random.nextInt(set.size()));
    }

    private void arrive() throws IOException {
        for (int i = 0; i <= random.nextInt(3); i++) {
            String name = "f" + random.nextInt(6) + ".csv";
            if (inbox.containsKey(name) && random.nextInt(5) == 0) {
                inbox.remove(name);
                Files.delete(folder.resolve("in/" + name));
                log.add(name + " goes");
                continue;
            }
            List<Integer> rows = random.ints(1 + random.nextInt(5), 0, 1000)
                    .distinct()
                    .boxed()
                    .toList();
            Set<Integer> marked = new TreeSet<>(
                    rows.stream().filter(row -> random.nextInt(4) == 0).toList());
            Content content = new Content(random.nextInt(6) > 0, rows, marked, ++numbers);
            inbox.put(name, content);
            Workspaces.write(folder, "in/" + name, content.text());
            log.add(name + " is " + content);
        }
    }

    // the model

    /** A file is read. */
    private State load(String name, Content content) {
        State before = known.get(name);
        if (!content.fits) {
            return new State(content, true, before == null ? List.of() : before.rows, List.of(), rules);
        }
        List<Integer> refused =
                content.rows.stream().filter(row -> !fits(content, row)).toList();
        return new State(
                content,
                false,
                content.rows.stream()
                        .filter(row -> fits(content, row))
                        .map(row -> row(name, content, row))
                        .toList(),
                refused,
                rules);
    }

    private boolean fits(Content content, int row) {
        return mended || !content.marked.contains(row);
    }

    private static String row(String name, Content content, int row) {
        return name + ":r" + content.number + "=" + row;
    }

    @SuppressWarnings("ReferenceEquality") // two deliveries may have the same content
    private boolean isNews(String name, Content content) {
        State state = known.get(name);
        return state == null || state.content != content || (state.open() && state.rules != rules);
    }

    private Map<String, Change> changes(Set<String> again) {
        Map<String, Change> changes = new LinkedHashMap<>();
        inbox.forEach((name, content) -> {
            if (isNews(name, content) || again.contains(name)) {
                changes.put(name, new Change(known.get(name), load(name, content)));
            }
        });
        return changes;
    }

    private void enter(long number, Map<String, Change> changes) {
        Set<String> refused = new TreeSet<>();
        inbox.keySet().stream()
                .filter(name -> !changes.containsKey(name) && known.get(name).rejected)
                .forEach(refused::add);
        changes.forEach((name, change) -> {
            known.put(name, change.after);
            if (change.after.open()) {
                refused.add(name);
            }
        });
        history.add(new Entry(number, false, changes, refused));
    }

    // what happens

    private void run(Set<String> again) throws Exception {
        log.add("run again " + again);
        Map<String, Change> changes = changes(again);
        ObjectNode body = Api.JSON.createObjectNode().put("again", !again.isEmpty());
        again.forEach(body.putArray("files")::add);
        JsonNode run = service.await(
                service.api().post("/jobs/small/runs", body).path("run").asLong());
        JsonNode files = run.path("files");
        assertThat(run.path("state").asText()).as(run + "\n" + log).isEqualTo("finished");
        assertThat(run.path("holds").asBoolean()).isTrue();
        assertThat(List.of(
                        files.path("found").asInt(),
                        files.path("loaded").asInt() + files.path("replaced").asInt(),
                        files.path("rejected").asInt(),
                        files.path("unchanged").asInt()))
                .as(log.toString())
                .isEqualTo(List.of(
                        inbox.size(),
                        (int) changes.values().stream()
                                .filter(change -> !change.after.rejected)
                                .count(),
                        (int) inbox.keySet().stream()
                                .filter(name -> changes.containsKey(name)
                                        ? changes.get(name).after.rejected
                                        : known.get(name).rejected)
                                .count(),
                        (int) inbox.keySet().stream()
                                .filter(name -> !changes.containsKey(name) && !known.get(name).rejected)
                                .count()));
        enter(run.path("run").asLong(), changes);
    }

    private void undo() throws Exception {
        if (history.isEmpty()) {
            return;
        }
        Entry entry = history.get(history.size() - 1 - random.nextInt(Math.min(3, history.size())));
        boolean untouched = entry.changes.entrySet().stream()
                .allMatch(change -> known.get(change.getKey()) == change.getValue().after);
        if (!untouched) {
            return; // what comes of that is told by the stories (StoriesTest)
        }
        log.add("undo " + entry.number + (entry.changes.isEmpty() ? ", in vain" : ""));
        if (entry.changes.isEmpty()) {
            ClientException refused =
                    catchThrowableOfType(ClientException.class, () -> service.post("/runs/" + entry.number + "/undo"));
            assertThat(refused).as(log.toString()).isNotNull();
            assertThat(refused.getMessage()).contains("cannot be undone");
            return;
        }
        service.post("/runs/" + entry.number + "/undo");
        entry.changes.forEach((name, change) -> {
            if (change.before == null) {
                known.remove(name);
            } else {
                known.put(name, change.before);
            }
        });
        history.remove(entry);
    }

    @SuppressWarnings("ReferenceEquality") // two deliveries may have the same content
    private void retry() throws Exception {
        Entry last = history.isEmpty() ? null : history.get(history.size() - 1);
        if (last == null || last.removal) {
            return;
        }
        log.add("retry " + last.number);
        Map<String, Change> changes = new LinkedHashMap<>();
        for (String name : last.refused) {
            State state = known.get(name);
            Content content = inbox.get(name);
            if (state == null || !state.open() || content == null) {
                continue;
            }
            State after = load(name, content);
            if (!state.rejected && state.content == content) {
                List<String> rows = new ArrayList<>(state.rows);
                state.refused.stream()
                        .filter(row -> fits(content, row))
                        .forEach(row -> rows.add(row(name, content, row)));
                after = new State(content, false, rows, after.refused, rules);
            }
            changes.put(name, new Change(state, after));
        }
        JsonNode run = service.await(
                service.post("/runs/" + last.number + "/retry").path("run").asLong());
        assertThat(run.path("state").asText()).as(run + "\n" + log).isEqualTo("finished");
        assertThat(run.path("files").path("found").asInt()).as(log.toString()).isEqualTo(changes.size());
        changes.forEach((name, change) -> known.put(name, change.after));
        history.add(new Entry(
                run.path("run").asLong(),
                false,
                changes,
                new TreeSet<>(changes.entrySet().stream()
                        .filter(change -> change.getValue().after.open())
                        .map(Map.Entry::getKey)
                        .toList())));
    }

    private void remove() throws Exception {
        List<String> full = known.entrySet().stream()
                .filter(entry -> !entry.getValue().rows.isEmpty())
                .map(Map.Entry::getKey)
                .toList();
        if (full.isEmpty()) {
            return;
        }
        String name = full.get(random.nextInt(full.size()));
        log.add("remove " + name);
        State before = known.get(name);
        State after = new State(before.content, before.rejected, List.of(), before.refused, before.rules);
        long entry = service.api()
                .delete("/datasets/samples/rows?file=" + name)
                .path("entry")
                .asLong();
        known.put(name, after);
        history.add(new Entry(entry, true, Map.of(name, new Change(before, after)), Set.of()));
    }

    /**
     * A run is cut off; the one after it makes everything as if it had not been. What the first of them had done by
     * then is not told, so neither is undone later.
     */
    private void kill() throws Exception {
        Map<String, Change> changes = changes(Set.of());
        if (changes.values().stream().noneMatch(change -> !change.after.rejected)) {
            return;
        }
        CrashPoint moment = KILLS.get(random.nextInt(KILLS.size()));
        log.add("killed at " + moment);
        service.runUpTo(moment, "small", folder);
        service.kill();
        Files.delete(folder.resolve(moment + ".reached"));
        service.startAgain();
        JsonNode run = service.run("small");
        assertThat(run.path("state").asText()).as(run + "\n" + log).isEqualTo("finished");
        changes.forEach((name, change) -> known.put(name, change.after));
        history.clear();
    }

    private void change() throws IOException {
        switch (random.nextInt(5)) {
            case 0 -> lab = true;
            case 1 -> renamed = true;
            case 2 -> decimal = true;
            default -> mended = !mended;
        }
        log.add("lab " + lab + " renamed " + renamed + " decimal " + decimal + " mended " + mended);
        define();
    }

    // what is there

    private void compare() {
        List<String> expected = new ArrayList<>();
        known.values()
                .forEach(state ->
                        state.rows.forEach(row -> expected.add(row + (decimal ? ".00" : "") + (lab ? " North" : ""))));
        List<String> rows = new ArrayList<>();
        for (JsonNode row : service.get("/datasets/samples/rows?limit=1000").path("rows")) {
            rows.add(row.path(0).asText() + ":" + row.path(5).asText() + "="
                    + row.path(6).asText() + (lab ? " " + row.path(7).asText() : ""));
        }
        assertThat(rows).as(log.toString()).containsExactlyInAnyOrderElementsOf(expected);
        assertThat(service.get("/datasets/samples").path("rows").asInt())
                .as(log.toString())
                .isEqualTo(expected.size());
        Map<String, Long> open = new HashMap<>();
        service.get("/rejects")
                .forEach(reason -> open.merge(
                        reason.path("level").asText(), reason.path("count").asLong(), Long::sum));
        assertThat(open.getOrDefault("row", 0L))
                .as(log.toString())
                .isEqualTo(known.values().stream()
                        .mapToLong(state -> state.refused.size())
                        .sum());
        assertThat(open.getOrDefault("file", 0L))
                .as(log.toString())
                .isEqualTo(
                        known.values().stream().filter(state -> state.rejected).count());
    }
}
