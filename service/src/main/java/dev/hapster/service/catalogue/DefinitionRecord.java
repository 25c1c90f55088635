package dev.hapster.service.catalogue;

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
class DefinitionRecord {
    @Id
    @GeneratedValue(generator = "record_seq")
    @SequenceGenerator(name = "record_seq", sequenceName = "record_seq", allocationSize = 100)
    Long id;

    /** {@code job} or {@code dataset}. */
    String kind;

    String name;
    String version;

    @Lob
    String text;

    @Column(name = "first_seen")
    Instant firstSeen;
}
