/**
 * What a key of a definition file is: its name, how its value is written, what holds where it is not there, and what it
 * means. The parser, the JSON Schemas, the tables of the documents, the plain-words explanation and the names of rules
 * all come from this one declaration.
 */
package dev.hapster.core.definition.key;
