/** Work that goes on as long as the service does. */
package dev.hapster.service.work;
