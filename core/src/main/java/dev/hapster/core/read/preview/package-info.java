/** The first and last lines, rows or cells of any file, for people. */
package dev.hapster.core.read.preview;
