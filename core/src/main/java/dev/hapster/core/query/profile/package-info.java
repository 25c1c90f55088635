/** What the columns of a dataset hold: shares, extremes, frequent values, quantiles, and what looks odd. */
package dev.hapster.core.query.profile;
