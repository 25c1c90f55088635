/** Conditions on the rows of a dataset, asked of whole batches, dictionaries and row groups. */
package dev.hapster.core.query.filter;
