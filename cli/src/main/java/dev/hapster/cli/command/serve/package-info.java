/** Commands that start the service themselves. */
package dev.hapster.cli.command.serve;
