/** Finding files: folders and patterns in, every candidate with the rule that took or skipped it. */
package dev.hapster.core.find;
