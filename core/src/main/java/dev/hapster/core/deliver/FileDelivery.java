package dev.hapster.core.deliver;

import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.DeliveryDef;
import dev.hapster.core.definition.DeliveryDef.Style;
import dev.hapster.core.definition.DeliveryDef.ToFiles;
import dev.hapster.core.deliver.Handover.Change;
import dev.hapster.core.deliver.Handover.FileChange;
import dev.hapster.core.find.Roots;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.DatasetQuery.Selection;
import dev.hapster.core.query.SplitExport;
import dev.hapster.core.query.SplitExport.Target;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.write.RowStyle;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.remote.Remotes;
import java.io.BufferedOutputStream;
import java.io.Closeable;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.channels.Channels;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.security.DigestOutputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;

/** Hands rows over as files. One object does one delivery once. Not thread-safe. */
public final class FileDelivery {

    /** To be raised where the same rows are written otherwise than before. */
    private static final String FORM = "1";

    /** Begins the names of contents of sheets in workbooks of others, which are never removed. */
    private static final String IN_SHEET = "sheet-";

    /** Files of text that are written at once, and of formats that keep more in memory. */
    private static final int TEXTS_AT_ONCE = 64;

    private static final int OTHERS_AT_ONCE = 8;
    private static final int MOST_NAMED = 5;

    private final DatasetDef dataset;
    private final DeliveryDef delivery;
    private final ToFiles to;
    private final Path workspace;
    private final Roots roots;
    private final Searches searches;
    private final DeliveryLog log;
    private final Path scratch;
    private final List<FileChange> changes = new ArrayList<>();
    private final List<String> notes = new ArrayList<>();

    /**
     * @param workspace the folder to which paths are relative
     * @param roots below which files may be written
     * @param searches where nothing may be delivered
     * @param scratch folder for files of rows that are sorted
     */
    public FileDelivery(
            DatasetDef dataset,
            DeliveryDef delivery,
            ToFiles to,
            Path workspace,
            Roots roots,
            Searches searches,
            DeliveryLog log,
            Path scratch) {
        this.searches = searches;
        this.dataset = dataset;
        this.delivery = delivery;
        this.to = to;
        this.workspace = workspace;
        this.roots = roots;
        this.log = log;
        this.scratch = scratch;
    }

    /** Finds out what would be done. Nothing is written. */
    public Handover trial(DatasetQuery rows) throws IOException, QueryException {
        return perform(rows, false);
    }

    /**
     * Does it. Where it fails, files are whole, each as it was before or as it should be; done again, it goes on.
     *
     * @throws QueryException where it cannot be done, before anything is written
     */
    public Handover deliver(DatasetQuery rows) throws IOException, QueryException {
        return perform(rows, true);
    }

    private Handover perform(DatasetQuery rows, boolean really) throws IOException, QueryException {
        RowStyle style = style();
        SplitExport export = rows.split(
                new Selection(delivery.columns(), delivery.origins(), delivery.where(), to.sort()),
                to.pattern(),
                names -> RowWriter.limits(to.format(), style, names));
        String form = form();
        Map<Path, List<Product>> known = log.products(dataset.name(), delivery.name());
        Map<Path, Target> wanted = new TreeMap<>();
        Map<Path, String> names = new LinkedHashMap<>();
        Map<String, Target> targets = export.targets();
        targets.forEach((name, target) -> {
            Path path = roots.resolve(workspace, name);
            names.put(path, name);
            wanted.put(path, new Target(target.rows(), form + target.content()));
        });
        Map<Path, Target> due = new TreeMap<>();
        List<Path> foreign = new ArrayList<>();
        for (Map.Entry<Path, Target> one : wanted.entrySet()) {
            Path path = one.getKey();
            checkPlace(path);
            checkWorkbook(path);
            Optional<Product> there = own(path, known.getOrDefault(path, List.of()));
            if (there.isEmpty() && to.sheet().isPresent()) {
                due.put(path, one.getValue());
            } else if (there.isEmpty() && isThere(path)) {
                foreign.add(path);
            } else if (there.filter(
                            product -> product.content().equals(one.getValue().content()))
                    .isPresent()) {
                unchanged(there.get(), really && known.get(path).size() > 1);
            } else {
                due.put(path, one.getValue());
            }
        }
        if (!foreign.isEmpty() && !really) {
            notes.add(told(foreign, known) + ". Where they are not just what would be written, nothing is");
        }
        if (really) {
            dropDrafts(wanted, known);
            checkForeign(export, style, foreign, wanted, names, known);
            write(export, style, due, names, known);
        } else {
            due.forEach((path, target) -> changes.add(new FileChange(path, Change.WRITTEN, target.rows(), 0, "")));
        }
        for (Map.Entry<Path, List<Product>> one : known.entrySet()) {
            if (!wanted.containsKey(one.getKey())) {
                remove(one.getKey(), one.getValue(), really);
            }
        }
        changes.sort(Comparator.comparing(change -> change.path().toString()));
        return new Handover(changes, notes);
    }

    private RowStyle style() throws QueryException {
        Style style = to.style();
        return RowStyle.of(
                style.separator(),
                style.encoding(),
                style.decimal(),
                style.dates(),
                style.timestamps(),
                style.quoteAll(),
                style.header(),
                style.safe(),
                style.root(),
                style.row());
    }

    /** A short name for how rows are written. */
    private String form() {
        String all = FORM
                + dataset.name()
                + dataset.columns()
                + to.format()
                + to.sheet().orElse("")
                + delivery.where()
                + delivery.columns()
                + to.sort()
                + delivery.origins()
                + to.style();
        return (to.sheet().isPresent() ? IN_SHEET : "")
                + HexFormat.of().formatHex(sha256().digest(all.getBytes(StandardCharsets.UTF_8)), 0, 8) + "-";
    }

    private static MessageDigest sha256() {
        try {
            return MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException("Every Java has it", impossible);
        }
    }

    private void checkPlace(Path path) throws QueryException {
        if (roots.own(path)) {
            throw new QueryException(
                    path + " belongs to Hapster's own store or definitions. Deliver to another folder");
        }
        if (!roots.holdAsWritten(path)) {
            throw new QueryException(path + " lies outside the folders that the service may use (" + roots
                    + "). Deliver to one of them, or start the service with --root");
        }
        Optional<Searches.Search> finding = searches.finding(path);
        if (finding.isPresent()) {
            throw new QueryException(path + " would be found and loaded by the job "
                    + finding.get().job() + ", which searches "
                    + finding.get().folder() + ". Deliver to another folder");
        }
    }

    private static String told(List<Path> foreign, Map<Path, List<Product>> known) {
        boolean changed = foreign.stream().anyMatch(known::containsKey);
        return (foreign.size() == 1 ? "1 file is" : Reasons.grouped(foreign.size()) + " files are")
                + (changed ? " no longer as the delivery wrote: " : " there already, and not from this delivery: ")
                + foreign.stream().limit(MOST_NAMED).map(Path::toString).collect(Collectors.joining(", "))
                + (foreign.size() > MOST_NAMED ? " and others" : "");
    }

    /**
     * Files that are there and are not known to be the delivery's must be just what it would write, as after its
     * catalogue was lost; then they are its own.
     */
    private void checkForeign(
            SplitExport export,
            RowStyle style,
            List<Path> foreign,
            Map<Path, Target> wanted,
            Map<Path, String> names,
            Map<Path, List<Product>> known)
            throws IOException, QueryException {
        List<Path> others = new ArrayList<>();
        List<Product> same = new ArrayList<>();
        each(export, style, foreign, wanted, names, writings -> {
            for (Writing writing : writings) {
                Product product = writing.end();
                Optional<Product> there = own(product.path(), List.of(product));
                there.ifPresentOrElse(same::add, () -> others.add(product.path()));
            }
        });
        if (!others.isEmpty()) {
            throw new QueryException(told(others, known) + ". Nothing was written. Move "
                    + (others.size() == 1 ? "it" : "them") + " away, or deliver to another place");
        }
        if (!same.isEmpty()) {
            log.named(dataset.name(), delivery.name(), same);
            same.forEach(product -> changes.add(new FileChange(
                    product.path(), Change.UNCHANGED, product.rows(), product.bytes(), product.checksum())));
        }
    }

    private boolean isThere(Path path) throws IOException {
        return Shelf.look(path, roots).isPresent();
    }

    /** What a delivery wrote under this name, where it is still there as it left it. */
    private Optional<Product> own(Path path, List<Product> known) throws IOException {
        if (known.isEmpty() || !isThere(path)) {
            return Optional.empty();
        }
        try (Shelf folder = Shelf.of(path.getParent(), roots, false)) {
            String name = path.getFileName().toString();
            Optional<BasicFileAttributes> found = folder.look(name).filter(BasicFileAttributes::isRegularFile);
            if (found.isEmpty()) {
                return Optional.empty();
            }
            for (Product product : known) {
                if (product.bytes() == found.get().size()
                        && product.modified().equals(micros(found.get().lastModifiedTime()))) {
                    return Optional.of(product);
                }
            }
            String checksum = checksum(folder, name);
            return known.stream()
                    .filter(product -> product.checksum().equals(checksum))
                    .findFirst();
        }
    }

    /** Where a sheet is written into, its workbook has to be there; what else is in it does not matter. */
    private void checkWorkbook(Path path) throws QueryException, IOException {
        if (to.sheet().isPresent()
                && Shelf.look(path, roots)
                        .filter(BasicFileAttributes::isRegularFile)
                        .isEmpty()) {
            throw new QueryException(path + " is not there. Put the workbook there, into whose sheet "
                    + to.sheet().get() + " rows are to be written, or leave `sheet` out");
        }
    }

    private static Instant micros(FileTime time) {
        return time.toInstant().truncatedTo(ChronoUnit.MICROS);
    }

    private static String checksum(Shelf folder, String name) throws IOException {
        MessageDigest digest = sha256();
        try (InputStream in = Channels.newInputStream(folder.read(name));
                OutputStream out = new DigestOutputStream(OutputStream.nullOutputStream(), digest)) {
            in.transferTo(out);
        }
        return HexFormat.of().formatHex(digest.digest());
    }

    /** @param cutOff whether the delivery was cut off when the file had got its name */
    private void unchanged(Product there, boolean cutOff) {
        if (cutOff) {
            log.named(dataset.name(), delivery.name(), List.of(there));
        }
        changes.add(new FileChange(there.path(), Change.UNCHANGED, there.rows(), there.bytes(), there.checksum()));
    }

    private void write(
            SplitExport export,
            RowStyle style,
            Map<Path, Target> due,
            Map<Path, String> names,
            Map<Path, List<Product>> known)
            throws IOException {
        each(export, style, List.copyOf(due.keySet()), due, names, writings -> name(writings, known));
    }

    /** What is done with files once their rows are written. */
    private interface Finish {
        void of(List<Writing> writings) throws IOException;
    }

    /** Writes files beside their names, some at once. */
    private void each(
            SplitExport export,
            RowStyle style,
            List<Path> paths,
            Map<Path, Target> targets,
            Map<Path, String> names,
            Finish finish)
            throws IOException {
        boolean text = !to.format().equals("xlsx") && !to.format().equals("parquet");
        int atOnce = text ? TEXTS_AT_ONCE : OTHERS_AT_ONCE;
        for (int from = 0; from < paths.size(); from += atOnce) {
            List<Writing> writings = new ArrayList<>();
            try {
                Map<String, RowWriter> writers = new LinkedHashMap<>();
                for (Path path : paths.subList(from, Math.min(paths.size(), from + atOnce))) {
                    Writing writing = new Writing(path, targets.get(path));
                    writings.add(writing);
                    writers.put(names.get(path), writing.begin(style));
                }
                export.write(writers, scratch);
                finish.of(writings);
            } finally {
                for (Writing writing : writings) {
                    writing.close();
                }
            }
        }
    }

    /** Gives files that are whole their names. */
    private void name(List<Writing> writings, Map<Path, List<Product>> known) throws IOException {
        List<Product> products = new ArrayList<>();
        for (Writing writing : writings) {
            products.add(writing.end());
        }
        CrashPoint.DELIVERY_WRITTEN.reached();
        log.intend(dataset.name(), delivery.name(), products);
        for (int i = 0; i < products.size(); i++) {
            Product product = products.get(i);
            if (to.sheet().isPresent()) {
                writings.get(i).checkUnchanged();
            } else if (own(product.path(), known.getOrDefault(product.path(), List.of()))
                            .isEmpty()
                    && isThere(product.path())) {
                throw new IOException(product.path() + " was put there by somebody else meanwhile");
            }
            products.set(i, writings.get(i).name(product));
            CrashPoint.DELIVERY_NAMED.reached();
        }
        log.named(dataset.name(), delivery.name(), products);
        for (Product product : products) {
            changes.add(new FileChange(
                    product.path(), Change.WRITTEN, product.rows(), product.bytes(), product.checksum()));
        }
    }

    /** By which drafts of this delivery are found again. */
    private String draftsOf() {
        return "delivery-" + Integer.toHexString((dataset.name() + "/" + delivery.name()).hashCode());
    }

    /** Removes what was half written when the delivery was cut off, in all folders that it has to do with. */
    private void dropDrafts(Map<Path, Target> wanted, Map<Path, List<Product>> known) throws IOException {
        Set<Path> folders = new LinkedHashSet<>();
        wanted.keySet().forEach(path -> folders.add(path.getParent()));
        known.keySet().forEach(path -> folders.add(path.getParent()));
        for (Path path : folders) {
            if (Remotes.isRemote(path) || Files.isDirectory(path)) {
                try (Shelf folder = Shelf.of(path, roots, false)) {
                    folder.dropDrafts(draftsOf());
                }
            }
        }
    }

    /** One file while it is written. */
    private final class Writing implements Closeable {
        private final Path path;
        private final Target target;
        private final Shelf folder;
        private final Shelf.Draft draft;
        private final MessageDigest digest = sha256();
        private OutputStream out;
        private RowWriter writer;
        private BasicFileAttributes before;

        Writing(Path path, Target target) throws IOException {
            this.path = path;
            this.target = target;
            folder = Shelf.of(path.getParent(), roots, true);
            boolean whole = false;
            try {
                draft = folder.draft(draftsOf());
                whole = true;
            } finally {
                if (!whole) {
                    folder.close();
                }
            }
        }

        RowWriter begin(RowStyle style) throws IOException {
            out = new DigestOutputStream(
                    new BufferedOutputStream(Channels.newOutputStream(draft.channel()), 1 << 16), digest);
            writer = to.sheet().isPresent()
                    ? intoSheet(to.sheet().get())
                    : RowWriter.of(to.format(), out, dataset.name(), style).orElseThrow();
            return writer;
        }

        private RowWriter intoSheet(String sheet) throws IOException {
            String name = path.getFileName().toString();
            before = folder.look(name).orElseThrow(() -> new IOException(path + " is not there any more"));
            try {
                return RowWriter.intoSheet(folder.read(name), out, sheet, false);
            } catch (QueryException wrong) {
                throw new IOException(path + ": " + wrong.getMessage());
            }
        }

        /** Sees that nobody saved the workbook since it was read: what they did would be lost. */
        void checkUnchanged() throws IOException {
            Optional<BasicFileAttributes> now = folder.look(path.getFileName().toString());
            if (now.isEmpty()
                    || now.get().size() != before.size()
                    || !now.get().lastModifiedTime().equals(before.lastModifiedTime())) {
                throw new IOException(path + " was changed by somebody else meanwhile. Nothing was written");
            }
        }

        Product end() throws IOException {
            writer.close();
            out.flush();
            draft.channel().force(true);
            long bytes = draft.channel().size();
            out.close();
            Instant modified = micros(draft.look().lastModifiedTime());
            return new Product(
                    path, target.rows(), bytes, modified, HexFormat.of().formatHex(digest.digest()), target.content());
        }

        /** Gives it its name; the time is the one that it has there. */
        Product name(Product product) throws IOException {
            Instant modified = micros(draft.name(path.getFileName().toString()).lastModifiedTime());
            return new Product(path, product.rows(), product.bytes(), modified, product.checksum(), product.content());
        }

        @Override
        public void close() throws IOException {
            try (folder;
                    draft) {
                if (writer != null) {
                    writer.close();
                }
            }
        }
    }

    private void remove(Path path, List<Product> known, boolean really) throws IOException {
        Product last = known.get(known.size() - 1);
        if (!isThere(path)) {
            if (really) {
                log.forget(dataset.name(), delivery.name(), List.of(path));
            }
            return;
        }
        Optional<Product> own = own(path, known);
        if (last.content().startsWith(IN_SHEET)) {
            notes.add(path + " is not delivered any more; the workbook is left as it is");
            changes.add(new FileChange(path, Change.LEFT, 0, 0, ""));
        } else if (own.isEmpty()) {
            notes.add(path + " has no rows any more, but somebody changed it since it was written; it is left");
            changes.add(new FileChange(path, Change.LEFT, 0, 0, ""));
        } else {
            if (really) {
                try (Shelf folder = Shelf.of(path.getParent(), roots, false)) {
                    folder.delete(path.getFileName().toString());
                }
            }
            changes.add(new FileChange(path, Change.REMOVED, 0, 0, last.checksum()));
        }
        if (really) {
            log.forget(dataset.name(), delivery.name(), List.of(path));
        }
    }
}
