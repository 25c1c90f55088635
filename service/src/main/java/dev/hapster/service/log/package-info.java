/**
 * What each run did, line by line: kept in a file of its own, written while it goes on, and read by whoever follows it.
 */
package dev.hapster.service.log;
