/** Names in drafts: patterns for the names of files, and names of columns from the words of headers. */
package dev.hapster.core.draft.name;
