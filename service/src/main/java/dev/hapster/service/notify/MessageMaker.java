package dev.hapster.service.notify;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.core.catalogue.CatalogueException;
import dev.hapster.core.notify.Event;
import dev.hapster.core.notify.Notice;
import dev.hapster.service.catalogue.record.MessageRecord;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.terminal.Screen;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;

/** Writes messages. */
final class MessageMaker {

    private static final int MOST_IN_SUBJECT = 160;
    private static final int MOST_LETTERS = 200_000;
    private static final int MOST_FINDINGS = 100;

    private final ReportText reports;
    private final ObjectMapper json;
    private final String address;

    /** @param address of the service, without a slash at its end */
    MessageMaker(ReportText reports, ObjectMapper json, String address) {
        this.reports = reports;
        this.json = json;
        this.address = address;
    }

    /**
     * Somebody who is told.
     *
     * @param to an address; empty where the account leads to one place
     * @param of all of what
     */
    private record Recipient(Notice notice, String to, Set<Event> of) {}

    /** Whom to tell, each once: an address that is wrong keeps up no other. */
    private static List<Recipient> recipients(List<Notice> notices, Set<Event> events) {
        Map<List<Object>, Recipient> all = new LinkedHashMap<>();
        for (Notice notice : notices) {
            Set<Event> of = EnumSet.noneOf(Event.class);
            of.addAll(notice.on());
            of.retainAll(events);
            if (!of.isEmpty()) {
                for (String to : notice.to().isEmpty() ? List.of("") : notice.to()) {
                    all.computeIfAbsent(
                                    List.of(notice.by(), to, notice.digest()),
                                    none -> new Recipient(notice, to, EnumSet.noneOf(Event.class)))
                            .of()
                            .addAll(of);
                }
            }
        }
        return List.copyOf(all.values());
    }

    /** Messages about a run that has ended, one for each who is told of such. */
    List<MessageRecord> about(RunRecord run, Set<Event> events, List<Notice> notices, Instant now) {
        List<Recipient> recipients = recipients(notices, events);
        if (recipients.isEmpty()) {
            return List.of();
        }
        JsonNode data = json.createObjectNode();
        String report;
        try {
            data = reports.data(run.id);
            report = reports.text(run.id);
        } catch (CatalogueException unreadable) {
            throw unreadable; // it is tried again
        } catch (RuntimeException wrong) { // who is told less is told all the same
            report = "The report of this run cannot be made: " + wrong.getMessage() + "\n";
        }
        String text = report + "\n" + address + "/runs/" + run.id + "\n"
                + (events.contains(Event.REJECTED) ? address + "/rejects?job=" + run.job + "\n" : "");
        List<MessageRecord> messages = new ArrayList<>();
        for (Recipient recipient : recipients) {
            Set<Event> of = recipient.of();
            Event first = of.iterator().next(); // the worst, as they are declared
            MessageRecord message = message(recipient, run.job, first, now);
            message.run = run.id;
            message.subject = subject(run.job + ": " + what(run, first));
            message.body = shortened(text);
            ObjectNode content = json.createObjectNode();
            content.put("job", run.job);
            content.put("dataset", run.dataset);
            of.forEach(event -> content.withArray("events").add(event.word()));
            content.put("address", address + "/runs/" + run.id);
            content.setAll((ObjectNode) data);
            message.content = content.toString();
            messages.add(message);
        }
        return messages;
    }

    private static String what(RunRecord run, Event event) {
        return switch (event) {
            case FAILED ->
                "run " + run.id + " " + run.state.name().toLowerCase(java.util.Locale.ROOT)
                        + (run.failure == null ? "" : ": " + run.failure);
            case REJECTED -> "run " + run.id + " rejected " + rejected(run);
            case RECOVERED -> "run " + run.id + " finished, after one that did not";
            default ->
                "run " + run.id + " " + run.state.name().toLowerCase(java.util.Locale.ROOT) + ", "
                        + Screen.count(run.rowsLoaded, "row") + " loaded";
        };
    }

    private static String rejected(RunRecord run) {
        List<String> parts = new ArrayList<>();
        if (run.filesRejected > 0) {
            parts.add(Screen.count(run.filesRejected, run.noun));
        }
        if (run.rowsRejected > 0) {
            parts.add(Screen.count(run.rowsRejected, "row"));
        }
        return String.join(" and ", parts);
    }

    /**
     * What arrived late or not at all.
     *
     * @param source of the job; empty where it has one
     * @param says what there is to say of it
     */
    record Finding(Event event, String source, String period, String says) {}

    /** Messages about what arrived late or not at all, one for each who is told of such. */
    List<MessageRecord> about(String job, List<Finding> findings, List<Notice> notices, Instant now) {
        Set<Event> events = findings.stream().map(Finding::event).collect(Collectors.toSet());
        List<MessageRecord> messages = new ArrayList<>();
        for (Recipient recipient : recipients(notices, events)) {
            Set<Event> of = recipient.of();
            List<Finding> theirs = findings.stream()
                    .filter(finding -> of.contains(finding.event()))
                    .sorted(java.util.Comparator.comparing((Finding finding) -> finding.event() != Event.MISSING))
                    .toList();
            Finding first = theirs.get(0);
            MessageRecord message = message(recipient, job, first.event(), now);
            message.subject = subject(job + ": "
                    + (theirs.size() == 1
                            ? named(first) + " " + first.event().word()
                            : theirs.stream()
                                    .collect(Collectors.groupingBy(
                                            Finding::event, java.util.TreeMap::new, Collectors.counting()))
                                    .entrySet()
                                    .stream()
                                    .map(count -> count.getValue() + " "
                                            + count.getKey().word())
                                    .collect(Collectors.joining(", "))));
            StringBuilder text = new StringBuilder("Arrivals for " + job + "\n");
            ArrayNode list = json.createArrayNode();
            theirs.stream().limit(MOST_FINDINGS).forEach(finding -> {
                text.append("  ")
                        .append(Screen.visible(named(finding)))
                        .append("  ")
                        .append(finding.event().word())
                        .append(": ")
                        .append(Screen.visible(finding.says()))
                        .append('\n');
                list.addObject()
                        .put("state", finding.event().word())
                        .put("source", finding.source())
                        .put("period", finding.period())
                        .put("says", finding.says());
            });
            if (theirs.size() > MOST_FINDINGS) {
                text.append("  and ").append(theirs.size() - MOST_FINDINGS).append(" more\n");
            }
            message.body = text + "\n" + address + "/calendar\n";
            ObjectNode content = json.createObjectNode();
            content.put("job", job);
            of.forEach(event -> content.withArray("events").add(event.word()));
            content.put("address", address + "/calendar");
            content.set("arrivals", list);
            message.content = content.toString();
            messages.add(message);
        }
        return messages;
    }

    private static String named(Finding finding) {
        return (finding.source().isEmpty() ? "" : finding.source() + " ") + finding.period();
    }

    /** A message by which somebody sees whether an account works. */
    MessageRecord trial(String account, String to, Instant now) {
        Notice notice = new Notice(account, List.of(), Set.of(), Optional.empty(), ZoneOffset.UTC, List.of());
        MessageRecord message = message(new Recipient(notice, to, Set.of()), "", Event.RUN, now);
        message.event = "trial";
        message.subject = subject("a trial message");
        message.body = "This is how messages by the account " + account + " arrive.\n\n" + address + "/\n";
        message.content = json.createObjectNode()
                .put("account", account)
                .put("address", address + "/")
                .toString();
        return message;
    }

    private static MessageRecord message(Recipient recipient, String job, Event event, Instant now) {
        Notice notice = recipient.notice();
        MessageRecord message = new MessageRecord();
        message.uid = UUID.randomUUID().toString();
        message.job = job;
        message.event = event.word();
        message.account = notice.by();
        message.recipient = recipient.to();
        message.digest = notice.digest().isPresent();
        message.madeAt = now;
        message.nextAt = notice.digest()
                .map(time -> {
                    LocalDate today = LocalDate.ofInstant(now, notice.zone());
                    ZonedDateTime next = today.atTime(time).atZone(notice.zone());
                    return next.toInstant().isAfter(now)
                            ? next.toInstant()
                            : today.plusDays(1)
                                    .atTime(time)
                                    .atZone(notice.zone())
                                    .toInstant();
                })
                .orElse(now);
        return message;
    }

    /** On one line, whatever names and values hold. */
    private static String subject(String text) {
        String line = "Hapster: " + text.replaceAll("[\\p{Cc}\\p{Cf}\\u2028\\u2029]+", " ");
        return line.length() <= MOST_IN_SUBJECT ? line : line.substring(0, MOST_IN_SUBJECT - 1) + "…";
    }

    private static String shortened(String text) {
        return text.length() <= MOST_LETTERS ? text : text.substring(0, MOST_LETTERS) + "\n…\n";
    }

    /** Several messages to the same as one. */
    static Message together(List<MessageRecord> records, ObjectMapper json) throws SendException {
        MessageRecord first = records.get(0);
        if (records.size() == 1 && !first.digest) {
            return new Message(
                    first.uid,
                    type(first),
                    about(first),
                    first.madeAt,
                    first.recipient,
                    first.subject,
                    first.body,
                    read(json, first));
        }
        ObjectNode data = json.createObjectNode();
        StringBuilder text = new StringBuilder();
        for (MessageRecord record : records) {
            text.append(record.subject.replaceFirst("^Hapster: ", ""))
                    .append("\n\n")
                    .append(record.body)
                    .append("\n")
                    .append("-".repeat(72))
                    .append("\n\n");
            ObjectNode one = data.withArray("messages").addObject();
            one.put("id", record.uid);
            one.put("type", type(record));
            one.put("time", record.madeAt.toString());
            one.set("data", read(json, record));
        }
        String ids = records.stream().map(record -> record.uid).collect(Collectors.joining());
        String jobs =
                records.stream().map(record -> record.job).distinct().limit(5).collect(Collectors.joining(", "));
        return new Message(
                UUID.nameUUIDFromBytes(ids.getBytes(java.nio.charset.StandardCharsets.UTF_8))
                        .toString(),
                "dev.hapster.digest",
                "/",
                records.get(records.size() - 1).madeAt,
                first.recipient,
                subject(Screen.count(records.size(), "message") + " of the last day: " + jobs),
                shortened(text.toString()),
                data);
    }

    private static String type(MessageRecord record) {
        boolean ofRun = record.run != null;
        return "dev.hapster." + (ofRun ? "run." : record.event.equals("trial") ? "" : "arrivals.")
                + (record.event.equals("run") ? "ended" : record.event);
    }

    private static String about(MessageRecord record) {
        return record.run != null ? "/runs/" + record.run : record.job.isEmpty() ? "/" : "/jobs/" + record.job;
    }

    private static JsonNode read(ObjectMapper json, MessageRecord record) throws SendException {
        try {
            return json.readTree(record.content);
        } catch (com.fasterxml.jackson.core.JsonProcessingException wrong) {
            throw new SendException(
                    "What is kept of the message is damaged: " + wrong.getOriginalMessage(), false, wrong);
        }
    }
}
