/** Calls for whoever changes definitions: single keys of a text, and names. */
package dev.hapster.service.api.edit;
