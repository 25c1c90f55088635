/**
 * What becomes of files after they were dealt with: left, moved, copied or deleted, in a way that a crash cannot spoil.
 */
package dev.hapster.core.run.routing;
