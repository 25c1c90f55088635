/**
 * Tables in databases that follow a dataset. What was carried over is written down beside the table, in the same
 * transaction, so that it is true whatever is cut off.
 */
package dev.hapster.core.deliver.table;
