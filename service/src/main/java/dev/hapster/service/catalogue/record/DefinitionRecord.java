package dev.hapster.service.catalogue.record;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.Id;
import jakarta.persistence.Lob;
import jakarta.persistence.SequenceGenerator;
import jakarta.persistence.Table;
import java.time.Instant;

/** A version of a job or dataset file that was run. */
@Entity
@Table(name = "definition")
public class DefinitionRecord {
    @Id
    @GeneratedValue(generator = "record_seq")
    @SequenceGenerator(name = "record_seq", sequenceName = "record_seq", allocationSize = 100)
    public Long id;

    /** {@code job} or {@code dataset}. */
    public String kind;

    public String name;
    public String version;

    @Lob
    public String text;

    @Column(name = "first_seen")
    public Instant firstSeen;
}
