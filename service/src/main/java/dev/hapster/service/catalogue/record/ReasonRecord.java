package dev.hapster.service.catalogue.record;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.Id;
import jakarta.persistence.Lob;
import jakarta.persistence.SequenceGenerator;
import jakarta.persistence.Table;

/** Rejected rows of one file that share reason and column. */
@Entity
@Table(name = "reason")
public class ReasonRecord {
    @Id
    @GeneratedValue(generator = "record_seq")
    @SequenceGenerator(name = "record_seq", sequenceName = "record_seq", allocationSize = 100)
    public Long id;

    @Column(name = "run_file_id")
    public long runFile;

    public String code;

    @Column(name = "column_name")
    public String column;

    @Column(name = "rows_count")
    public long rows;
    /** JSON: a list of {@code {line, value, sentence}}. */
    @Lob
    public String samples;
}
