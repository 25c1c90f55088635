/** The HTTP interface, {@code /api/v1}: a resource for each noun; errors are problem details (RFC 9457). */
package dev.hapster.service.api;
