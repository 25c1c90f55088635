package dev.hapster.service.catalogue;

import dev.hapster.core.catalogue.ReasonGroup;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.service.catalogue.record.ReasonRecord;
import dev.hapster.service.catalogue.record.RunFileRecord;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.catalogue.transaction.Transactions;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Why files and rows were rejected: by one run, and what is still open. Each method is one transaction. Thread-safe.
 */
@ApplicationScoped
public class StoredReasons {

    private final EntityManager entities;
    private final Transactions transactions;
    private final JsonTexts texts;

    StoredReasons(EntityManager entities, Transactions transactions, JsonTexts texts) {
        this.entities = entities;
        this.transactions = transactions;
        this.texts = texts;
    }

    /** A reason with the file it was found in and the job and dataset concerned. */
    public record Found(RunRecord run, RunFileRecord file, ReasonRecord reason) {}

    /** The reasons found by one run; rejected files have no {@code reason} but one of their own. */
    public List<Found> reasons(long run) {
        return transactions.read(() -> entities.createQuery(
                        """
                select new dev.hapster.service.catalogue.StoredReasons$Found(u, f, r)
                from RunRecord u join RunFileRecord f on f.run = u.id
                left join ReasonRecord r on r.runFile = f.id
                where u.id = :run and (r.id is not null or f.code is not null) order by f.ordinal, r.id""",
                        Found.class)
                .setParameter("run", run)
                .getResultList());
    }

    /** What is currently rejected over all jobs (or one): of each file what its last reading found. */
    public List<Found> openReasons(String job) {
        return transactions.read(() -> entities.createQuery(
                        """
                select u, f, r, case when l.rowRule like 'reject|%' then l.rowsMasked else -1L end
                from ArrivalRecord l join RunFileRecord f on f.id = l.runFile
                join RunRecord u on u.id = f.run left join ReasonRecord r on r.runFile = f.id
                where l.current = true and l.dismissed is null and (:job is null or l.job = :job)
                and (r.id is not null or f.code is not null)
                and (l.accepted = false or l.copyOf <> 0 or f.code is null) order by u.id, f.ordinal, r.id""",
                        Object[].class)
                .setParameter("job", job)
                .getResultStream()
                .map(one -> new Found(
                        (RunRecord) one[0], (RunFileRecord) one[1], repeatedNow((ReasonRecord) one[2], (Long) one[3])))
                .filter(found -> found.reason() == null || found.reason().rows > 0)
                .toList());
    }

    /** Rows that were rejected because of others: as many as there are of them now. */
    private ReasonRecord repeatedNow(ReasonRecord reason, long masked) {
        if (reason == null || masked < 0 || !reason.code.equals(ReasonCode.ROW_REPEATED.code())) {
            return reason;
        }
        ReasonRecord now = new ReasonRecord();
        now.id = reason.id;
        now.runFile = reason.runFile;
        now.code = reason.code;
        now.column = reason.column;
        now.rows = masked;
        now.samples = reason.samples;
        return now;
    }

    /** How much of a job's files is currently rejected: rows of files that were loaded, and files rejected whole. */
    public record OpenCount(String job, long rows, long files) {}

    /** The same by job, without the reasons. */
    public Map<String, OpenCount> openCounts() {
        return transactions.read(() -> {
            Map<String, OpenCount> counts = new HashMap<>();
            entities.createQuery(
                            """
                    select new dev.hapster.service.catalogue.StoredReasons$OpenCount(job,
                    sum(case when accepted = true
                    and copyOf = 0
                    then rowsRejected + case when rowRule like 'reject|%' then rowsMasked else 0 end else 0 end),
                    sum(case when accepted = false or copyOf <> 0 then 1L else 0L end))
                    from ArrivalRecord where current = true and dismissed is null group by job""",
                            OpenCount.class)
                    .getResultStream()
                    .forEach(count -> counts.put(count.job(), count));
            return counts;
        });
    }

    /** Samples of a reason as they were kept. */
    public List<ReasonGroup.Sample> samples(ReasonRecord reason) {
        return texts.list(reason.samples, ReasonGroup.Sample[].class, "The samples of reason " + reason.id);
    }
}
