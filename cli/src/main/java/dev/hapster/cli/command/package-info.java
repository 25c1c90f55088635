/**
 * What the commands share: the service they ask, the options they have in common, and how they show the effect of an
 * act.
 */
package dev.hapster.cli.command;
