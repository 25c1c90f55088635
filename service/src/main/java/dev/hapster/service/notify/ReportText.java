package dev.hapster.service.notify;

import com.fasterxml.jackson.databind.JsonNode;

/** What there is to say of a run. */
public interface ReportText {

    /** The report of a run, as a terminal of 100 columns shows it, without colours. */
    String text(long run);

    /** The run as the interface has it, with its reasons. */
    JsonNode data(long run);
}
