/** Work that is shared with other cores. */
package dev.hapster.core.work;
