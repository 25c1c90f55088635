/** Deliveries as the service does them: after each change, on call, and again where they failed. */
package dev.hapster.service.deliver;
