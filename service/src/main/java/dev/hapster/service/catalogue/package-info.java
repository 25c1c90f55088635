/** The catalogue in H2: Hibernate entities, and the core's ports implemented with them. */
package dev.hapster.service.catalogue;
