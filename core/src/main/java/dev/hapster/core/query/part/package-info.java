/** Columns of the files of the store, read row group by row group into vectors or as entries of dictionaries. */
package dev.hapster.core.query.part;
