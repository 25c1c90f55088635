/** Keeping what was loaded: parts of a dataset as Parquet files, small ones many to a file. */
package dev.hapster.core.store;
