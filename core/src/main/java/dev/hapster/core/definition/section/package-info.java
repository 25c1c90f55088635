/** The keys of all other sections of dataset and job files, each declared once. */
package dev.hapster.core.definition.section;
