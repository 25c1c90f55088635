/** Finding files: folders and patterns in, every candidate with the rule that took or left it out. */
package dev.hapster.core.find;
