/** Messages about runs and arrivals. */
package dev.hapster.service.api.messages;
