package dev.hapster.service.catalogue;

import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.catalogue.transaction.Kept;
import dev.hapster.service.catalogue.transaction.Transactions;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.hibernate.Session;

/**
 * Forgets what no longer counts once its time is over, so that the catalogue does not grow with the number of runs. Of
 * an arrival first the rows go, and it is remembered that they are gone; the arrival itself goes only once nothing can
 * be taken back any more that would need it. Thread-safe.
 */
@ApplicationScoped
public class Retention {

    private final EntityManager entities;
    private final Transactions transactions;
    /** Since when the first arrival of a dataset that has rows, or of a job that has none, has had no part in it. */
    private final Kept<Optional<Instant>> idle;

    Retention(EntityManager entities, Transactions transactions) {
        this.transactions = transactions;
        this.entities = entities;
        idle = new Kept<>(transactions, "arrival", since -> 0);
    }

    private boolean isIdleBefore(Instant moment, String which, String name) {
        return idle.get(
                        which + name,
                        () -> Optional.ofNullable(entities.createQuery(
                                        "select min(idleSince) from ArrivalRecord where " + which + ":name",
                                        Instant.class)
                                .setParameter("name", name)
                                .getSingleResult()))
                .filter(moment::isAfter)
                .isPresent();
    }

    /**
     * Lets go of the rows of those arrivals of a dataset that have had no part in it since before a moment; the files
     * of their parts may go then.
     */
    public List<String> forgetParts(String dataset, Instant moment) {
        if (!isIdleBefore(moment, "part <> '' and dataset = ", dataset)) {
            return List.of();
        }
        List<String> names = transactions.read(() -> entities.unwrap(Session.class)
                .createNativeQuery(
                        "select part from arrival where dataset = :dataset and idle_since < :moment and part <> ''",
                        String.class)
                .setParameter("dataset", dataset)
                .setParameter("moment", moment)
                .getResultList());
        if (!names.isEmpty()) {
            transactions.change(() -> entities.createQuery(
                            "update ArrivalRecord set sweptAt = :last, part = '' where dataset = :dataset and "
                                    + "idleSince < :moment")
                    .setParameter(
                            "last",
                            entities.createQuery("select coalesce(max(id), 0) from RunRecord", Long.class)
                                    .getSingleResult())
                    .setParameter("dataset", dataset)
                    .setParameter("moment", moment)
                    .executeUpdate());
        }
        return names;
    }

    private static final String NOT_NEEDED =
            """
            select f.id from RunFileRecord f join RunRecord r on r.id = f.run where r.job = :job
            and r.endedAt < :moment and r.id < :latest
            and not exists (select 1 from ArrivalRecord l where l.runFile = f.id)""";

    /**
     * Forgets what runs of a job did that ended before a moment: arrivals that have had no part in the dataset since
     * before that, reports of files to which nothing refers, and the run itself, where nothing is left of it.
     *
     * @return runs that are gone altogether
     */
    public List<Long> forgetRuns(String job, Instant moment) {
        boolean arrivals = isIdleBefore(moment, "part = '' and stands = false and current = false and job = ", job);
        boolean none = transactions
                .read(() -> entities.createQuery(
                                "from RunRecord where job = :job and endedAt < :moment", RunRecord.class)
                        .setParameter("job", job)
                        .setParameter("moment", moment)
                        .setMaxResults(1)
                        .getResultList())
                .isEmpty();
        if (!arrivals && none) {
            return List.of();
        }
        return forget(job, moment, arrivals);
    }

    private List<Long> forget(String job, Instant moment, boolean arrivals) {
        return transactions.change(() -> {
            Long latest = entities.createQuery("select max(id) from RunRecord where job = :job", Long.class)
                    .setParameter("job", job)
                    .getSingleResult();
            if (latest == null) {
                return List.of();
            }
            Session session = entities.unwrap(Session.class);
            if (arrivals) { // a deletion that finds none lets go of what is kept, too
                entities.createQuery("delete from ArrivalRecord where job = :job and idleSince < :moment and part = '' "
                                + "and stands = false and current = false")
                        .setParameter("job", job)
                        .setParameter("moment", moment)
                        .executeUpdate();
            }
            // A look that let nothing go that is still known, and that a later one followed, says nothing any more.
            session.createNativeMutationQuery(
                            """
                    delete from look l where l.job = :job and exists (select 1
                    from run r where r.id = l.run_id and r.ended_at < :moment) and exists (select 1
                    from look m where m.job = :job and m.run_id > l.run_id)
                    and not exists (select 1 from arrival a where a.job = :job and a.run_id <= l.run_id
                    and a.accepted and not a.stands)""")
                    .setParameter("job", job)
                    .setParameter("moment", moment)
                    .executeUpdate();
            List<Long> files = entities.createQuery(NOT_NEEDED, Long.class)
                    .setParameter("job", job)
                    .setParameter("moment", moment)
                    .setParameter("latest", latest)
                    .getResultList();
            if (!files.isEmpty()) {
                entities.createQuery("delete from ReasonRecord where runFile in :files")
                        .setParameter("files", files)
                        .executeUpdate();
                entities.createQuery("delete from RunFileRecord where id in :files")
                        .setParameter("files", files)
                        .executeUpdate();
            }
            List<Long> runs = session.createNativeQuery(
                            """
                    select r.id from run r where r.job = :job and r.ended_at < :moment and r.id < :latest
                    and not exists (select 1 from run_file f where f.run_id = r.id)
                    and not exists (select 1 from arrival a where a.run_id = r.id)
                    and not exists (select 1 from look l where l.run_id = r.id) and not exists (select 1
                    from route t where t.run_id = r.id)
                    and not exists (select 1 from removal m join arrival a on a.id = m.arrival_id where m.run_id = r.id)
                    and not exists (select 1
                    from dismissal d join arrival a on a.id = d.arrival_id where d.run_id = r.id)
                    and not exists (select 1 from run u where u.id = r.of_run and r.kind = 'undo')
                    and not exists (select 1 from run v where v.of_run = r.id and v.kind = 'undo')""",
                            Long.class)
                    .setParameter("job", job)
                    .setParameter("moment", moment)
                    .setParameter("latest", latest)
                    .getResultList();
            if (!runs.isEmpty()) {
                session.createNativeMutationQuery("delete from removal where run_id in :runs")
                        .setParameter("runs", runs)
                        .executeUpdate();
                session.createNativeMutationQuery("delete from dismissal where run_id in :runs")
                        .setParameter("runs", runs)
                        .executeUpdate();
                entities.createQuery("delete from RunRecord where id in :runs")
                        .setParameter("runs", runs)
                        .executeUpdate();
            }
            return runs;
        });
    }
}
