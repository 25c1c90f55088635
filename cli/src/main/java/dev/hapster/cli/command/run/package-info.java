/** Commands that load, and that take back. */
package dev.hapster.cli.command.run;
