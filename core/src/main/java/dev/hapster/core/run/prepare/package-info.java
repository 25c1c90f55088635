/** What comes before a job is looked at, tried or run: its definitions, what stands against them, and its files. */
package dev.hapster.core.run.prepare;
