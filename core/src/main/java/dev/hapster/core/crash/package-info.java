/** The moments of a run between which it can be cut off. */
package dev.hapster.core.crash;
