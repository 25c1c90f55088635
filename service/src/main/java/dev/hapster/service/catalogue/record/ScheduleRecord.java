package dev.hapster.service.catalogue.record;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Lob;
import jakarta.persistence.Table;
import java.time.Instant;

/** How far the schedule of a job has been followed. */
@Entity
@Table(name = "schedule")
public class ScheduleRecord {
    @Id
    public String job;

    /** What was followed, as the job declared it. */
    @Lob
    public String declared;

    @Column(name = "handled_at")
    public Instant handledAt;

    @Column(name = "after_run")
    public long afterRun;

    @Column(name = "paused_at")
    public Instant pausedAt;

    @Column(name = "paused_until")
    public Instant pausedUntil;

    @Column(name = "paused_because")
    public String pausedBecause;
}
