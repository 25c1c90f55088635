/** Rows into files for others: CSV, JSON lines, workbooks, Parquet. */
package dev.hapster.core.query.write;
