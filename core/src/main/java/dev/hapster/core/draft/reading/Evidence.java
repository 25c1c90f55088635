package dev.hapster.core.draft.reading;

/**
 * Something that was concluded.
 *
 * @param what the key of the definition that it sets, such as {@code separator}
 * @param value as the definition says it
 * @param why what it rests on, as a sentence
 */
public record Evidence(String what, String value, String why) {}
