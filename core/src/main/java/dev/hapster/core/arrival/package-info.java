/**
 * What counts: the log of arrivals, and the one function that says which of them a dataset is made of. Nothing here
 * reads or writes anything; {@code docs/model.md} tells the same in prose.
 */
package dev.hapster.core.arrival;
