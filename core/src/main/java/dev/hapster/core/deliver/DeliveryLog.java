package dev.hapster.core.deliver;

import java.nio.file.Path;
import java.util.Collection;
import java.util.List;
import java.util.Map;

/**
 * Remembers what deliveries wrote. What a method was told is on disk when it returns. Thread-safe.
 *
 * <p>Throws {@link dev.hapster.core.catalogue.CatalogueException} where it cannot be read or written.
 */
public interface DeliveryLog {

    /**
     * The files of a delivery, and those that it is about to name, by path. Of one path there are two where it was cut
     * off in between: either may be there.
     */
    Map<Path, List<Product>> products(String dataset, String delivery);

    /** Files that are whole and will get their names next. */
    void intend(String dataset, String delivery, Collection<Product> products);

    /** They have their names: what was known of these paths before is forgotten, whichever delivery wrote it. */
    void named(String dataset, String delivery, Collection<Product> products);

    /** Files that are no longer there, or no longer the delivery's. */
    void forget(String dataset, String delivery, Collection<Path> paths);
}
