/** Runs that nobody asks for: by the clock, after other jobs, when files arrive. */
package dev.hapster.service.schedule;
