package dev.hapster.core.run.stage;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.run.open.FileOpening;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.open.SourceContent;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.shape.FileSays;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.RulesVersion;
import java.io.Closeable;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/**
 * Shows rows of files at each stage. The first rows of a file are read at once; to find rows far behind, the file is
 * looked through once in the background, and what was found is kept for a while. Thread-safe.
 */
public final class Stages implements Closeable {

    /** Rows that are read from the beginning of a file rather than looked up. */
    private static final int NEAR = 20_000;
    /** Files of which it is kept where their rows stand. */
    private static final int KEPT = 8;

    private static final long PATIENCE_MILLIS = 200;

    /** Characters of one cell that are shown. */
    private static final int LONGEST = 2_000;

    private static final long MOST_NANOS = 60_000_000_000L;

    private record Key(String path, long size, java.time.Instant modified, String rules) {}

    /** @param turn the how manieth row it is that was found */
    private record Sorted(Comparable<?> by, long turn, StageRow row) {}

    private final Opener opener;
    private final Path scratch;
    private final Map<Key, RowIndex> indexes = new LinkedHashMap<>(16, 0.75f, true);
    private final ExecutorService background = Executors.newFixedThreadPool(2, work -> {
        Thread thread = new Thread(work, "rows");
        thread.setDaemon(true);
        return thread;
    });

    /** @param scratch where rows are written down that are not found otherwise; emptied by its owner at a start */
    public Stages(Opener opener, Path scratch) {
        this.opener = opener;
        this.scratch = scratch;
    }

    /**
     * Rows of one file.
     *
     * @throws FileRejectedException where the file as a whole would be rejected, before any row
     * @throws QueryException where the question names what does not exist
     */
    public StagePage page(PreparedJob prepared, Candidate file, StageQuestion question)
            throws IOException, FileRejectedException, QueryException, InterruptedException {
        boolean sorted = question.sort().isPresent();
        boolean far = isLearnt(prepared)
                || (!sorted && Math.max(question.from(), question.line()) > NEAR)
                || isFound(prepared, file, sorted ? Long.MAX_VALUE : question.from(), question.line());
        Collecting rows = new Collecting(prepared, question);
        if (far) {
            far(file, rows);
        } else {
            near(file, rows);
        }
        return rows.page();
    }

    /**
     * Rows of several files, one after the other. Files that would be rejected as a whole are noted.
     *
     * @param first which of the files {@code question.from()} is meant of, counted from 0
     * @throws QueryException where the question names what does not exist, or what each file has for itself
     */
    public StagePage page(PreparedJob prepared, List<Candidate> files, int first, StageQuestion question)
            throws IOException, QueryException {
        if (question.stage() == Stage.READ) {
            throw new QueryException(
                    "As they are read, files have columns of their own: name one of them, or ask for another stage");
        }
        Collecting rows = new Collecting(prepared, question);
        if (files.isEmpty()) {
            rows.notes.add("No files: the folders of " + prepared.job().name() + " hold nothing that it takes");
        }
        for (int i = question.sort().isPresent() ? 0 : first; i < files.size() && !rows.stopped; i++) {
            rows.fileNumber = i;
            rows.from = i == first && question.sort().isEmpty() ? question.from() : 1;
            try {
                near(files.get(i), rows);
            } catch (FileRejectedException wrong) {
                rows.notes.add(prepared.name(files.get(i)) + " would be rejected as a whole: it "
                        + wrong.reason().sentence());
            }
        }
        rows.rowsOfFile = -1;
        return rows.page();
    }

    /** Whether a file must be looked through to know its columns. */
    private static boolean isLearnt(PreparedJob prepared) {
        Format format = prepared.job().read().as();
        return format == Format.JSON || format == Format.JSON_LINES || format == Format.XML;
    }

    /**
     * Whether a row has been found already. Of files that are slow to open, the rows are written down from the first
     * question on.
     */
    private boolean isFound(PreparedJob prepared, Candidate file, long row, long line)
            throws IOException, InterruptedException {
        Optional<RowIndex> known = prepared.job().read().as() == Format.WORKBOOK
                ? Optional.of(index(prepared, file))
                : known(prepared, file);
        return known.isPresent() && known.get().await(row, line, 0);
    }

    private void far(Candidate file, Collecting rows)
            throws IOException, FileRejectedException, QueryException, InterruptedException {
        PreparedJob prepared = rows.prepared;
        StageQuestion question = rows.question;
        RowIndex index = index(prepared, file);
        boolean sorted = question.sort().isPresent();
        long row = sorted ? 1 : question.from();
        boolean there = index.await(row, question.line(), PATIENCE_MILLIS);
        rows.rowsOfFile = index.rows();
        rows.busy = !there;
        if (!there) {
            return;
        }
        if (index.rejected().isPresent()) {
            throw index.rejected().get();
        }
        rows.open(file, index.says(), index.header(), opener.unpackingTo(scratch));
        try (RowIndex.Reading reading = index.from(row, question.line())) {
            boolean more = reading != null;
            long behind = row;
            while (more) {
                boolean all = index.isDone(); // before the question, since more may be found behind it
                RowIndex.Found found = reading.next();
                if (found != null) {
                    behind = found.before() + found.batch().rows + 1;
                    more = rows.take(found.batch(), found.before());
                } else if (all || !index.await(behind, 0, PATIENCE_MILLIS)) {
                    more = false;
                    rows.ended = all && index.trouble().isEmpty();
                    rows.goOn(all ? 0 : behind);
                }
            }
        }
        rows.rowsOfFile = index.isDone() && index.trouble().isEmpty() ? index.rows() : -1;
        if (!index.trouble().isEmpty()) {
            rows.notes.add(index.trouble());
        }
    }

    private void near(Candidate file, Collecting rows) throws IOException, FileRejectedException, QueryException {
        try (SourceContent content = opener.unpackingTo(scratch).content(file);
                RecordReader reader = FileOpening.open(rows.prepared, file, content, Long.MAX_VALUE)) {
            Header header = reader.header();
            rows.open(
                    file,
                    FileOpening.says(file, reader),
                    header,
                    FileOpening.bind(rows.prepared, file, header, reader));
            RawBatch raw = RecordReader.batchFor(header);
            long before = 0;
            try {
                boolean more = true;
                while (more) {
                    boolean some = reader.next(raw);
                    more = some && rows.take(raw, before);
                    before += some ? raw.rows : 0;
                    rows.ended = !some;
                }
            } catch (FileRejectedException wrong) {
                rows.notes.add(rows.prepared.name(file) + " cannot be read behind row " + Reasons.grouped(before)
                        + ": it " + wrong.reason().sentence());
            }
            rows.rowsOfFile = rows.ended ? before : -1;
        }
    }

    /** What is done with one row. */
    public interface RowUse<T> {
        /** @param at which row of the batch it is */
        T of(FileSays says, List<String> header, RawBatch batch, int at) throws FileRejectedException;
    }

    /**
     * Finds one row of a file.
     *
     * @param row counted from 1
     * @return empty where there is no such row, or it has not been found yet
     */
    public <T> Optional<T> at(PreparedJob prepared, Candidate file, long row, RowUse<T> use)
            throws IOException, FileRejectedException, InterruptedException {
        if (row <= NEAR && !isLearnt(prepared)) {
            return near(prepared, file, row, use);
        }
        RowIndex index = index(prepared, file);
        if (!index.await(row, 0, PATIENCE_MILLIS)) {
            return Optional.empty();
        }
        if (index.rejected().isPresent()) {
            throw index.rejected().get();
        }
        try (RowIndex.Reading reading = index.from(row, 0)) {
            RowIndex.Found found = reading == null ? null : reading.next();
            while (found != null && row > found.before() + found.batch().rows) {
                found = reading.next();
            }
            return found == null
                    ? Optional.empty()
                    : Optional.of(use.of(
                            index.says(), index.header().names(), found.batch(), (int) (row - found.before() - 1)));
        }
    }

    private <T> Optional<T> near(PreparedJob prepared, Candidate file, long row, RowUse<T> use)
            throws IOException, FileRejectedException {
        try (SourceContent content = opener.unpackingTo(scratch).content(file);
                RecordReader reader = FileOpening.open(prepared, file, content, Long.MAX_VALUE)) {
            Header header = reader.header();
            RawBatch raw = RecordReader.batchFor(header);
            for (long before = 0; reader.next(raw); before += raw.rows) {
                if (row <= before + raw.rows) {
                    return Optional.of(
                            use.of(FileOpening.says(file, reader), header.names(), raw, (int) (row - before - 1)));
                }
            }
            return Optional.empty();
        }
    }

    private static Key key(PreparedJob prepared, Candidate file) {
        return new Key(
                file.key(),
                file.size(),
                file.modified(),
                RulesVersion.of(List.of(
                        prepared.job().read(),
                        prepared.shared().map(Header::original).orElse(""),
                        prepared.job().read().as().isOrdered()
                                ? ""
                                : RulesVersion.canonical(prepared.job().map()))));
    }

    private Optional<RowIndex> known(PreparedJob prepared, Candidate file) {
        synchronized (indexes) {
            return Optional.ofNullable(indexes.get(key(prepared, file)));
        }
    }

    private RowIndex index(PreparedJob prepared, Candidate file) throws IOException {
        Key key = key(prepared, file);
        synchronized (indexes) {
            RowIndex known = indexes.get(key);
            if (known == null) {
                known = new RowIndex(prepared, file, opener, scratch);
                indexes.put(key, known);
                background.execute(known);
                if (indexes.size() > KEPT) {
                    var oldest = indexes.values().iterator();
                    oldest.next().close();
                    oldest.remove();
                }
            }
            return known;
        }
    }

    /** The rows that are to be shown. */
    private static final class Collecting {
        private final PreparedJob prepared;
        private final StageQuestion question;
        private final List<String> notes = new ArrayList<>();
        private final List<StageRow> rows = new ArrayList<>();
        private final PriorityQueue<Sorted> best;
        private final Comparator<Sorted> order;
        private final int keeps;
        private final long start = System.nanoTime();
        private List<StagePage.StageColumn> columns = List.of();
        private RowShower shower;
        private int sortBy = -1;
        private int fileNumber;
        private long from;
        private long looked;
        private long found;
        private long untold;
        private long next;
        private long rowsOfFile = -1;
        private boolean busy;
        private boolean ended;
        private boolean stopped;

        Collecting(PreparedJob prepared, StageQuestion question) {
            this.prepared = prepared;
            this.question = question;
            from = question.from();
            Comparator<Sorted> up = Comparator.comparing(Sorted::by, Collecting::compare);
            // nothing comes last, whichever way
            Comparator<Sorted> directed = question.descending() ? up.reversed() : up;
            order = Comparator.comparing((Sorted one) -> one.by() == null)
                    .thenComparing((one, two) -> one.by() == null ? 0 : directed.compare(one, two))
                    .thenComparing(Sorted::turn);
            keeps = (int) Math.min(StageQuestion.MOST_SORTED, question.from() - 1 + question.limit());
            best = new PriorityQueue<>(order.reversed());
        }

        /** Goes on with a file. */
        void open(Candidate file, FileSays says, Header header, Opener opener)
                throws IOException, FileRejectedException, QueryException {
            Optional<Binding> binding = FileOpening.fits(prepared, says, header);
            if (binding.isPresent()) {
                open(file, says, header, binding.get());
                return;
            }
            try (SourceContent content = opener.content(file);
                    RecordReader reader = FileOpening.open(prepared, file, content, FileOpening.MOST_LOOKED)) {
                open(file, says, header, FileOpening.bind(prepared, file, header, reader)); // says what is wrong
            }
        }

        void open(Candidate file, FileSays says, Header header, Binding binding)
                throws FileRejectedException, QueryException {
            shower = new RowShower(prepared, file, binding, says, question);
            if (columns.isEmpty()) {
                columns = columns(prepared, header, binding, question.stage());
            }
            if (question.sort().isPresent() && sortBy < 0) {
                List<String> names =
                        columns.stream().map(StagePage.StageColumn::name).toList();
                sortBy = names.indexOf(question.sort().get());
                if (sortBy < 0) {
                    throw new QueryException("There is no column '"
                            + question.sort().get() + "' at the stage "
                            + question.stage().word() + "; there are " + String.join(", ", names));
                }
            }
        }

        @SuppressWarnings({"unchecked", "rawtypes"})
        private static int compare(Comparable<?> one, Comparable<?> two) {
            return one.getClass() == two.getClass()
                    ? ((Comparable) one).compareTo(two)
                    : one instanceof BigDecimal ? -1 : 1; // numbers before texts
        }

        /** @param from the first row that has not been found yet; 0 where all have */
        void goOn(long from) {
            if (from > 0 && sortBy < 0) {
                next = from;
                stopped = true;
            }
        }

        /** @return whether the next batch is needed */
        boolean take(RawBatch batch, long before) throws FileRejectedException {
            boolean sorted = sortBy >= 0;
            if (!sorted && question.line() == 0 && before + batch.rows < from) {
                return true;
            }
            shower.take(batch, before);
            for (int row = 0; row < batch.rows; row++) {
                long number = before + row + 1;
                if (!sorted && (question.line() > 0 ? batch.line[row] < question.line() : number < from)) {
                    continue;
                }
                if (rows.size() == question.limit() || isEnough()) {
                    next = number;
                    stopped = true;
                    return false;
                }
                looked++;
                Optional<Boolean> holds = shower.holds(row);
                untold += holds.isEmpty() ? 1 : 0;
                if (!holds.orElse(false)) {
                    continue;
                }
                StageRow shown = shower.row(row);
                if (question.rejected() && shown.outcome() != StageRow.Outcome.REJECTED) {
                    continue;
                }
                found++;
                if (sorted) {
                    best.add(new Sorted(key(shown, row), found, shown));
                    if (best.size() > keeps) {
                        best.poll();
                    }
                } else {
                    rows.add(shown);
                }
            }
            return true;
        }

        private boolean isEnough() {
            return question.whole()
                    ? System.nanoTime() - start > MOST_NANOS
                    : looked >= StageQuestion.SAMPLE && (sortBy >= 0 || question.isFiltered());
        }

        /** Stored values by what they are; texts as numbers where they are some. */
        private Comparable<?> key(StageRow shown, int row) {
            if (question.stage() == Stage.STORED) {
                return shower.value(row, sortBy);
            }
            String text = sortBy < shown.cells().size() ? shown.cells().get(sortBy) : null;
            if (text == null || text.isBlank()) {
                return null;
            }
            String plain = text.strip().replace(',', '.');
            return plain.matches("[+-]?\\d{1,300}(\\.\\d{1,300})?") ? new BigDecimal(plain) : text;
        }

        StagePage page() {
            List<StageRow> shown = rows;
            if (sortBy >= 0) {
                List<Sorted> all = new ArrayList<>(best);
                all.sort(order);
                int first = (int) Math.min(question.from() - 1, all.size());
                shown = all.subList(first, Math.min(all.size(), first + question.limit())).stream()
                        .map(Sorted::row)
                        .toList();
                next = first + shown.size() < found && first + shown.size() < StageQuestion.MOST_SORTED
                        ? question.from() + shown.size()
                        : 0;
            }
            if (stopped && question.whole() && isEnough()) {
                notes.add("looking through the rows was given up after 60 seconds");
            }
            return new StagePage(
                    columns,
                    shown.stream().map(Collecting::shortened).toList(),
                    fileNumber,
                    busy ? 0 : next,
                    looked,
                    ended && !stopped,
                    found,
                    untold,
                    rowsOfFile,
                    busy,
                    List.copyOf(notes));
        }

        private static StageRow shortened(StageRow row) {
            List<String> cells = new ArrayList<>();
            row.cells()
                    .forEach(cell -> cells.add(
                            cell != null && cell.length() > LONGEST ? cell.substring(0, LONGEST) + "…" : cell));
            return new StageRow(
                    row.file(), row.row(), row.line(), row.place(), row.outcome(), cells, row.faults(), row.rule());
        }

        private static List<StagePage.StageColumn> columns(
                PreparedJob prepared, Header header, Binding binding, Stage stage) {
            List<ColumnDef> declared = prepared.dataset().columns();
            List<StagePage.StageColumn> columns = new ArrayList<>();
            if (stage == Stage.READ) {
                for (int i = 0; i < header.names().size(); i++) {
                    int field = i;
                    List<String> feeds = new ArrayList<>();
                    for (int column = 0; column < declared.size(); column++) {
                        if (binding.fields()[column] == field) {
                            feeds.add(declared.get(column).name());
                        }
                    }
                    columns.add(new StagePage.StageColumn(header.names().get(i), "", String.join(", ", feeds)));
                }
                return columns;
            }
            for (int i = 0; i < declared.size(); i++) {
                int field = binding.fields()[i];
                columns.add(new StagePage.StageColumn(
                        declared.get(i).name(),
                        declared.get(i).type().toString(),
                        field >= 0
                                ? header.names().get(field)
                                : Origin.of(
                                        prepared.job().map().get(declared.get(i).name()),
                                        prepared.job()
                                                .read()
                                                .get(ReadSection.FACTS)
                                                .keySet())));
            }
            return columns;
        }
    }

    @Override
    public void close() throws IOException {
        background.shutdownNow();
        synchronized (indexes) {
            for (RowIndex index : indexes.values()) {
                index.close();
            }
            indexes.clear();
        }
    }
}
