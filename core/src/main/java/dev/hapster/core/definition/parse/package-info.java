/** From the text of a definition file to what it says, with every mistake and its place. */
package dev.hapster.core.definition.parse;
