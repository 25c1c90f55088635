package dev.hapster.service.catalogue.record;

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
public class ProductRecord {
    @Id
    @GeneratedValue(generator = "record_seq")
    @SequenceGenerator(name = "record_seq", sequenceName = "record_seq", allocationSize = 100)
    public Long id;

    public String dataset;
    public String delivery;
    public String path;
    public boolean pending;

    @Column(name = "rows_count")
    public long rows;

    public long bytes;

    @Column(name = "modified_at")
    public Instant modified;

    public String checksum;
    public String content;
}
