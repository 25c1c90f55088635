package dev.hapster.service.records;

import dev.hapster.core.run.Outcome;
import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.Id;
import jakarta.persistence.SequenceGenerator;
import jakarta.persistence.Table;
import java.time.Instant;

/** A file that a job has dealt with, as it was last. */
@Entity
@Table(name = "ledger")
class LedgerRecord {
    @Id
    @GeneratedValue(generator = "record_seq")
    @SequenceGenerator(name = "record_seq", sequenceName = "record_seq", allocationSize = 100)
    Long id;
    String job;
    String path;
    /** The file itself, where {@code path} is a place inside it. */
    String file;
    int place;
    /** Where the file lies now, where a run took it elsewhere. */
    @Column(name = "moved_to")
    String movedTo;
    @Column(name = "size_bytes")
    long size;
    @Column(name = "modified_at")
    Instant modified;
    @Column(name = "changed_at")
    Instant changed;
    String hash;
    @Column(name = "read_at")
    Instant readAt;
    @Enumerated(EnumType.STRING)
    Outcome outcome;
    String rules;
    @Column(name = "run_id")
    long run;
    /** The result by which the file stands as it does. */
    @Column(name = "run_file_id")
    long runFile;
    @Column(name = "part_id")
    Long part;
    @Column(name = "rows_rejected")
    long rowsRejected;
    String code;
    String sentence;
}
