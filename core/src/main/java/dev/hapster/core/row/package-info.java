/**
 * The small values that pass between finding, reading, shaping and storing: batches of raw records, typed columns,
 * rejected rows. Batches are reused by their owner and valid only until its next call.
 */
package dev.hapster.core.row;
