package dev.hapster.service.records;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.Id;
import jakarta.persistence.SequenceGenerator;
import jakarta.persistence.Table;
import java.time.Instant;

/** A part of a dataset; it counts as long as {@code retiredBy} is empty. */
@Entity
@Table(name = "part")
class PartRecord {
    @Id
    @GeneratedValue(generator = "record_seq")
    @SequenceGenerator(name = "record_seq", sequenceName = "record_seq", allocationSize = 100)
    Long id;
    String name;
    String dataset;
    String job;
    String path;
    @Column(name = "rows_count")
    long rows;
    @Column(name = "run_id")
    long run;
    @Column(name = "dataset_version")
    String datasetVersion;
    @Column(name = "retired_by")
    Long retiredBy;
    @Column(name = "retired_at")
    Instant retiredAt;
}
