/** The patterns that people write: of file names, and of dates and times. */
package dev.hapster.core.pattern;
