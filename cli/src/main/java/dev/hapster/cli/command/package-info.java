/** What the commands share: whom they ask, what they may be given, and how the effect of an act is told. */
package dev.hapster.cli.command;
