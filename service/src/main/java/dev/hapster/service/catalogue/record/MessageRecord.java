package dev.hapster.service.catalogue.record;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Lob;
import jakarta.persistence.Table;
import java.time.Instant;

/** A message to somebody, sent or to be sent. */
@Entity
@Table(name = "message")
public class MessageRecord {

    /** How far it is. */
    public enum State {
        WAITING,
        SENT,
        GIVEN_UP
    }

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    public Long id;

    /** By which whoever gets it twice knows it again. */
    public String uid;

    public String job;
    /** The word of an event. */
    public String event;

    @Column(name = "run_id")
    public Long run;

    public String account;
    /** An address, for mail; empty for others. */
    public String recipient = "";

    public String subject;

    @Lob
    public String body;
    /** The same as JSON. */
    @Lob
    public String content;

    public boolean digest;

    @Enumerated(EnumType.STRING)
    public State state = State.WAITING;

    @Column(name = "made_at")
    public Instant madeAt;
    /** When it is sent, at the earliest. */
    @Column(name = "next_at")
    public Instant nextAt;

    @Column(name = "ended_at")
    public Instant endedAt;

    public int tries;
    /** Why it could not be sent the last time. */
    public String failure;
}
