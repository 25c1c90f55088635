/** What people do to a dataset besides running jobs: take back, remove, dismiss. */
package dev.hapster.core.run.act;
