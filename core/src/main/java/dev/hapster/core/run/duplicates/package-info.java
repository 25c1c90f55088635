/** Which rows count where rows of different files are compared: by hashes of their keys, in bounded memory. */
package dev.hapster.core.run.duplicates;
