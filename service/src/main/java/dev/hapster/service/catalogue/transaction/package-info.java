/** What the catalogue holds is asked and changed in transactions that are on disk when they end. */
package dev.hapster.service.catalogue.transaction;
