/**
 * The job and dataset files: parsing with the place of every mistake, and the values that the rest of the core works
 * with.
 */
package dev.hapster.core.definition;
