package dev.hapster.core.query;

import dev.hapster.core.query.value.Field;
import java.util.List;

/**
 * Some rows of a dataset.
 *
 * @param fields the columns, where a row comes from first
 * @param total rows that satisfy the conditions
 * @param rows values in the order of {@code fields}; null where empty
 */
public record Page(List<Field> fields, long total, List<List<Comparable<?>>> rows) {}
