/** What is known of the definitions that runs went by. */
package dev.hapster.service.history;
