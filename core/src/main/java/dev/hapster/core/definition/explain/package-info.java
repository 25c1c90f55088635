/** What a job does, in sentences. */
package dev.hapster.core.definition.explain;
