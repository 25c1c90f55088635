/** Why something was rejected: one catalogue of codes, and the sentences that go with them. */
package dev.hapster.core.reason;
