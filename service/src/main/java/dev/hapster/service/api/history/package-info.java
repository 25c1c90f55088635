/** Calls that answer questions about the past: what a run did line by line, by which definitions, and how runs went. */
package dev.hapster.service.api.history;
