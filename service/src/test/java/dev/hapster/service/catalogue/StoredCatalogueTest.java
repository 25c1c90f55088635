package dev.hapster.service.catalogue;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.catalogue.CatalogueContract;
import dev.hapster.core.catalogue.CatalogueException;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.TestWorkspace;
import dev.hapster.service.catalogue.transaction.FileFault;
import dev.hapster.service.catalogue.transaction.Kept;
import dev.hapster.service.catalogue.transaction.Transactions;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import jakarta.inject.Inject;
import jakarta.persistence.EntityManager;
import jakarta.transaction.Synchronization;
import jakarta.transaction.TransactionSynchronizationRegistry;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.concurrent.Callable;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.atomic.AtomicInteger;
import javax.sql.DataSource;
import org.h2.api.ErrorCode;
import org.junit.jupiter.api.Test;

/** The service's catalogue, in a database on disk as it is when the service runs, keeps the contract. */
@QuarkusTest
@QuarkusTestResource(TestWorkspace.class)
class StoredCatalogueTest extends CatalogueContract {

    @Inject
    StoredCatalogue catalogue;

    @Inject
    StoredRuns runs;

    @Inject
    Workspace workspace;

    @Inject
    Transactions transactions;

    @Inject
    DataSource source;

    @Inject
    EntityManager entities;

    @Inject
    TransactionSynchronizationRegistry current;

    @Override
    protected Catalogue catalogue() {
        return catalogue;
    }

    @Override
    protected long run(JobDef of, DatasetDef into) {
        return runs.queue(of, into, false, null);
    }

    @Override
    protected Path workspace() {
        return workspace.folder();
    }

    @Test
    void aChangeIsNotSaidToBeDoneWhereTheFileWasOpenedAgainBeforeItWasOnDisk() {
        assertThatThrownBy(() -> transactions.change(() -> {
                    entities.createNativeQuery("INSERT INTO schedule (job, declared, handled_at, after_run)"
                                    + " VALUES ('lost', '', CURRENT_TIMESTAMP, 0)")
                            .executeUpdate();
                    current.registerInterposedSynchronization(new Synchronization() {
                        @Override
                        public void beforeCompletion() {}

                        @Override
                        public void afterCompletion(int status) {
                            breakDown();
                        }
                    });
                }))
                .isInstanceOf(CatalogueException.class);
        Callable<Object> left = () -> entities.createNativeQuery("SELECT COUNT(*) FROM schedule WHERE job = 'lost'")
                .getSingleResult();
        assertThat(transactions.change(left))
                .as("it was committed, and is lost")
                .isEqualTo(0L);
    }

    @Test
    void whatIsChangedOnceTheFileWasOpenedAgainIsOnDisk() {
        String row = "MERGE INTO schedule (job, declared, handled_at, after_run) KEY (job)"
                + " VALUES ('again', '', CURRENT_TIMESTAMP, 0)";
        for (int i = 0; i < 50; i++) {
            breakDown();
            try {
                write(row);
            } catch (CatalogueException told) { // unless another thread has met the fault before
                assertThat(FileFault.in(told))
                        .as("a caller is told to come again")
                        .isPresent();
            }
            for (int change = 0; change < 3; change++) {
                write(row);
            }
        }
    }

    @Test
    void anAnswerIsKeptUntilItsTableIsWrittenToOrTheFileIsOpenedAgain() throws Exception {
        AtomicInteger asked = new AtomicInteger();
        Kept<Integer> kept = new Kept<>(transactions, "schedule", answer -> 1);
        Callable<Integer> question = asked::incrementAndGet;
        assertThat(kept.get("a", question)).isEqualTo(1);
        assertThat(kept.get("a", question)).isEqualTo(1);
        assertThat(kept.get("b", question)).as("another question").isEqualTo(2);
        write("INSERT INTO shared_header (job, header) VALUES ('kept', '')");
        assertThat(kept.get("a", question)).as("another table").isEqualTo(1);

        write("INSERT INTO schedule (job, declared, handled_at, after_run) VALUES ('kept', '', CURRENT_TIMESTAMP, 0)");
        assertThat(kept.get("a", question)).isEqualTo(3);
        transactions.change(() -> {
            entities.createNativeQuery("DELETE FROM schedule WHERE job = 'kept'")
                    .executeUpdate();
            assertThat(elsewhere(() -> kept.get("a", question)))
                    .as("what is not committed yet counts as written, and nothing is kept")
                    .isEqualTo(4);
            assertThat(elsewhere(() -> kept.get("a", question))).isEqualTo(5);
            return null;
        });
        assertThat(kept.get("a", question)).isEqualTo(6);
        assertThat(kept.get("a", question)).isEqualTo(6);

        breakDown();
        assertThat(kept.get("a", question))
                .as("what was read may have got lost")
                .isEqualTo(7);
    }

    private void write(String statement) {
        transactions.change(() -> entities.createNativeQuery(statement).executeUpdate());
    }

    private static <T> T elsewhere(Callable<T> work) throws Exception {
        return CompletableFuture.supplyAsync(() -> {
                    try {
                        return work.call();
                    } catch (Exception wrong) {
                        throw new CompletionException(wrong);
                    }
                })
                .get();
    }

    /** What H2 does after a fault of the disk. */
    private void breakDown() {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute("SHUTDOWN IMMEDIATELY");
        } catch (SQLException closed) {
            assertThat(closed.getErrorCode()).isEqualTo(ErrorCode.DATABASE_IS_CLOSED);
        }
    }
}
