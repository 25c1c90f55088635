package dev.hapster.core.deliver.table;

/** Knows which deliveries are declared. */
@FunctionalInterface
public interface Owners {

    /** Whether a dataset of this workspace declares a delivery, or may do so. */
    boolean isDeclared(String dataset, String delivery);
}
