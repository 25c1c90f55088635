package dev.hapster.cli.command.reject;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "mend",
        mixinStandardHelpOptions = true,
        description = "Proposes changes to the job or the dataset with which rows that a run rejected would "
                + "fit. Each is tried on these rows and on those that fit already. --apply writes one into its file.",
        footer = {"", "Examples:  hapster mend 1 date-unreadable", "           hapster mend 1 date-unreadable --apply 1"
        })
public final class MendCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "RUN", description = "The run that rejected them.")
    private long run;

    @Parameters(paramLabel = "CODE", description = "The reason, as hapster rejects names it.")
    private String code;

    @Option(names = "--column", paramLabel = "COLUMN", description = "Only faults of this column.")
    private String column;

    @Option(
            names = "--apply",
            paramLabel = "N",
            description = "Write the Nth proposal into its file. This loads nothing; retry does.")
    private Integer apply;

    @Override
    public Integer call() {
        Api api = client.api();
        ArrayNode mends = Api.JSON.createArrayNode();
        long passing = 0;
        long rejected = 0;
        String noun = "row";
        boolean any = false;
        for (JsonNode reason : api.get("/runs/" + run + "/rejects")) {
            if (reason.path("code").asText().equals(code)
                    && (column == null || reason.path("column").asText().equals(column))) {
                any = true;
                JsonNode found = api.get("/rejects/" + run + "/mends?code=" + Api.encode(code) + "&column="
                        + Api.encode(reason.path("column").asText()));
                found.path("fixes").forEach(mends::add);
                passing += found.path("passing").asLong();
                rejected += found.path("rejected").asLong();
                noun = found.path("level").asText();
            }
        }
        if (!any) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "Run " + run + " rejected nothing for '" + code + "'" + (column == null ? "" : " in " + column)
                            + ". hapster rejects " + run + " lists what it did reject.");
        }
        if (apply != null) {
            return write(api, mends);
        }
        if (client.json()) {
            client.print(mends);
            return ExitStatus.DONE;
        }
        Screen screen = client.screen();
        if (passing > 0) {
            screen.line(
                    Screen.count(passing, noun) + (passing == 1 ? " fits" : " fit") + " by now: hapster retry " + run);
        } else if (rejected == 0) {
            screen.line("Nothing is rejected for this any more: it was loaded, replaced, undone or dismissed since.");
        }
        if (rejected == 0) {
            return ExitStatus.DONE;
        }
        if (mends.isEmpty()) {
            screen.line("Nothing obvious would let " + (rejected == 1 ? "this " + noun : "these " + noun + "s")
                    + " fit. hapster rejects " + run + " --explain " + code
                    + " says what the reason means, and what to do.");
            return ExitStatus.FINDINGS;
        }
        for (int i = 0; i < mends.size(); i++) {
            JsonNode mend = mends.get(i);
            screen.line(screen.strong((i + 1) + "  " + mend.path("says").asText()) + "  "
                    + Screen.grouped(mend.path("count").asLong()) + " of "
                    + Screen.count(mend.path("of").asLong(), noun) + " would fit");
            difference(mend);
        }
        screen.line(screen.faint(
                "  hapster mend " + run + " " + code + (column == null ? "" : " --column " + column) + " --apply 1"));
        return ExitStatus.DONE;
    }

    private void difference(JsonNode mend) {
        Screen screen = client.screen();
        screen.line("   " + mend.path("file").asText());
        mend.path("before").asText().lines().forEach(line -> screen.line(screen.bad("   - " + line)));
        mend.path("after").asText().lines().forEach(line -> screen.line(screen.good("   + " + line)));
    }

    private int write(Api api, ArrayNode mends) {
        if (apply < 1 || apply > mends.size()) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "There is no change " + apply + "; hapster mend " + run + " " + code + " lists "
                            + (mends.isEmpty() ? "none" : mends.size() + " of them") + ".");
        }
        JsonNode mend = mends.get(apply - 1);
        String file = mend.path("file").asText();
        String name = file.substring(file.indexOf('/') + 1, file.lastIndexOf('.'));
        api.put(
                (file.startsWith("jobs/") ? "/jobs/" : "/datasets/") + Api.encode(name),
                Api.JSON
                        .createObjectNode()
                        .put("text", mend.path("text").asText())
                        .put("version", mend.path("version").asText()));
        if (client.json()) {
            client.print(mend);
            return ExitStatus.DONE;
        }
        client.screen().line("written: " + mend.path("says").asText());
        difference(mend);
        client.screen().line(client.screen().faint("  hapster retry " + run));
        return ExitStatus.DONE;
    }
}
