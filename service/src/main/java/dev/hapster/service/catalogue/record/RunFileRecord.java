package dev.hapster.service.catalogue.record;

import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.definition.Handling.Routing;
import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.Id;
import jakarta.persistence.Lob;
import jakarta.persistence.SequenceGenerator;
import jakarta.persistence.Table;

/** What became of one file in one run. */
@Entity
@Table(name = "run_file")
public class RunFileRecord {
    @Id
    @GeneratedValue(generator = "record_seq")
    @SequenceGenerator(name = "record_seq", sequenceName = "record_seq", allocationSize = 100)
    public Long id;

    @Column(name = "run_id")
    public long run;

    public int ordinal;
    public int place;
    /** Identity of the file within the job; null in reports of versions that had none. */
    public String source;

    public String path;
    public String name;

    @Enumerated(EnumType.STRING)
    public Outcome outcome;

    @Column(name = "size_bytes")
    public long size;

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

    public String code;
    public String sentence;

    @Column(name = "since_run")
    public long sinceRun;

    public long millis;
    /** A line each. */
    @Lob
    public String notes = "";
    /** The file's columns, as JSON; null where nobody needs them. */
    @Lob
    public String header;
    /** What was done with the file, or is to be, in words. */
    public String routed;

    /** Null where nothing was done. */
    @Enumerated(EnumType.STRING)
    @Column(name = "routed_kind")
    public Routing.Kind routedKind;

    /** Where it was moved or copied. */
    @Column(name = "routed_to")
    public String routedTo;
}
