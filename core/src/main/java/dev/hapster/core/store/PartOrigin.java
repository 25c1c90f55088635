package dev.hapster.core.store;

import java.time.Instant;

/**
 * Where the rows of a part come from; the same for each of them.
 *
 * @param file name of the source file
 * @param path its absolute path
 * @param run number of the run that loads it
 * @param loadedAt when that is
 */
public record PartOrigin(String file, String path, long run, Instant loadedAt) {}
