/** What Parquet files hold, as texts: their pages and values, and the rows of those without structure. */
package dev.hapster.core.read.parquet;
