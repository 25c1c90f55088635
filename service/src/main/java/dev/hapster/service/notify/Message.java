package dev.hapster.service.notify;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;

/**
 * A message as it is sent.
 *
 * @param id by which whoever gets it twice knows it again
 * @param type of a CloudEvent, such as {@code dev.hapster.run.failed}
 * @param about what it is about, relative to the service's address, such as {@code /runs/12}
 * @param to an address, for mail; empty for others
 */
record Message(
        String id, String type, String about, Instant at, String to, String subject, String text, JsonNode data) {}
