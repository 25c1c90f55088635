package dev.hapster.core.notify;

import dev.hapster.core.pattern.NamePattern;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Somebody is told of something.
 *
 * @param by the account by which messages are sent
 * @param to addresses, where that is one for mail
 * @param digest the time by the clock at which all messages of a day are sent as one; empty where each is sent at once
 * @param zone of that time
 * @param jobs patterns of the names of jobs that it is about; empty for the job in which it stands, or all
 */
public record Notice(
        String by, List<String> to, Set<Event> on, Optional<LocalTime> digest, ZoneId zone, List<NamePattern> jobs) {

    public Notice {
        to = List.copyOf(to);
        on = Set.copyOf(on);
        jobs = List.copyOf(jobs);
    }

    /** Whether it is about a job. */
    public boolean isAbout(String job) {
        return jobs.isEmpty() || jobs.stream().anyMatch(pattern -> pattern.matches(job));
    }
}
