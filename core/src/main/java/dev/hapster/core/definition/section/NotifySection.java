package dev.hapster.core.definition.section;

import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.key.Section;
import dev.hapster.core.definition.key.Shapes;
import dev.hapster.core.notify.Event;
import java.time.ZoneId;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The keys of {@code notify}, in a job and in {@code notify.yaml}. */
public final class NotifySection {

    public static final int MOST_NOTICES = 100;

    public static final Key<String> BY =
            Key.of("by", Shapes.text(), "", "the account of [accounts.yaml](#accounts) by which messages are sent");
    public static final Key<List<String>> TO =
            Key.of("to", Shapes.texts(), List.<String>of(), "addresses, where the account is one for mail");
    public static final Key<List<String>> ON = Key.of(
            "on",
            Shapes.texts(),
            List.of("failed", "rejected", "late", "missing", "recovered"),
            "of what is told: " + words());
    public static final Key<Optional<String>> DIGEST = Key.of(
            "digest",
            Shapes.some(),
            Optional.<String>empty(),
            "a time such as `07:00`: all messages of a day are sent then, as one");
    public static final Key<Optional<ZoneId>> ZONE =
            Key.of("zone", Shapes.zone(), Optional.<ZoneId>empty(), "time zone of that time; without it the machine's");

    /** In a job. */
    public static final Section SECTION = Section.of(BY, TO, ON, DIGEST, ZONE).requiring(BY);

    public static final Key<List<String>> JOBS = Key.of(
            "jobs",
            Shapes.texts(),
            List.<String>of(),
            "names of jobs, or patterns such as `*-lab`, of which is told; without it of all");

    /** In {@code notify.yaml}. */
    public static final Section SHARED =
            Section.of(BY, TO, ON, JOBS, DIGEST, ZONE).requiring(BY);

    /** The key itself, in a job. */
    public static final Key<Boolean> NOTIFY = Key.of(
            "notify",
            Shapes.form(Map.of("type", "array", "maxItems", MOST_NOTICES, "items", SECTION.schema())),
            false,
            "who is told how it went");

    private NotifySection() {}

    private static String words() {
        List<String> all = Arrays.stream(Event.values()).map(Event::word).toList();
        return "`" + String.join("`, `", all.subList(0, all.size() - 1)) + "`, or with `run` of each run";
    }
}
