/** The rows of files as they are read, cleaned and stored, page by page, without loading them. */
package dev.hapster.core.run.stage;
