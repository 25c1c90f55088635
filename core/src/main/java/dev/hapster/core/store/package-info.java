/** Keeping what was loaded: parts of a dataset as Parquet files, and the rows that were rejected as CSV files. */
package dev.hapster.core.store;
