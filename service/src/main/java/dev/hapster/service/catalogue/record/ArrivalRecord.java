package dev.hapster.service.catalogue.record;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/**
 * An arrival, and how it stands; {@link Arrivals} makes one of what the core knows, and back. Only what was changed of
 * it is written, since others may write where its rows lie, or what became of its file, at the same time.
 */
@Entity
@DynamicUpdate
@Table(name = "arrival")
public class ArrivalRecord {
    @Id
    public long id;

    @Column(name = "run_id")
    public long run;

    public String job;
    public String dataset;
    public String source;
    public int generation;

    @Column(name = "place_run")
    public long placeRun;

    @Column(name = "place_turn")
    public int placeTurn;

    @Column(name = "place_ordinal")
    public int placeOrdinal;

    public long base;
    public boolean accepted;

    @Column(name = "takes_place")
    public boolean takesPlace;

    public boolean copies;
    public String content;

    @Column(name = "row_rule")
    public String rowRule;
    /** Empty where it has no rows, or they are no longer kept. */
    public String part;

    @Column(name = "rows_count")
    public long rows;

    public boolean deletes;

    @Column(name = "as_copy")
    public boolean asCopy;

    public String name;
    public String file;

    @Column(name = "find_place")
    public int findPlace;

    @Column(name = "size_bytes")
    public long size;

    @Column(name = "modified_at")
    public Instant modified;

    @Column(name = "changed_at")
    public Instant changed;

    @Column(name = "seen_hash")
    public String seenHash;

    @Column(name = "seen_tag")
    public String seenTag;

    @Column(name = "read_at")
    public Instant readAt;

    public String rules;

    @Column(name = "dataset_version")
    public String datasetVersion;

    @Column(name = "rows_rejected")
    public long rowsRejected;

    public String code;
    public String sentence;

    @Column(name = "said_by")
    public long saidBy;

    @Column(name = "after_rule")
    public String afterRule;

    public String fate;

    @Column(name = "lies_at")
    public String liesAt;

    @Column(name = "fate_run")
    public long fateRun;
    /** The result by which the file was reported, with its reasons. */
    @Column(name = "run_file_id")
    public Long runFile;

    @Column(name = "swept_at")
    public long sweptAt;

    public boolean stands;
    public boolean counts;

    @Column(name = "is_current")
    public boolean current;

    @Column(name = "copy_of")
    public long copyOf;
    /** Rows that do not count, as a serialised bitmap (RoaringBitmap's portable format); null where all do. */
    public byte[] masked;

    @Column(name = "rows_masked")
    public long rowsMasked;
    /** The entry of the history that dismissed its rejects and was not undone; null where there is none. */
    @Column(name = "dismissed_by")
    public Long dismissed;
    /** Since when it has no part in the dataset; null as long as it has. */
    @Column(name = "idle_since")
    public Instant idleSince;
}
