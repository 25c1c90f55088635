package dev.hapster.service.catalogue.record;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Lob;
import jakarta.persistence.Table;
import java.time.Instant;

/** One time that a delivery was done, or is to be done. */
@Entity
@Table(name = "delivery")
public class DeliveryRecord {

    /** How far it is. */
    public enum State {
        QUEUED,
        DONE,
        FAILED
    }

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    public Long id;

    public String dataset;
    public String name;

    /** The entry of the history after which it was done; null where somebody called for it. */
    @Column(name = "run_id")
    public Long run;

    @Enumerated(EnumType.STRING)
    public State state;

    @Column(name = "queued_at")
    public Instant queuedAt;

    @Column(name = "ended_at")
    public Instant endedAt;

    @Column(name = "rows_count")
    public long rows;

    public long bytes;
    public int written;
    public int unchanged;
    public int removed;
    public String failure;

    /** A line each. */
    @Lob
    public String notes;

    /** Those that were written, removed or left, as JSON. */
    @Lob
    public String files;
}
