package dev.hapster.service.catalogue;

import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.catalogue.transaction.Transactions;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** When runs were. Thread-safe. */
@ApplicationScoped
public class RunTimes {

    private final EntityManager entities;
    private final Transactions transactions;

    RunTimes(EntityManager entities, Transactions transactions) {
        this.entities = entities;
        this.transactions = transactions;
    }

    /** When each run and retry of a job began, by its number; of one that never began, when it was asked for. */
    public Map<Long, Instant> began(String job) {
        return transactions.read(() -> {
            Map<Long, Instant> began = new HashMap<>();
            entities.createQuery(
                            "select id, coalesce(startedAt, queuedAt) from RunRecord where job = :job and kind in :kinds",
                            Object[].class)
                    .setParameter("job", job)
                    .setParameter("kinds", List.of(RunRecord.RUN, RunRecord.RETRY))
                    .getResultStream()
                    .forEach(run -> began.put((Long) run[0], (Instant) run[1]));
            return began;
        });
    }

    /**
     * By which it is told whether anything happened: the last entry of the history, and when one last ended.
     *
     * @param ended null where none has ended
     */
    public record Stamp(long entry, Instant ended) {}

    public Stamp stamp() {
        return transactions.read(() -> {
            Object[] last = entities.createQuery(
                            "select coalesce(max(id), 0), max(endedAt) from RunRecord", Object[].class)
                    .getSingleResult();
            return new Stamp((Long) last[0], (Instant) last[1]);
        });
    }
}
