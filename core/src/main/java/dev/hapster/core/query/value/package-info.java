/** Columns of a dataset and their values, whatever type a part was written with. */
package dev.hapster.core.query.value;
