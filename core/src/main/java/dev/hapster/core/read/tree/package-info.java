/** JSON, XML and Parquet: trees that become rows. */
package dev.hapster.core.read.tree;
