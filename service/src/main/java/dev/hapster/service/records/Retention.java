package dev.hapster.service.records;

import io.quarkus.narayana.jta.QuarkusTransaction;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.time.Instant;
import java.util.List;

/** Forgets what no longer counts once its time is over, so that the catalogue does not grow with the number of runs. Thread-safe. */
@ApplicationScoped
public class Retention {

    private final EntityManager entities;
    private final Durable durable;

    Retention(EntityManager entities, Durable durable) {
        this.durable = durable;
        this.entities = entities;
    }

    /** Forgets the parts of a dataset that were retired before a moment; their files may go then. */
    public List<String> forgetParts(String dataset, Instant moment) {
        return durable.call(() -> {
            List<String> names = entities.createQuery("select name from PartRecord where dataset = :dataset and retiredAt < :moment", String.class)
                    .setParameter("dataset", dataset).setParameter("moment", moment).getResultList();
            if (!names.isEmpty()) {
                entities.createQuery("delete from PartRecord where dataset = :dataset and retiredAt < :moment").setParameter("dataset", dataset).setParameter("moment", moment).executeUpdate();
            }
            return names;
        });
    }

    /** Datasets of which anything is known. */
    public List<String> datasets() {
        return QuarkusTransaction.requiringNew().call(() -> entities.createQuery("select distinct dataset from PartRecord", String.class).getResultList());
    }

    private static final String NOT_NEEDED = """
            select f.id from RunFileRecord f join RunRecord r on r.id = f.run where r.job = :job and r.endedAt < :moment and r.id < :latest
            and not exists (select 1 from LedgerRecord l where l.runFile = f.id)""";

    /**
     * Forgets what runs of a job did that ended before a moment: of each file, where the ledger no longer refers to it; and the run itself, where nothing does.
     *
     * @return runs that are gone altogether
     */
    public List<Long> forgetRuns(String job, Instant moment) {
        return durable.call(() -> {
            Long latest = entities.createQuery("select max(id) from RunRecord where job = :job", Long.class).setParameter("job", job).getSingleResult();
            if (latest == null) {
                return List.of();
            }
            List<Long> files = entities.createQuery(NOT_NEEDED, Long.class).setParameter("job", job).setParameter("moment", moment).setParameter("latest", latest).getResultList();
            if (!files.isEmpty()) {
                entities.createQuery("delete from ReasonRecord where runFile in :files").setParameter("files", files).executeUpdate();
                entities.createQuery("delete from RunFileRecord where id in :files").setParameter("files", files).executeUpdate();
            }
            List<Long> runs = entities.createQuery("""
                    select r.id from RunRecord r where r.job = :job and r.endedAt < :moment and r.id < :latest
                    and not exists (select 1 from RunFileRecord f where f.run = r.id) and not exists (select 1 from PartRecord p where p.run = r.id)
                    and not exists (select 1 from LedgerRecord l where l.run = r.id) and not exists (select 1 from RouteRecord t where t.run = r.id)""", Long.class)
                    .setParameter("job", job).setParameter("moment", moment).setParameter("latest", latest).getResultList();
            if (!runs.isEmpty()) {
                entities.createQuery("delete from RunRecord where id in :runs").setParameter("runs", runs).executeUpdate();
            }
            return runs;
        });
    }
}
