/** Shaping rows: raw batches in; cleaned, converted, checked columns and refused rows out. */
package dev.hapster.core.shape;
