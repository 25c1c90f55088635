/** What is to arrive when, and what did. Values and calculations only: nothing here reads or writes. */
package dev.hapster.core.due;
