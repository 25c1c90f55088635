package dev.hapster.core.run;

import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.MemoryCatalogue;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.find.Roots;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/** A workspace with one job, {@code north}, and one dataset of the same name, whose catalogue is in memory. */
final class CoreWorkspace implements AutoCloseable {

    private static final String DATASET =
            "dataset: north\nkey: id\ncolumns:\n  - {name: id, type: text, required: true}\n"
                    + "  - {name: value, type: integer, required: true}\n  - {name: op, type: text}\n";

    final MemoryCatalogue catalogue = new MemoryCatalogue(this::number);
    private final ExecutorService workers = Executors.newFixedThreadPool(1);
    Path folder;
    PartStore parts;
    RejectStore rejects;
    Runner runner;
    private long entries;
    private int minutes;

    CoreWorkspace(Path folder) throws IOException {
        this.folder = Files.createDirectories(folder);
        Files.createDirectories(folder.resolve("in"));
        write("datasets/north.yaml", DATASET);
        open();
    }

    long number() {
        return ++entries;
    }

    void open() throws IOException {
        parts = new PartStore(folder.resolve("store"));
        rejects = new RejectStore(folder.resolve("store"));
        runner = new Runner(
                new Workspace(folder),
                Roots.of(List.of(folder)),
                parts,
                rejects,
                catalogue,
                workers,
                Clock.systemUTC());
    }

    Path write(String name, String text) throws IOException {
        Files.createDirectories(folder.resolve(name).getParent());
        return Files.writeString(folder.resolve(name), text);
    }

    /** What the job says besides where to look. */
    void job(String rest) throws IOException {
        write("jobs/north.yaml", "job: north\ninto: north\nfind: [{folder: in, settle: 0s, take: \"*.csv\"}]\n" + rest);
    }

    /**
     * A file in the job's folder, written later than all others; its rows such as {@code a=1 b=2}, separated by spaces.
     */
    void file(String name, String rows) throws IOException {
        StringBuilder text = new StringBuilder("id,value,op\n");
        for (String row : rows.isEmpty() ? new String[0] : rows.split(" ")) {
            boolean deletes = row.startsWith("-");
            String[] pair = row.substring(deletes ? 1 : 0).split("=");
            text.append(pair[0])
                    .append(',')
                    .append(pair.length > 1 ? pair[1] : "0")
                    .append(',')
                    .append(deletes ? "del" : "")
                    .append('\n');
        }
        raw(name, text.toString());
    }

    void raw(String name, String text) throws IOException {
        Files.setLastModifiedTime(
                write("in/" + name, text),
                FileTime.from(Instant.parse("2026-03-01T00:00:00Z").plusSeconds(60L * ++minutes)));
    }

    RunResult run() throws Exception {
        return run(RunRequest.NOTHING);
    }

    RunResult trial() throws Exception {
        return runner.trial(runner.prepare("north", Map.of()), RunRequest.NOTHING, RunListener.NONE, () -> false);
    }

    RunResult again() throws Exception {
        return run(RunRequest.again(file -> true));
    }

    RunResult run(RunRequest asked) throws Exception {
        long entry = number();
        return ended(entry, runner.run(runner.prepare("north", Map.of()), entry, asked, RunListener.NONE, () -> false));
    }

    /** Takes again everything that is rejected. */
    RunResult retry() throws Exception {
        Set<Long> open = new TreeSet<>();
        catalogue.ledger("north").stream()
                .filter(LedgerEntry::isOpen)
                .forEach(one -> open.add(one.arrival().id()));
        long entry = number();
        return ended(
                entry, runner.retry(runner.prepare("north", Map.of()), entry, open, RunListener.NONE, () -> false));
    }

    private RunResult ended(long entry, RunResult result) throws IOException {
        rejects.merge(entry, ordinal -> true);
        return result;
    }

    /** The number of the last entry of the history. */
    long last() {
        return entries;
    }

    DatasetDef dataset() throws Exception {
        return new Workspace(folder).dataset("north");
    }

    long undo(long of) throws Exception {
        return runner.undo(dataset(), of, "north");
    }

    long remove(String file) throws Exception {
        return runner.remove(dataset(), one -> one.name().equals(file), file);
    }

    void sweep() throws IOException {
        parts.drop(catalogue.sweep(entries));
    }

    void move(Path to) throws IOException {
        Path old = folder;
        Files.createDirectories(to.getParent());
        Files.move(old, to);
        folder = to;
        catalogue.moved(old, to);
        open();
    }

    /** Rows of the dataset, as {@code file:line id=value}. */
    List<String> rows() throws Exception {
        List<String> rows = new ArrayList<>();
        new DatasetQuery(
                        dataset(),
                        catalogue.parts("north").stream()
                                .map(part -> new PartFile(parts.span(part.name()), "", part.rows(), part.masked()))
                                .toList())
                .rows(0, 1000, List.of(), List.of())
                .rows()
                .forEach(row -> rows.add(row.get(0) + ":" + row.get(1) + " " + row.get(5) + "=" + row.get(6)));
        rows.sort(null);
        return rows;
    }

    /** What the dataset has in a column, in the order of the rows. */
    List<Object> column(String name) throws Exception {
        var page = new DatasetQuery(
                        dataset(),
                        catalogue.parts("north").stream()
                                .map(part -> new PartFile(parts.span(part.name()), "", part.rows(), part.masked()))
                                .toList())
                .rows(0, 1000, List.of(), List.of());
        int place = page.fields().stream().map(field -> field.name()).toList().indexOf(name);
        return page.rows().stream().<Object>map(row -> row.get(place)).toList();
    }

    /** The same without where they are from. */
    List<String> values() throws Exception {
        return rows().stream()
                .map(row -> row.substring(row.indexOf(' ') + 1))
                .sorted()
                .toList();
    }

    @Override
    public void close() {
        workers.shutdownNow();
    }
}
