/** Rows counted by columns, by the numbers of their values and not by the values themselves. */
package dev.hapster.core.query.group;
