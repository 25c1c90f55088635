/**
 * Opening what a job takes: a file, an entry of an archive, a sheet; unpacked, hashed, and with the reader that its
 * format asks for.
 */
package dev.hapster.core.run.open;
