package dev.hapster.service.api.messages;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.service.api.RunsResource;
import dev.hapster.service.notify.ReportText;
import dev.hapster.terminal.Report;
import dev.hapster.terminal.Screen;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.ByteArrayOutputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;

/** The reports of runs, as the client prints them. */
@ApplicationScoped
class RunReports implements ReportText {

    private static final String COLUMNS = "100";

    private final RunsResource runs;
    private final ObjectMapper json;

    RunReports(RunsResource runs, ObjectMapper json) {
        this.runs = runs;
        this.json = json;
    }

    @Override
    public String text(long run) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        new Report(new Screen(out, OutputStream.nullOutputStream(), "", COLUMNS))
                .print(
                        json.valueToTree(runs.run(run)),
                        json.valueToTree(runs.files(run)),
                        json.valueToTree(runs.reasons(run)));
        return out.toString(StandardCharsets.UTF_8);
    }

    @Override
    public JsonNode data(long run) {
        ObjectNode data = json.createObjectNode();
        data.set("run", json.valueToTree(runs.run(run)));
        data.set("reasons", json.valueToTree(runs.reasons(run)));
        return data;
    }
}
