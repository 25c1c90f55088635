package dev.hapster.service.catalogue;

import dev.hapster.core.run.load.RunState;
import dev.hapster.core.schedule.Progress;
import dev.hapster.core.schedule.Progress.Pause;
import dev.hapster.core.schedule.Start.By;
import dev.hapster.core.schedule.Timetable;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.catalogue.record.ScheduleRecord;
import dev.hapster.service.catalogue.transaction.Transactions;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.hibernate.Session;

/** How far schedules have been followed, in the catalogue. Thread-safe. */
@ApplicationScoped
public class StoredSchedules implements Timetable.Log {

    private final EntityManager entities;
    private final Transactions transactions;

    StoredSchedules(EntityManager entities, Transactions transactions) {
        this.entities = entities;
        this.transactions = transactions;
    }

    @Override
    public Map<String, Progress> all() {
        return transactions.read(() -> {
            Map<String, Progress> all = new HashMap<>();
            entities.unwrap(Session.class) // asked at each start: in SQL, which is quicker then
                    .createNativeQuery("select * from schedule", ScheduleRecord.class)
                    .getResultStream()
                    .forEach(record -> all.put(record.job, progress(record)));
            return all;
        });
    }

    private static Progress progress(ScheduleRecord record) {
        return new Progress(
                record.declared,
                record.handledAt,
                record.afterRun,
                Optional.ofNullable(record.pausedAt)
                        .map(since -> new Pause(since, Optional.ofNullable(record.pausedUntil), record.pausedBecause)));
    }

    @Override
    public void keep(String job, Progress progress) {
        transactions.change(() -> enter(job, progress));
    }

    @Override
    public void forget(String job) {
        transactions.change(() -> {
            entities.createQuery("delete from ScheduleRecord where job = :job")
                    .setParameter("job", job)
                    .executeUpdate();
        });
    }

    /** The same within a transaction that has begun. */
    void enter(String job, Progress progress) {
        ScheduleRecord record = entities.find(ScheduleRecord.class, job);
        if (record == null) {
            record = new ScheduleRecord();
            record.job = job;
            set(record, progress);
            entities.persist(record);
        } else {
            set(record, progress);
        }
    }

    private static void set(ScheduleRecord record, Progress progress) {
        record.declared = progress.when();
        record.handledAt = progress.handled();
        record.afterRun = progress.afterRun();
        record.pausedAt = progress.pause().map(Pause::since).orElse(null);
        record.pausedUntil = progress.pause().flatMap(Pause::until).orElse(null);
        record.pausedBecause = progress.pause().map(Pause::because).orElse(null);
    }

    /** A run that began by itself was cut off: what it was started for is still to be done. */
    public void takeBack(RunRecord run) {
        if (run.startedBy != By.TIME && run.startedBy != By.AFTER) {
            return;
        }
        transactions.change(() -> {
            ScheduleRecord record = entities.find(ScheduleRecord.class, run.job);
            if (record != null && run.startedBy == By.AFTER) {
                record.afterRun = Math.min(record.afterRun, run.afterRun - 1);
            } else if (record != null && run.dueAt.isBefore(record.handledAt)) {
                record.handledAt = run.dueAt.minusMillis(1);
            }
        });
    }

    /** The last run of one of these jobs that is finished; 0 where there is none. */
    public long lastFinished(Set<String> jobs) {
        return transactions.read(() -> entities.createQuery(
                        "select coalesce(max(id), 0) from RunRecord where job in :jobs and state = :finished and kind in "
                                + ":kinds",
                        Long.class)
                .setParameter("jobs", jobs)
                .setParameter("finished", RunState.FINISHED)
                .setParameter("kinds", List.of(RunRecord.RUN, RunRecord.RETRY))
                .getSingleResult());
    }
}
