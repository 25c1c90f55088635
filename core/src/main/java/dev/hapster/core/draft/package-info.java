/**
 * Drafts: a job and a dataset proposed from files, with the evidence for each conclusion. A draft is deterministic: the
 * same files give the same draft, in whatever order they are read. A run never guesses; a draft does nothing else.
 */
package dev.hapster.core.draft;
