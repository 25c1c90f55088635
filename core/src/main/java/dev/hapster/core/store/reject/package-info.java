/** What runs rejected and set aside, kept as CSV. */
package dev.hapster.core.store.reject;
