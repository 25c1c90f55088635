package dev.hapster.service.catalogue;

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
class ArrivalRecord {
    @Id
    long id;

    @Column(name = "run_id")
    long run;

    String job;
    String dataset;
    String source;
    int generation;

    @Column(name = "place_run")
    long placeRun;

    @Column(name = "place_turn")
    int placeTurn;

    @Column(name = "place_ordinal")
    int placeOrdinal;

    long base;
    boolean accepted;

    @Column(name = "takes_place")
    boolean takesPlace;

    boolean copies;
    String content;

    @Column(name = "row_rule")
    String rowRule;
    /** Empty where it has no rows, or they are no longer kept. */
    String part;

    @Column(name = "rows_count")
    long rows;

    boolean deletes;

    @Column(name = "as_copy")
    boolean asCopy;

    String name;
    String file;

    @Column(name = "find_place")
    int findPlace;

    @Column(name = "size_bytes")
    long size;

    @Column(name = "modified_at")
    Instant modified;

    @Column(name = "changed_at")
    Instant changed;

    @Column(name = "seen_hash")
    String seenHash;

    @Column(name = "seen_tag")
    String seenTag;

    @Column(name = "read_at")
    Instant readAt;

    String rules;

    @Column(name = "dataset_version")
    String datasetVersion;

    @Column(name = "rows_rejected")
    long rowsRejected;

    String code;
    String sentence;

    @Column(name = "said_by")
    long saidBy;

    @Column(name = "after_rule")
    String afterRule;

    String fate;

    @Column(name = "lies_at")
    String liesAt;

    @Column(name = "fate_run")
    long fateRun;
    /** The result by which the file was reported, with its reasons. */
    @Column(name = "run_file_id")
    Long runFile;

    @Column(name = "swept_at")
    long sweptAt;

    boolean stands;
    boolean counts;

    @Column(name = "is_current")
    boolean current;

    @Column(name = "copy_of")
    long copyOf;
    /** Rows that do not count, as a serialised bitmap (RoaringBitmap's portable format); null where all do. */
    byte[] masked;

    @Column(name = "rows_masked")
    long rowsMasked;
    /** The entry of the history that dismissed its rejects and was not undone; null where there is none. */
    @Column(name = "dismissed_by")
    Long dismissed;
    /** Since when it has no part in the dataset; null as long as it has. */
    @Column(name = "idle_since")
    Instant idleSince;
}
