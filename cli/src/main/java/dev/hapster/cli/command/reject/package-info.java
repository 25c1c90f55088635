/** Commands about what was rejected or set aside, and what to do about it. */
package dev.hapster.cli.command.reject;
