/** Commands from before anything is loaded: jobs, what they find, whether it fits. */
package dev.hapster.cli.command.prepare;
