package dev.hapster.service.catalogue;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.arrival.Order;
import dev.hapster.core.arrival.RowRule;
import dev.hapster.core.catalogue.Fate;
import dev.hapster.core.catalogue.Fingerprint;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Standing;
import dev.hapster.core.find.Roots;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.catalogue.record.ArrivalRecord;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Optional;
import org.roaringbitmap.RoaringBitmap;

/**
 * Turns what the core knows of arrivals into records, and back. Paths below the workspace are kept relative to it, so
 * that it can be moved. Thread-safe.
 */
@ApplicationScoped
class Arrivals {

    private static final int LONGEST_SENTENCE = 4000;

    private final Path workspace;
    private final Roots roots;

    Arrivals(Workspace workspace, Roots roots) {
        this.workspace = workspace.folder();
        this.roots = roots;
    }

    LedgerEntry entry(ArrivalRecord record) {
        Arrival arrival = new Arrival(
                record.id,
                record.run,
                record.job,
                record.source,
                record.generation,
                new Order(record.placeRun, record.placeTurn, record.placeOrdinal),
                record.base,
                record.accepted,
                record.takesPlace,
                record.copies,
                record.content,
                RowRule.parse(record.rowRule),
                record.part,
                record.rows,
                record.deletes,
                record.asCopy);
        Optional<Reason> reason =
                Optional.ofNullable(record.code).flatMap(ReasonCode::of).map(code -> new Reason(code, record.sentence));
        Fate fate = new Fate(
                Fate.Kind.valueOf(record.fate),
                Optional.ofNullable(record.liesAt).map(this::resolve),
                record.fateRun);
        return new LedgerEntry(
                arrival,
                record.name,
                resolve(record.file),
                record.findPlace,
                new Fingerprint(record.size, record.modified, record.changed, record.seenTag, record.seenHash),
                record.readAt,
                record.rules,
                record.datasetVersion,
                record.rowsRejected,
                reason,
                record.saidBy,
                record.afterRule,
                fate,
                record.sweptAt,
                standing(record));
    }

    static Standing standing(ArrivalRecord record) {
        return new Standing(record.stands, record.counts, record.current, record.copyOf, mask(record.masked));
    }

    /** @param dataset its name */
    ArrivalRecord record(LedgerEntry entry, String dataset, Long runFile, Instant at) {
        Arrival arrival = entry.arrival();
        ArrivalRecord record = new ArrivalRecord();
        record.id = arrival.id();
        record.run = arrival.entry();
        record.job = arrival.job();
        record.dataset = dataset;
        record.source = arrival.source();
        record.generation = arrival.generation();
        record.placeRun = arrival.place().entry();
        record.placeTurn = arrival.place().turn();
        record.placeOrdinal = arrival.place().ordinal();
        record.base = arrival.base();
        record.accepted = arrival.accepted();
        record.takesPlace = arrival.instead();
        record.copies = arrival.copies();
        record.content = arrival.content();
        record.rowRule = arrival.rule().toString();
        record.part = arrival.part();
        record.rows = arrival.rows();
        record.deletes = arrival.deletes();
        record.asCopy = arrival.asCopy();
        record.name = entry.name();
        record.file = inWorkspace(entry.file());
        record.findPlace = entry.place();
        record.rules = entry.rules();
        record.datasetVersion = entry.datasetVersion();
        record.rowsRejected = entry.rejected();
        record.afterRule = entry.after();
        record.runFile = runFile;
        record.sweptAt = entry.sweptAt();
        seen(record, entry);
        fate(record, entry.fate());
        stand(record, entry, at);
        return record;
    }

    /** How the file looks now, and why it is not loaded. */
    void seen(ArrivalRecord record, LedgerEntry entry) {
        record.size = entry.fingerprint().size();
        record.modified = entry.fingerprint().modified();
        record.changed = entry.fingerprint().changed();
        record.seenHash = entry.fingerprint().hash();
        record.seenTag = entry.fingerprint().tag();
        record.readAt = entry.readAt();
        record.code = entry.reason().map(reason -> reason.code().code()).orElse(null);
        record.sentence =
                entry.reason().map(reason -> shorten(reason.sentence())).orElse(null);
        record.saidBy = entry.saidBy();
    }

    void fate(ArrivalRecord record, Fate fate) {
        record.fate = fate.kind().name();
        record.liesAt = fate.to().map(this::inWorkspace).orElse(null);
        record.fateRun = fate.run();
    }

    /** How it stands from a moment on. */
    void stand(ArrivalRecord record, LedgerEntry entry, Instant at) {
        Standing now = entry.standing();
        record.stands = now.stands();
        record.counts = now.counts();
        record.current = now.current();
        record.copyOf = now.copyOf();
        record.masked = now.masked().map(Arrivals::bytes).orElse(null);
        record.rowsMasked = now.masked().map(RoaringBitmap::getLongCardinality).orElse(0L);
        record.idleSince = !entry.isIdle() ? null : record.idleSince == null ? at : record.idleSince;
    }

    /** A path as it was kept. */
    Path resolve(String kept) {
        return roots.resolve(workspace, kept);
    }

    String inWorkspace(Path path) {
        return path.startsWith(workspace) && !path.equals(workspace)
                ? workspace.relativize(path).toString()
                : path.toString();
    }

    static String shorten(String sentence) {
        return sentence.length() <= LONGEST_SENTENCE ? sentence : sentence.substring(0, LONGEST_SENTENCE - 1) + "…";
    }

    private static byte[] bytes(RoaringBitmap rows) {
        ByteBuffer bytes = ByteBuffer.allocate(rows.serializedSizeInBytes());
        rows.serialize(bytes);
        return bytes.array();
    }

    static Optional<RoaringBitmap> mask(byte[] bytes) {
        if (bytes == null) {
            return Optional.empty();
        }
        RoaringBitmap rows = new RoaringBitmap();
        try {
            rows.deserialize(ByteBuffer.wrap(bytes));
        } catch (IOException damaged) {
            throw new UncheckedIOException(
                    "Which rows of a part do not count cannot be read back; hapster verify --rebuild finds it anew",
                    damaged);
        }
        return Optional.of(rows);
    }
}
