package dev.hapster.core.shape;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.pattern.DatePattern;
import dev.hapster.core.pattern.Fact;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.RejectedRow;
import dev.hapster.core.row.RejectedRow.Fault;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.work.Together;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;

/** Turns the raw batches of one file into the dataset's columns. One for each file in work; not thread-safe. */
public final class Shaper {

    /** Batches of as many values are shaped by several. */
    private static final int SHARED = 1 << 13;

    private final Binding binding;
    /** For each column the value that every row gets; null where rows differ. */
    private final String[] fixed;

    /** Whether any column is to come from the source. */
    private final boolean isSourced;

    private final List<ColumnShaper> columns = new ArrayList<>();
    private final TypedBatch typed;
    private final RowValues values;
    private final ComputedColumns computed;
    /** By row. */
    private final List<List<Fault>> faults = new ArrayList<>();
    /** By column, where rows were shaped. */
    private final List<List<Found>> found = new ArrayList<>();

    private BooleanSupplier spare = () -> false;

    /** A fault that a column has, before it is known as one of a row. */
    private record Found(int row, Fault fault) {}

    /**
     * @param says what the file says of itself
     * @throws FileRejectedException where a fact does not suit the column that it feeds
     */
    public Shaper(DatasetDef dataset, JobDef job, Binding binding, FileSays says) throws FileRejectedException {
        this.binding = binding;
        fixed = new String[dataset.columns().size()];
        for (ColumnDef column : dataset.columns()) {
            int at = columns.size();
            boolean lacking =
                    binding.fields()[at] == Binding.ABSENT && column.fallback().isPresent();
            fixed[at] = lacking ? column.fallback().get() : fixed(column, job, says.facts());
            columns.add(lacking ? shaper(column, Mapping.Source.PLAIN, List.of("")) : shaper(column, job));
            found.add(new ArrayList<>(0));
        }
        isSourced = Arrays.asList(fixed).contains(null);
        typed = new TypedBatch(columns.stream().map(ColumnShaper::vector).toList());
        values = new RowValues(dataset, says, binding.names(), typed);
        computed = new ComputedColumns(dataset, job, columns, values);
    }

    /**
     * Lets other cores shape some of the columns.
     *
     * @param now whether one of them has nothing to do
     */
    public void shareWhere(BooleanSupplier now) {
        spare = now;
    }

    /** What names stand for in the rows that are shaped. */
    public RowValues values() {
        return values;
    }

    /** The columns that a row with faults has no value for. */
    public Set<String> untold(List<Fault> found) {
        return computed.untold(found);
    }

    private static String fixed(ColumnDef column, JobDef job, Map<String, Fact> facts) throws FileRejectedException {
        Mapping mapping = job.map().get(column.name());
        if (mapping instanceof Mapping.Constant constant) {
            return constant.value();
        }
        if (!(mapping instanceof Mapping.Fact named)) {
            return null;
        }
        Fact fact = facts.get(named.name());
        if (fact == null) {
            throw new FileRejectedException(Reasons.factDiffers(named.name(), false, "", "the name has no such piece"));
        }
        boolean beside = job.read().get(ReadSection.FACTS).containsKey(named.name());
        String value = column.type().isTemporal() ? moment(named, beside, fact) : fact.text();
        Optional<Reason> wrong = refuseConstant(column, job, value);
        if (wrong.isPresent()) {
            throw new FileRejectedException(Reasons.factDiffers(
                    named.name(), beside, fact.text(), wrong.get().sentence()));
        }
        return value;
    }

    /**
     * What a piece of a name means as a date, in ISO 8601: as the job says that the column is written, where it does;
     * otherwise as the name's own pattern has it.
     */
    private static String moment(Mapping.Fact named, boolean beside, Fact fact) throws FileRejectedException {
        List<String> patterns = named.how().patterns();
        if (patterns.isEmpty()) {
            return fact.iso().orElse(fact.text());
        }
        String text = Cleaner.clean(named.how().clean(), fact.text());
        return patterns.stream()
                .flatMap(pattern -> DatePattern.partial(pattern).in(named.how().language()).meaning(text).stream())
                .findFirst()
                .orElseThrow(() -> new FileRejectedException(Reasons.factDiffers(
                        named.name(),
                        beside,
                        fact.text(),
                        Reasons.dateUnreadable(text, patterns).sentence())));
    }

    /** Rejects a file whose name says what does not suit a column. */
    public static void checkFacts(DatasetDef dataset, JobDef job, Map<String, Fact> facts)
            throws FileRejectedException {
        for (ColumnDef column : dataset.columns()) {
            fixed(column, job, facts);
        }
    }

    private static ColumnShaper shaper(ColumnDef column, JobDef job) {
        Mapping mapping = job.map().get(column.name());
        Mapping.Source source = mapping instanceof Mapping.Source given
                ? given
                : mapping instanceof Mapping.Fact fact && !isRead(column, fact) ? fact.how() : Mapping.Source.PLAIN;
        return shaper(column, source, job.read().get(ReadSection.EMPTY_AS));
    }

    /** Whether a piece of a name was read as a date already. */
    private static boolean isRead(ColumnDef column, Mapping.Fact fact) {
        return column.type().isTemporal() && !fact.how().patterns().isEmpty();
    }

    /** Why a value of a lookup table does not suit its column; empty where it does. */
    public static Optional<Reason> refuseLookedUp(ColumnDef column, String value) {
        return Optional.ofNullable(
                shaper(column, Mapping.Source.PLAIN, List.of("")).fill(value, 1));
    }

    private static ColumnShaper shaper(ColumnDef column, Mapping.Source source, List<String> emptyAs) {
        return switch (column.type().kind()) {
            case TEXT -> new TextShaper(column, source, emptyAs);
            case INTEGER, DECIMAL, DOUBLE -> new NumberShaper(column, source, emptyAs);
            case BOOLEAN -> new BooleanShaper(column, source, emptyAs);
            case DATE, TIME, TIMESTAMP -> new TemporalShaper(column, source, emptyAs);
        };
    }

    /** Why a constant of the job does not suit its column; empty where it does. */
    public static Optional<Reason> refuseConstant(ColumnDef column, JobDef job, String value) {
        return Optional.ofNullable(shaper(column, job).fill(value, 1));
    }

    /**
     * Shapes a batch.
     *
     * @param before rows of the file before this batch
     * @param refused gets every row that does not fit, in the order of the file
     * @return the typed rows, valid until the next call
     */
    public TypedBatch shape(RawBatch raw, long before, Consumer<RejectedRow> refused) {
        while (faults.size() < raw.rows) {
            faults.add(null);
        }
        boolean shared = raw.rows * columns.size() >= SHARED && spare.getAsBoolean();
        Together.each(columns.size(), shared, i -> shape(raw, i));
        for (int i = 0; i < columns.size(); i++) {
            tell(raw, i);
        }
        marks(raw);
        compute(raw);
        sift(raw, before, refused);
        return typed;
    }

    private void shape(RawBatch raw, int i) {
        ColumnShaper column = columns.get(i);
        int field = binding.fields()[i];
        if (field >= 0) {
            column.shape(raw, field, (row, name, value, reason) -> found.get(i)
                    .add(new Found(row, new Fault(name, value, reason))));
        } else if (fixed[i] != null) {
            Reason wrong = column.fill(fixed[i], raw.rows);
            if (wrong != null) {
                throw new IllegalStateException("The check lets no unsuitable constant pass: " + wrong.sentence());
            }
        } else if (field == Binding.ABSENT) {
            column.leaveEmpty(raw.rows);
        }
    }

    /** What was found in a column is a fault of its rows, at its place where the file has names for places. */
    private void tell(RawBatch raw, int i) {
        int field = binding.fields()[i];
        for (Found one : found.get(i)) {
            Fault fault = one.fault;
            Reason reason = raw.places == null
                    ? fault.reason()
                    : Reasons.at(fault.reason(), raw.places.of(raw.line[one.row], field));
            fault(one.row, fault.column(), fault.value(), reason);
        }
        found.get(i).clear();
    }

    /** The typed rows of the batch that is being shaped: columns that a row has no fault in are as they will be. */
    public TypedBatch typed() {
        return typed;
    }

    /** What a row has in a column, after cleaning; empty where nothing of the source feeds it. */
    public Optional<String> cleaned(RawBatch raw, int row, int column) {
        int field = binding.fields()[column];
        return field < 0 ? Optional.empty() : Optional.of(columns.get(column).cleaned(raw, row, field));
    }

    /** What could not be read rejects the rows that need it. */
    private void marks(RawBatch raw) {
        for (RawBatch.Mark mark : raw.marks) {
            if (mark.field() < 0) {
                faults.set(mark.row(), null);
                fault(mark.row(), "", "", mark.reason());
                continue;
            }
            for (int i = 0; i < columns.size(); i++) {
                if (binding.fields()[i] == mark.field()) {
                    fault(mark.row(), columns.get(i).column.name(), raw.text(mark.row(), mark.field()), mark.reason());
                }
            }
        }
    }

    private void fault(int row, String column, String value, Reason reason) {
        if (faults.get(row) == null) {
            faults.set(row, new ArrayList<>(2));
        }
        faults.get(row).add(new Fault(column, value, reason));
    }

    private void compute(RawBatch raw) {
        if (computed.isNone()) {
            return;
        }
        computed.reset(raw.rows);
        for (int row = 0; row < raw.rows; row++) {
            if (raw.fields[row] == raw.width && !raw.misquoted[row]) {
                computed.calculate(raw, row, faults.get(row), this::fault);
            }
        }
    }

    /** Whether the source has nothing for a row in any column that is used; a word for nothing is something. */
    private boolean isEmpty(RawBatch raw, int row) {
        if (!isSourced) {
            return false;
        }
        for (int field : binding.used()) {
            if (!raw.isBlank(row, field)) {
                return false;
            }
        }
        return binding.used().length > 0 || computed.isNone();
    }

    /** Whether nothing is wrong with what the file has: what is calculated of an empty row says nothing. */
    private boolean isOnlyComputed(List<Fault> found) {
        return found == null
                || found.stream().allMatch(fault -> fault.reason().code().equals(ReasonCode.COMPUTE_FAILED));
    }

    private void sift(RawBatch raw, long before, Consumer<RejectedRow> refused) {
        if (typed.good.length < raw.rows) {
            typed.good = new int[raw.capacity];
        }
        typed.line = raw.line;
        int good = 0;
        for (int row = 0; row < raw.rows; row++) {
            if (raw.fields[row] != raw.width) {
                fault(row, "", "", Reasons.fieldCount(raw.fields[row], raw.width));
            }
            if (raw.misquoted[row]) {
                fault(row, "", "", Reasons.quoteMisplaced());
            }
            if (isEmpty(raw, row) && isOnlyComputed(faults.get(row))) {
                faults.set(row, null);
                fault(row, "", "", Reasons.rowEmpty());
            }
            List<Fault> found = faults.get(row);
            if (found == null) {
                typed.good[good++] = row;
            } else {
                refused.accept(
                        new RejectedRow(raw.line[row], before + row + 1, found, raw.original(row), raw.texts(row)));
                faults.set(row, null);
            }
        }
        typed.goodRows = good;
    }
}
