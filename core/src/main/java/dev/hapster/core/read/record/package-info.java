/** What every format gives: a header, and records in batches. */
package dev.hapster.core.read.record;
