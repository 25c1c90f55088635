/** What the values of a column look like, and which type holds them: gathered value by value, without keeping them. */
package dev.hapster.core.draft.column;
