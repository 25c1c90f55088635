package dev.hapster.service.catalogue;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.Id;
import jakarta.persistence.SequenceGenerator;
import jakarta.persistence.Table;
import java.time.Instant;

/** A file of a delivery. Paths below the workspace are kept relative to it. */
@Entity
@Table(name = "product")
class ProductRecord {
    @Id
    @GeneratedValue(generator = "record_seq")
    @SequenceGenerator(name = "record_seq", sequenceName = "record_seq", allocationSize = 100)
    Long id;

    String dataset;
    String delivery;
    String path;
    boolean pending;

    @Column(name = "rows_count")
    long rows;

    long bytes;

    @Column(name = "modified_at")
    Instant modified;

    String checksum;
    String content;
}
