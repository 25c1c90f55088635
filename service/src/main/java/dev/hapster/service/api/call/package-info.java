/** What all calls have in common: their parameters, their words, and how they say what is wrong. */
package dev.hapster.service.api.call;
