/** When jobs start by themselves. Knows no jobs, no runs and no files: names, times, and what was done last. */
package dev.hapster.core.schedule;
