package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.section.JobSection;
import dev.hapster.core.definition.yaml.YamlMap;
import dev.hapster.core.pattern.Durations;
import dev.hapster.core.schedule.Faults;
import java.time.Duration;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads {@code faults}. */
final class FaultsParser {

    private static final Pattern FORM = Pattern.compile("(.+?)(?:\\s+to\\s+(.+))?");
    private static final Duration LONGEST = Duration.ofDays(1);

    private FaultsParser() {}

    static Optional<Faults> faults(YamlMap root) {
        return JobSection.FAULTS.in(root).map(FaultsParser::read);
    }

    private static Faults read(YamlMap map) {
        int tries = JobSection.Faults.TRIES.in(map);
        Matcher form = FORM.matcher(JobSection.Faults.PAUSE.in(map).strip());
        try {
            if (form.matches()) {
                Duration first = Durations.parse(form.group(1));
                Duration longest = form.group(2) == null ? first : Durations.parse(form.group(2));
                if (first.compareTo(Duration.ofSeconds(1)) >= 0
                        && first.compareTo(longest) <= 0
                        && longest.compareTo(LONGEST) <= 0) {
                    return new Faults(tries, first, longest);
                }
            }
            map.wrong("pause", "'pause' goes from at least a second to at most a day", "Such as `10s to 10 min`");
        } catch (IllegalArgumentException wrong) {
            map.wrong("pause", wrong.getMessage(), "Such as `10s to 10 min`");
        }
        return new Faults(tries, Duration.ofSeconds(1), Duration.ofSeconds(1));
    }
}
