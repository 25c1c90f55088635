package dev.hapster.service.catalogue;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Lob;
import jakarta.persistence.Table;

/** A complete look into a job's folders. */
@Entity
@Table(name = "look")
class LookRecord {
    @Id
    @Column(name = "run_id")
    long run;

    String job;
    String dataset;
    /** A line each. */
    @Lob
    String slots;
}
