package dev.hapster.core.arrival;

import java.util.Map;
import java.util.Set;

/**
 * What a log comes to, by the numbers of arrivals.
 *
 * @param standing those that hold the place of their file: nothing newer took it, nobody took them back
 * @param removed those of which the rows were taken out
 * @param copies those that stand, but have the same content as another one; with that other one
 * @param counting those whose rows make up the dataset
 * @param current the last word on each file, accepted or rejected
 */
public record Counted(
        Set<Long> standing, Set<Long> removed, Map<Long, Long> copies, Set<Long> counting, Set<Long> current) {}
