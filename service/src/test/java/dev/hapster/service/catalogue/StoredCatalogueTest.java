package dev.hapster.service.catalogue;

import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.catalogue.CatalogueContract;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.TestWorkspace;
import io.quarkus.test.common.QuarkusTestResource;
import io.quarkus.test.junit.QuarkusTest;
import jakarta.inject.Inject;
import java.nio.file.Path;

/** The service's catalogue, in a database on disk as it is when the service runs, keeps the contract. */
@QuarkusTest
@QuarkusTestResource(TestWorkspace.class)
class StoredCatalogueTest extends CatalogueContract {

    @Inject
    StoredCatalogue records;

    @Inject
    Workspace workspace;

    @Override
    protected Catalogue catalogue() {
        return records;
    }

    @Override
    protected long run(JobDef of, DatasetDef into) {
        return records.queue(of, into, false, null);
    }

    @Override
    protected Path workspace() {
        return workspace.folder();
    }
}
