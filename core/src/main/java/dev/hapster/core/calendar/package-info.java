/** What the log of a job says of what arrived, for its calendar. */
package dev.hapster.core.calendar;
