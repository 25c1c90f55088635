/** Changes to the text of definition files that leave everything else in them as it is. */
package dev.hapster.core.definition.edit;
