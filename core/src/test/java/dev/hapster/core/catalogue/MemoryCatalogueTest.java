package dev.hapster.core.catalogue;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import java.nio.file.Path;
import java.util.concurrent.atomic.AtomicLong;

/** The catalogue that the core's own tests run with keeps the same contract as the service's. */
class MemoryCatalogueTest extends CatalogueContract {

    private final AtomicLong numbers = new AtomicLong();
    private final MemoryCatalogue catalogue = new MemoryCatalogue(numbers::incrementAndGet);

    @Override
    protected Catalogue catalogue() {
        return catalogue;
    }

    @Override
    protected long run(JobDef of, DatasetDef into) {
        return numbers.incrementAndGet();
    }

    @Override
    protected Path workspace() {
        return Path.of("workspace").toAbsolutePath();
    }
}
