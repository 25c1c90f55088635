/** What the columns of a dataset hold, alone and beside other rows. */
package dev.hapster.cli.command.profile;
