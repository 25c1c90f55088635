/** Conditions on rows, written in CEL. */
package dev.hapster.core.expression;
