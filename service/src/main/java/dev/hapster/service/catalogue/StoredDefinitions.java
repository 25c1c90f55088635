package dev.hapster.service.catalogue;

import dev.hapster.core.workspace.Workspace.Kind;
import dev.hapster.service.catalogue.record.DefinitionRecord;
import dev.hapster.service.catalogue.transaction.Transactions;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.util.Optional;

/** Every version of a job or dataset file that was ever run, as it was written. Thread-safe. */
@ApplicationScoped
public class StoredDefinitions {

    private final EntityManager entities;
    private final Transactions transactions;
    private final Clock clock;

    StoredDefinitions(EntityManager entities, Transactions transactions, Clock clock) {
        this.entities = entities;
        this.transactions = transactions;
        this.clock = clock;
    }

    /** What a version says; empty where it was never run. */
    public Optional<String> text(Kind kind, String name, String version) {
        return transactions.read(() -> entities.createQuery(
                        "select text from DefinitionRecord where kind = :kind and name = :name and version = :version",
                        String.class)
                .setParameter("kind", kind.word())
                .setParameter("name", name)
                .setParameter("version", version)
                .getResultStream()
                .findFirst());
    }

    /** Keeps a version that is about to be run, within the change that says so. */
    void keep(Kind kind, String name, String version, String text) {
        boolean known = entities.createQuery(
                                "select count(*) from DefinitionRecord where kind = :kind and name = :name and "
                                        + "version = :version",
                                Long.class)
                        .setParameter("kind", kind.word())
                        .setParameter("name", name)
                        .setParameter("version", version)
                        .getSingleResult()
                > 0;
        if (!known) {
            DefinitionRecord definition = new DefinitionRecord();
            definition.kind = kind.word();
            definition.name = name;
            definition.version = version;
            definition.text = text;
            definition.firstSeen = clock.instant();
            entities.persist(definition);
        }
    }
}
