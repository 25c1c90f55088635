/** The tables of the catalogue, as Hibernate knows them. */
package dev.hapster.service.catalogue.record;
