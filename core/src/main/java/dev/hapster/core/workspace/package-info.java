/**
 * A folder with its jobs and datasets, and a job made ready: with its values put in, its files named and its rules
 * identified.
 */
package dev.hapster.core.workspace;
