/** Runs in order: the queue, progress while they go on, and the repair after a crash. */
package dev.hapster.service.runs;
