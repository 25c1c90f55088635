/** What a person or a script sees: lines, tables, reports of runs, exit statuses. */
package dev.hapster.terminal;
