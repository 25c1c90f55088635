package dev.hapster.service.catalogue;

import dev.hapster.core.deliver.DeliveryLog;
import dev.hapster.core.deliver.Product;
import dev.hapster.service.catalogue.record.DeliveryRecord;
import dev.hapster.service.catalogue.record.DeliveryRecord.State;
import dev.hapster.service.catalogue.record.ProductRecord;
import dev.hapster.service.catalogue.transaction.Transactions;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/** Deliveries in the catalogue: their history, and the files that they wrote. Thread-safe. */
@ApplicationScoped
public class StoredDeliveries implements DeliveryLog {

    private final EntityManager entities;
    private final Transactions transactions;
    private final Arrivals paths;
    private final Clock clock;

    StoredDeliveries(EntityManager entities, Transactions transactions, Arrivals paths, Clock clock) {
        this.entities = entities;
        this.transactions = transactions;
        this.paths = paths;
        this.clock = clock;
    }

    @Override
    public Map<Path, List<Product>> products(String dataset, String delivery) {
        return transactions.read(() -> {
            Map<Path, List<Product>> products = new HashMap<>();
            entities.createQuery(
                            "from ProductRecord where dataset = :dataset and delivery = :delivery order by id",
                            ProductRecord.class)
                    .setParameter("dataset", dataset)
                    .setParameter("delivery", delivery)
                    .getResultStream()
                    .forEach(record -> {
                        Path path = paths.resolve(record.path);
                        products.computeIfAbsent(path, fresh -> new ArrayList<>())
                                .add(new Product(
                                        path,
                                        record.rows,
                                        record.bytes,
                                        record.modified,
                                        record.checksum,
                                        record.content));
                    });
            return products;
        });
    }

    @Override
    public void intend(String dataset, String delivery, Collection<Product> products) {
        transactions.change(() -> {
            drop(dataset, delivery, products.stream().map(Product::path).toList(), true);
            products.forEach(product -> entities.persist(record(dataset, delivery, product, true)));
        });
    }

    @Override
    public void named(String dataset, String delivery, Collection<Product> products) {
        transactions.change(() -> {
            entities.createQuery("delete from ProductRecord where dataset = :dataset and path in :paths")
                    .setParameter("dataset", dataset)
                    .setParameter(
                            "paths",
                            products.stream()
                                    .map(product -> paths.inWorkspace(product.path()))
                                    .toList())
                    .executeUpdate();
            products.forEach(product -> entities.persist(record(dataset, delivery, product, false)));
        });
    }

    @Override
    public void forget(String dataset, String delivery, Collection<Path> gone) {
        transactions.change(() -> drop(dataset, delivery, gone, false));
    }

    private void drop(String dataset, String delivery, Collection<Path> some, boolean pendingOnly) {
        if (some.isEmpty()) {
            return;
        }
        entities.createQuery("delete from ProductRecord where dataset = :dataset and delivery = :delivery and path in "
                        + ":paths and (pending = true or :all = true)")
                .setParameter("dataset", dataset)
                .setParameter("delivery", delivery)
                .setParameter("paths", some.stream().map(paths::inWorkspace).toList())
                .setParameter("all", !pendingOnly)
                .executeUpdate();
    }

    private ProductRecord record(String dataset, String delivery, Product product, boolean pending) {
        ProductRecord record = new ProductRecord();
        record.dataset = dataset;
        record.delivery = delivery;
        record.path = paths.inWorkspace(product.path());
        record.pending = pending;
        record.rows = product.rows();
        record.bytes = product.bytes();
        record.modified = product.modified();
        record.checksum = product.checksum();
        record.content = product.content();
        return record;
    }

    /** Path of a file as it is kept and shown: relative to the workspace where it lies below it. */
    public String shown(Path path) {
        return paths.inWorkspace(path);
    }

    /** Names of the deliveries of which files are known. */
    public List<String> withFiles(String dataset) {
        return transactions.read(() -> entities.createQuery(
                        "select distinct delivery from ProductRecord where dataset = :dataset order by delivery",
                        String.class)
                .setParameter("dataset", dataset)
                .getResultList());
    }

    /** Enters a delivery that somebody calls for. */
    public long queue(String dataset, String name) {
        return transactions.change(() -> {
            DeliveryRecord record = fresh(dataset, name);
            record.state = State.QUEUED;
            entities.persist(record);
            return record.id;
        });
    }

    private DeliveryRecord fresh(String dataset, String name) {
        DeliveryRecord record = new DeliveryRecord();
        record.dataset = dataset;
        record.name = name;
        record.queuedAt = clock.instant();
        return record;
    }

    /** Enters how a delivery ended that somebody called for. */
    public void ended(long id, State state, Consumer<DeliveryRecord> what) {
        transactions.change(() -> end(entities.find(DeliveryRecord.class, id), state, what));
    }

    /**
     * Enters how a delivery ended that was done by itself.
     *
     * @param run the entry of the history after which; null at a start
     */
    public void ended(String dataset, String name, Long run, State state, Consumer<DeliveryRecord> what) {
        transactions.change(() -> {
            DeliveryRecord record = fresh(dataset, name);
            record.run = run;
            end(record, state, what);
            entities.persist(record);
        });
    }

    private void end(DeliveryRecord record, State state, Consumer<DeliveryRecord> what) {
        what.accept(record);
        record.failure = record.failure == null ? null : Arrivals.shorten(record.failure);
        record.state = state;
        record.endedAt = clock.instant();
    }

    public Optional<DeliveryRecord> delivery(long id) {
        return transactions.read(() -> Optional.ofNullable(entities.find(DeliveryRecord.class, id)));
    }

    /** The latest times that a delivery was done, newest first. */
    public List<DeliveryRecord> latest(String dataset, String name, int limit) {
        return transactions.read(() -> entities.createQuery(
                        "from DeliveryRecord where dataset = :dataset and name = :name order by id desc",
                        DeliveryRecord.class)
                .setParameter("dataset", dataset)
                .setParameter("name", name)
                .setMaxResults(limit)
                .getResultList());
    }

    /** Closes those that were cut off. */
    public int breakOff(String why) {
        return transactions.change(() -> entities.createQuery(
                        "update DeliveryRecord set state = FAILED, failure = :why, endedAt = :now where state = QUEUED")
                .setParameter("why", why)
                .setParameter("now", clock.instant())
                .executeUpdate());
    }

    /** Forgets what was done long ago; the latest time of each delivery stays. */
    public void forget(String dataset, String name, Instant before) {
        transactions.change(() -> entities.createQuery(
                        """
                delete from DeliveryRecord where dataset = :dataset and name = :name and endedAt < :before
                and id < (select max(d.id) from DeliveryRecord d where d.dataset = :dataset and d.name = :name)""")
                .setParameter("dataset", dataset)
                .setParameter("name", name)
                .setParameter("before", before)
                .executeUpdate());
    }
}
