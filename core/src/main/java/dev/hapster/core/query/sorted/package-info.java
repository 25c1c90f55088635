/** Rows in an order: the first ones of many, or all of them. */
package dev.hapster.core.query.sorted;
