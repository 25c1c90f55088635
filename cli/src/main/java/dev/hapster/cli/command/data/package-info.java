/** Commands that show and hand on the rows of a dataset. */
package dev.hapster.cli.command.data;
