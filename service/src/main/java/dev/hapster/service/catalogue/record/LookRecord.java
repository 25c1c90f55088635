package dev.hapster.service.catalogue.record;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Lob;
import jakarta.persistence.Table;

/** A complete look into a job's folders. */
@Entity
@Table(name = "look")
public class LookRecord {
    @Id
    @Column(name = "run_id")
    public long run;

    public String job;
    public String dataset;
    /** A line each. */
    @Lob
    public String slots;
}
