/** Telling people and programs how runs went, and what did not arrive. */
package dev.hapster.service.notify;
