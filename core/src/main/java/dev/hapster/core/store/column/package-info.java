/** The values of a column as they are gathered for a row group, and written as Parquet pages. */
package dev.hapster.core.store.column;
