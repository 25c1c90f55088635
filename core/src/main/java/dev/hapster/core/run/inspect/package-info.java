/** Looking without loading: whether files have one structure, what each step makes of a row, what a check finds. */
package dev.hapster.core.run.inspect;
