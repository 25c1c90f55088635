/**
 * What must outlast a run: the port to whatever keeps it, and what is known of each file, of how it stands and of what
 * is to be done with it.
 */
package dev.hapster.core.catalogue;
