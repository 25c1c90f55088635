package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.key.Section;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.section.NotifySection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.definition.yaml.YamlMap;
import dev.hapster.core.notify.Event;
import dev.hapster.core.notify.Notice;
import dev.hapster.core.pattern.NamePattern;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Reads who is told of what. */
final class NotifyParser {

    static final String ADDRESS = "[^\\s@<>,;\"]{1,64}@[^\\s@<>,;\"]{1,255}";
    private static final String TIME = "([01]\\d|2[0-3]):[0-5]\\d";
    private static final int MOST_ADDRESSES = 100;

    private NotifyParser() {}

    /** What a job's file says of it. */
    static List<Notice> own(YamlMap root) {
        return root.has("notify") ? notices(root, NotifySection.SECTION) : List.of();
    }

    /** What {@code notify.yaml} says of it. */
    static List<Notice> shared(String file, String text) throws DefinitionException {
        List<Problem> problems = new ArrayList<>();
        YamlMap root = YamlMap.parse(file, text, problems).only(List.of("notify"));
        List<Notice> notices = root.has("notify") ? notices(root, NotifySection.SHARED) : List.of();
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return notices;
    }

    private static List<Notice> notices(YamlMap root, Section keys) {
        List<YamlMap> maps = root.maps("notify");
        if (maps.size() > NotifySection.MOST_NOTICES) {
            root.wrong("notify", "'notify' has more than " + NotifySection.MOST_NOTICES + " entries", "");
            return List.of();
        }
        return maps.stream().map(map -> notice(keys.check(map), keys)).toList();
    }

    private static Notice notice(YamlMap map, Section keys) {
        String by = map.required("by", "Name an account of accounts.yaml: `by: office`");
        if (map.has("by") && !by.matches(DatasetSection.FILE_NAME_RULE)) {
            map.wrong("by", "no account is called '" + by + "'", "Use letters, digits, - and _");
        }
        List<String> to = NotifySection.TO.in(map);
        if (to.size() > MOST_ADDRESSES) {
            map.wrong("to", "'to' has more than " + MOST_ADDRESSES + " addresses", "");
        }
        to.stream()
                .filter(address -> !address.matches(ADDRESS))
                .findFirst()
                .ifPresent(address ->
                        map.wrong("to", "'" + address + "' is not an address", "Write it like mira@vessa.example"));
        return new Notice(
                by,
                to,
                events(map),
                digest(map),
                NotifySection.ZONE.in(map).orElse(ZoneId.systemDefault()),
                keys == NotifySection.SHARED ? jobs(map) : List.of());
    }

    private static Set<Event> events(YamlMap map) {
        List<String> words = Arrays.stream(Event.values()).map(Event::word).toList();
        Set<Event> events = EnumSet.noneOf(Event.class);
        for (String word : NotifySection.ON.in(map)) {
            if (words.contains(word)) {
                events.add(Event.valueOf(word.toUpperCase(Locale.ROOT)));
            } else {
                map.wrong(
                        "on",
                        "nobody can be told of '" + word + "'",
                        Nearest.word(word, words)
                                .map(near -> "Did you mean '" + near + "'?")
                                .orElse("Write one or several of " + String.join(", ", words)));
            }
        }
        if (map.has("on") && NotifySection.ON.in(map).isEmpty()) {
            map.wrong("on", "'on' names nothing", "Write one or several of " + String.join(", ", words));
        }
        return events;
    }

    private static Optional<LocalTime> digest(YamlMap map) {
        return NotifySection.DIGEST.in(map).flatMap(text -> {
            if (text.matches(TIME)) {
                return Optional.of(LocalTime.parse(text));
            }
            map.wrong("digest", "'" + text + "' is not a time", "Write it like \"07:00\"");
            return Optional.empty();
        });
    }

    private static List<NamePattern> jobs(YamlMap map) {
        List<NamePattern> patterns = new ArrayList<>();
        for (String text : NotifySection.JOBS.in(map)) {
            try {
                patterns.add(NamePattern.of(text));
            } catch (IllegalArgumentException wrong) {
                map.wrong("jobs", wrong.getMessage(), "");
            }
        }
        return patterns;
    }
}
