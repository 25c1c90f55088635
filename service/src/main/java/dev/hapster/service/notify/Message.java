package dev.hapster.service.notify;

import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.util.List;

/**
 * A message as it is sent.
 *
 * @param id by which whoever gets it twice knows it again
 * @param type of a CloudEvent, such as {@code dev.hapster.run.failed}
 * @param about what it is about, relative to the service's address, such as {@code /runs/12}
 * @param to addresses, for mail
 */
record Message(
        String id, String type, String about, Instant at, List<String> to, String subject, String text, JsonNode data) {

    Message {
        to = List.copyOf(to);
    }
}
