/** Questions to datasets that are kept by name. */
package dev.hapster.service.api.query;
