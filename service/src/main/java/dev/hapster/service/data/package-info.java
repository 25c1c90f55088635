/** The rows of datasets as they lie in the store, and what is to be said where parts of them cannot be read. */
package dev.hapster.service.data;
