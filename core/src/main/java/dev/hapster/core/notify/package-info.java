/** Who is told of what. Values only: nothing here sends anything. */
package dev.hapster.core.notify;
