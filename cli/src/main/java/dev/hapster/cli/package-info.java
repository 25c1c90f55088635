/** The command-line client: one class a command, tables for people, the service's own JSON for programs. */
package dev.hapster.cli;
