/** Shaping rows: raw batches in; cleaned, converted, checked columns and rejected rows out. */
package dev.hapster.core.shape;
