/** Looking at a dataset: its rows, sorted and filtered, and counts by columns, straight from the parts. */
package dev.hapster.core.query;
