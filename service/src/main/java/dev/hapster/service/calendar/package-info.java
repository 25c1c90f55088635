/** Whether what is due for jobs has arrived. */
package dev.hapster.service.calendar;
