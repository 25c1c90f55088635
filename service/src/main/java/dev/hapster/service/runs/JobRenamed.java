package dev.hapster.service.runs;

/** A job has got another name. Whoever observes it holds nothing that a start of a run waits for. */
public record JobRenamed(String from, String to) {}
