package dev.hapster.service.catalogue;

import dev.hapster.core.run.load.RunState;
import dev.hapster.service.catalogue.record.MessageRecord;
import dev.hapster.service.catalogue.record.MessageRecord.State;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.catalogue.transaction.Transactions;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.hibernate.Session;

/** Messages in the catalogue, and of what messages were made. Thread-safe. */
@ApplicationScoped
public class StoredMessages {

    private static final int AT_ONCE = 100;

    private final EntityManager entities;
    private final Transactions transactions;

    StoredMessages(EntityManager entities, Transactions transactions) {
        this.entities = entities;
        this.transactions = transactions;
    }

    /** Runs that have ended and were not told of, the oldest first; at most 100. */
    public List<RunRecord> untold() {
        return transactions.read(() -> entities.unwrap(Session.class)
                .createNativeQuery(
                        "select * from run where told = false and ended_at is not null order by ended_at, id",
                        RunRecord.class)
                .setMaxResults(AT_ONCE)
                .getResultList());
    }

    /** The last run or retry of the same job that ended before another one. */
    public Optional<RunRecord> before(RunRecord run) {
        return transactions.read(() -> entities.createQuery(
                        "from RunRecord where job = :job and kind in :kinds and id <> :id and endedAt <= :ended and id < "
                                + ":id and againAt is null order by endedAt desc, id desc",
                        RunRecord.class)
                .setParameter("job", run.job)
                .setParameter("kinds", List.of(RunRecord.RUN, RunRecord.RETRY))
                .setParameter("id", run.id)
                .setParameter("ended", run.endedAt)
                .setMaxResults(1)
                .getResultStream()
                .findFirst());
    }

    /** Whether a run ended without having done what it should. */
    public static boolean isFailed(RunRecord run) {
        return run.state == RunState.FAILED || run.state == RunState.STOPPED;
    }

    /** Enters messages about a run, and that it was told of: both or nothing. */
    public void tell(long run, List<MessageRecord> messages) {
        transactions.change(() -> {
            messages.forEach(entities::persist);
            entities.createNativeQuery("update run set told = true where id = :run")
                    .setParameter("run", run)
                    .executeUpdate();
        });
    }

    /**
     * A cell of an arrival calendar that is told of.
     *
     * @param period by its name
     * @param event the word of the event
     */
    public record Cell(String job, String source, String period, String event) {}

    /** The cells of a job of which messages were made. */
    public Set<Cell> told(String job) {
        return transactions.read(() -> {
            Set<Cell> told = new HashSet<>();
            entities.unwrap(Session.class)
                    .createNativeQuery(
                            "select source, period, event from told_arrival where job = :job", Object[].class)
                    .setParameter("job", job)
                    .getResultStream()
                    .forEach(row -> told.add(new Cell(job, (String) row[0], (String) row[1], (String) row[2])));
            return told;
        });
    }

    /**
     * Enters messages about what arrived or did not, and of which cells of a job somebody has been told by now: both or
     * nothing. A cell that is not among them any more is told of again when it comes back.
     */
    public void tell(String job, Collection<Cell> cells, List<MessageRecord> messages) {
        transactions.change(() -> {
            messages.forEach(entities::persist);
            drop(job);
            cells.forEach(cell -> entities.createNativeQuery(
                            "insert into told_arrival (job, source, period, event) values (:job, :source, :period, :event)")
                    .setParameter("job", job)
                    .setParameter("source", cell.source())
                    .setParameter("period", cell.period())
                    .setParameter("event", cell.event())
                    .executeUpdate());
        });
    }

    private void drop(String job) {
        entities.createNativeQuery("delete from told_arrival where job = :job")
                .setParameter("job", job)
                .executeUpdate();
    }

    /** A job is no more: another one may get its name. */
    public void forget(String job) {
        transactions.change(() -> drop(job));
    }

    /** Enters a message by itself. */
    public MessageRecord enter(MessageRecord message) {
        return transactions.change(() -> {
            entities.persist(message);
            return message;
        });
    }

    /**
     * Messages that are to be sent by now, trials first, then the oldest; at most 100.
     *
     * @param except accounts of which none are wanted
     */
    public List<MessageRecord> due(Instant now, Set<String> except) {
        List<String> busy = new ArrayList<>(except);
        busy.add(""); // no account is called so
        return transactions.read(() -> entities.createQuery(
                        "from MessageRecord where state = WAITING and nextAt <= :now and account not in :busy order by "
                                + "case when event = 'trial' then 0 else 1 end, id",
                        MessageRecord.class)
                .setParameter("now", now)
                .setParameter("busy", busy)
                .setMaxResults(AT_ONCE)
                .getResultList());
    }

    /**
     * Enters what became of messages.
     *
     * @param next when they are tried again; empty where they are not
     * @param failure why they could not be sent; empty where they were
     */
    public void tried(List<Long> ids, Instant now, Optional<Instant> next, Optional<String> failure) {
        transactions.change(() -> {
            for (Long id : ids) {
                MessageRecord message = entities.find(MessageRecord.class, id);
                message.tries++;
                message.failure = failure.map(Arrivals::shorten).orElse(null);
                if (failure.isEmpty()) {
                    message.state = State.SENT;
                    message.endedAt = now;
                } else if (next.isPresent()) {
                    message.nextAt = next.get();
                } else {
                    message.state = State.GIVEN_UP;
                    message.endedAt = now;
                }
            }
        });
    }

    /** Has all messages by an account wait, but for trials: somebody waits for these. */
    public void postpone(String account, Instant until) {
        transactions.change(() -> {
            entities.createQuery(
                            "update MessageRecord set nextAt = :until where state = WAITING and account = :account and "
                                    + "nextAt < :until and event <> 'trial'")
                    .setParameter("account", account)
                    .setParameter("until", until)
                    .executeUpdate();
        });
    }

    /** Messages that could not be sent, and wait for being tried again or were given up. */
    public List<MessageRecord> failing() {
        return transactions.read(() -> entities.createQuery(
                        "from MessageRecord where (state = WAITING and failure is not null) or state = GIVEN_UP order by "
                                + "id",
                        MessageRecord.class)
                .setMaxResults(AT_ONCE)
                .getResultList());
    }

    /** The latest messages, newest first. */
    public List<MessageRecord> latest(String job, int limit) {
        return transactions.read(() -> entities.createQuery(
                        "from MessageRecord where :job is null or job = :job order by id desc", MessageRecord.class)
                .setParameter("job", job)
                .setMaxResults(limit)
                .getResultList());
    }

    public Optional<MessageRecord> message(long id) {
        return transactions.read(() -> Optional.ofNullable(entities.find(MessageRecord.class, id)));
    }

    /** Has messages that were given up sent once more. */
    public int again(Instant now) {
        return transactions.change(() -> entities.createQuery(
                        "update MessageRecord set state = WAITING, nextAt = :now, madeAt = :now, endedAt = null where "
                                + "state = GIVEN_UP and event <> 'trial'")
                .setParameter("now", now)
                .executeUpdate());
    }

    /** Lets go of messages that were sent, and of those that were given up, before moments. */
    public void sweep(Instant sent, Instant givenUp) {
        transactions.change(() -> {
            entities.createQuery(
                            "delete from MessageRecord where (state = SENT and endedAt < :sent) or (state = GIVEN_UP "
                                    + "and endedAt < :givenUp)")
                    .setParameter("sent", sent)
                    .setParameter("givenUp", givenUp)
                    .executeUpdate();
        });
    }
}
