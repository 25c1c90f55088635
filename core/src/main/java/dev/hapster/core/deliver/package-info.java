/**
 * Deliveries: what is declared with a dataset to be handed over, again and again. A file is written beside its name,
 * noted, and only then named, so that after a crash it is known whose it is; nothing is replaced that is not a
 * delivery's own and as it left it.
 */
package dev.hapster.core.deliver;
