/** Delimited and fixed-width text. */
package dev.hapster.core.read.text;
