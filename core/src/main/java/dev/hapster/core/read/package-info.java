/** Reading files: bytes in, batches of raw records with their line numbers out. */
package dev.hapster.core.read;
