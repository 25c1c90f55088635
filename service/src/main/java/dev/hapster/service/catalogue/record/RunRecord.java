package dev.hapster.service.catalogue.record;

import dev.hapster.core.run.load.RunState;
import dev.hapster.core.schedule.Start.By;
import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.Id;
import jakarta.persistence.Lob;
import jakarta.persistence.SequenceGenerator;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/**
 * One execution of a job, with its counts once it has ended. Only what was changed of it is written: somebody may give
 * it a label while it begins or ends.
 */
@Entity
@DynamicUpdate
@Table(name = "run")
public class RunRecord {
    public static final String RUN = "run";
    public static final String RETRY = "retry";
    public static final String UNDO = "undo";
    public static final String REMOVE = "remove";
    public static final String DISMISS = "dismiss";

    @Id
    @GeneratedValue(generator = "run_seq")
    @SequenceGenerator(name = "run_seq", sequenceName = "run_seq", allocationSize = 1)
    public Long id;
    /** {@code run}, {@code retry}, {@code undo}, {@code remove} or {@code dismiss}. */
    public String kind = RUN;
    /** The run that a retry or an undo is about. */
    @Column(name = "of_run")
    public Long ofRun;

    @Column(name = "undone_by")
    public Long undoneBy;
    /** Files about which the run had nothing new to say, as JSON; null where a later run of the job has its own. */
    @Lob
    public String carried;

    public String job;
    public String dataset;

    @Column(name = "job_version")
    public String jobVersion;

    @Column(name = "dataset_version")
    public String datasetVersion;

    @Enumerated(EnumType.STRING)
    public RunState state;

    /** What people call it; null where nobody does. */
    public String label;

    public boolean again;

    @Column(name = "queued_at")
    public Instant queuedAt;

    @Column(name = "started_at")
    public Instant startedAt;

    @Column(name = "ended_at")
    public Instant endedAt;

    @Enumerated(EnumType.STRING)
    @Column(name = "started_by")
    public By startedBy = By.CALL;

    /** The time by the clock for which it began. */
    @Column(name = "due_at")
    public Instant dueAt;

    /** Times by the clock that were missed, and for which it makes up. */
    public long missed;

    /** The run of another job after which it began. */
    @Column(name = "after_run")
    public long afterRun;

    /** How often it could not begin after the first time, for the same reason. */
    @Column(name = "again_failed")
    public long againFailed;

    public String failure;
    /** Counted from 1: a run after a fault that may pass is the next one. */
    public int attempt = 1;

    /** When it is, or was, tried again; null where it is not. */
    @Column(name = "again_at")
    public Instant againAt;

    /** The commit of the workspace's repository when it began; null where it lies in none. */
    @Column(name = "commit_id")
    public String commit;

    /** Paths of definitions that differed from the commit, separated by spaces. */
    public String uncommitted;

    /** A line each. */
    @Lob
    public String notes = "";
    /** As JSON. */
    @Lob
    @Column(name = "values_used")
    public String values = "[]";

    @Column(name = "files_found")
    public long filesFound;

    @Column(name = "files_loaded")
    public long filesLoaded;

    @Column(name = "files_replaced")
    public long filesReplaced;

    @Column(name = "files_unchanged")
    public long filesUnchanged;

    @Column(name = "files_rejected")
    public long filesRejected;

    @Column(name = "files_waiting")
    public long filesWaiting;

    @Column(name = "files_not_reached")
    public long filesNotReached;

    /** What these numbers count: {@code file}, {@code sheet}, {@code entry} or {@code source}. */
    public String noun = "file";

    @Column(name = "rows_read")
    public long rowsRead;

    @Column(name = "rows_loaded")
    public long rowsLoaded;

    @Column(name = "rows_aside")
    public long rowsAside;

    @Column(name = "rows_repeated")
    public long rowsRepeated;

    @Column(name = "rows_rejected")
    public long rowsRejected;

    @Column(name = "dataset_rows")
    public long datasetRows;

    @Column(name = "parts_rows")
    public long partsRows;

    public long parts;
}
