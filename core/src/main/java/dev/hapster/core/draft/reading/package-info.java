/** How a file is read, told from its bytes: format, encoding, separator, quote, where the table begins and ends. */
package dev.hapster.core.draft.reading;
