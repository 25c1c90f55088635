/** When jobs run by themselves. */
package dev.hapster.service.api.schedule;
