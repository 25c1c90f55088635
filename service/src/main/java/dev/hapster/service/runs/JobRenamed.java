package dev.hapster.service.runs;

/** A job has got another name. */
public record JobRenamed(String from, String to) {}
