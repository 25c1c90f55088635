package dev.hapster.service.catalogue;

import dev.hapster.core.workspace.Workspace.Kind;
import dev.hapster.service.catalogue.transaction.Transactions;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.hibernate.Session;
import org.hibernate.query.MutationQuery;

/** Names of jobs and datasets in the catalogue, and how they change. Each change is one transaction. Thread-safe. */
@ApplicationScoped
public class Names {

    private static final List<String> OF_JOB = List.of(
            "update run set job = :to where job = :from and id <= :upTo",
            "update arrival set job = :to where job = :from and run_id <= :upTo",
            "update look set job = :to where job = :from and run_id <= :upTo",
            "delete from schedule where job = :to",
            "update schedule set job = :to where job = :from",
            "delete from told_arrival where job = :to",
            "update told_arrival set job = :to where job = :from",
            "update message set job = :to where job = :from",
            "update route set job = :to where job = :from and run_id <= :upTo",
            "delete from shared_header where job = :to", // of an earlier one, of which nothing else is known
            "update shared_header set job = :to where job = :from and not exists "
                    + "(select 1 from run where job = :from and id > :upTo)");

    private static final List<String> OF_DATASET = List.of(
            "update run set dataset = :to where dataset = :from and id <= :upTo",
            "update look set dataset = :to where dataset = :from and run_id <= :upTo",
            "delete from delivery where dataset = :to", // of an earlier one, of which nothing else is known
            "update delivery set dataset = :to where dataset = :from",
            "delete from product where dataset = :to",
            "update product set dataset = :to where dataset = :from",
            "update arrival set dataset = :to, part = case when part = '' then '' "
                    + "else :to || substring(part, char_length(:from) + 1) end "
                    + "where dataset = :from and run_id <= :upTo");

    /** The definitions that were run stay known under the old name, too: another one may get it. */
    private static final String DEFINITIONS =
            """
            insert into definition (id, kind, name, version, text, first_seen)
            select next value for record_seq, d.kind, :to, d.version, d.text, d.first_seen
            from definition d where d.kind = :kind and d.name = :from and not exists
            (select 1 from definition e where e.kind = :kind and e.name = :to and e.version = d.version)""";

    private final EntityManager entities;
    private final Transactions transactions;

    Names(EntityManager entities, Transactions transactions) {
        this.entities = entities;
        this.transactions = transactions;
    }

    /**
     * A job or dataset that gets another name.
     *
     * @param upTo number of the last entry of the history before that: what has a higher one belongs to another job or
     *     dataset, that got the old name since
     */
    public record Rename(Kind kind, String from, String to, long upTo, Instant at) {}

    /** How many renamings are made in the catalogue. */
    public int made() {
        return transactions.read(() ->
                ((Number) entities.createNativeQuery("select made from renamed").getSingleResult()).intValue());
    }

    /**
     * Makes one.
     *
     * @param number of it among all that the store has noted, from 1
     */
    public void make(Rename rename, int number) {
        transactions.change(() -> {
            for (String statement : rename.kind() == Kind.JOB ? OF_JOB : OF_DATASET) {
                run(statement, rename);
            }
            run(DEFINITIONS, rename);
            entities.unwrap(Session.class)
                    .createNativeMutationQuery("update renamed set made = :number")
                    .setParameter("number", number)
                    .executeUpdate();
        });
    }

    private void run(String statement, Rename rename) {
        MutationQuery query = entities.unwrap(Session.class).createNativeMutationQuery(statement);
        Map.of(
                        "from",
                        rename.from(),
                        "to",
                        rename.to(),
                        "upTo",
                        rename.upTo(),
                        "kind",
                        rename.kind().word())
                .forEach((name, value) -> {
                    if (statement.contains(":" + name)) {
                        query.setParameter(name, value);
                    }
                });
        query.executeUpdate();
    }

    /** Datasets into which a job has ever loaded. */
    public List<String> datasetsOf(String job) {
        return transactions.read(() -> entities.unwrap(Session.class)
                .createNativeQuery("select distinct dataset from arrival where job = :job", String.class)
                .setParameter("job", job)
                .getResultList());
    }

    /** How many contents of files are known of a job or a dataset, whether or not their rows count. */
    public long arrivals(Kind kind, String name) {
        return transactions.read(() -> entities.createQuery(
                        "select count(*) from ArrivalRecord where " + kind.word() + " = :name", Long.class)
                .setParameter("name", name)
                .getSingleResult());
    }

    /** How many entries of the history are about a job or a dataset. */
    public long runs(Kind kind, String name) {
        return transactions.read(() -> entities.createQuery(
                        "select count(*) from RunRecord where " + kind.word() + " = :name", Long.class)
                .setParameter("name", name)
                .getSingleResult());
    }
}
