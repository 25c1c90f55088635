/** From a file to rows in a part and rows that are rejected, with counts that are checked against each other. */
package dev.hapster.core.run.load;
