/** The section {@code read} of a job: how the bytes of a file become rows. */
package dev.hapster.core.definition.read;
