/**
 * Check, trial and run: the only package that knows finding, reading, shaping and storing together, and the
 * {@link dev.hapster.core.catalogue.Catalogue} in which is kept what must outlast a run.
 */
package dev.hapster.core.run;
