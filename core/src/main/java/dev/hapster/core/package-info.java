/**
 * The heart of Hapster: finding files, reading them into typed columns, checking, rejecting, loading, balancing.
 *
 * <p>Plain Java without framework and without interface code. The packages {@code find}, {@code read}, {@code shape}
 * and {@code store} do not know each other; {@code run} alone knows them all. What must be kept between runs is asked
 * of {@link dev.hapster.core.catalogue.Catalogue}, which the service implements.
 */
package dev.hapster.core;
