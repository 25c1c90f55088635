package dev.hapster.service.api.schedule;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.definition.explain.Explanation;
import dev.hapster.core.schedule.Progress.Pause;
import dev.hapster.core.schedule.When;
import dev.hapster.service.schedule.Scheduler;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.ws.rs.BadRequestException;
import java.io.IOException;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Makes schedules ready to be shown. */
@ApplicationScoped
class ScheduleViews {

    private static final int MOST_TIMES = 1000;

    private final Scheduler scheduler;
    private final Clock clock;

    ScheduleViews(Scheduler scheduler, Clock clock) {
        this.scheduler = scheduler;
        this.clock = clock;
    }

    /**
     * Nothing starts by itself.
     *
     * @param until absent until somebody ends it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record PauseView(Instant since, Instant until, String because) {}

    /**
     * When a job runs by itself.
     *
     * @param declared whether its file says anything of it
     * @param words what its file says, in sentences
     * @param starts what starts it, each way in a few words
     * @param zone time zone of its times; absent where it has none
     * @param next the next times by the clock, the earliest first
     * @param arrival whether it runs when files arrive
     * @param after jobs after which it runs
     * @param pause absent where it is not paused
     * @param troubles what keeps it from running as declared, a sentence each
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ScheduleView(
            String job,
            boolean declared,
            List<String> words,
            List<String> starts,
            String zone,
            List<Instant> next,
            boolean arrival,
            List<String> after,
            PauseView pause,
            List<String> troubles) {}

    static int checked(Integer times, int usual) {
        if (times != null && (times < 0 || times > MOST_TIMES)) {
            throw new BadRequestException("times must be from 0 to " + MOST_TIMES);
        }
        return times == null ? usual : times;
    }

    /** @param count how many of the next times are found */
    ScheduleView of(String job, int count) throws IOException {
        return of(job, Optional.ofNullable(scheduler.declared().get(job)), count, scheduler.troubles(job));
    }

    /**
     * All jobs.
     *
     * @param count how many of the next times of each are found
     */
    List<ScheduleView> all(Set<String> jobs, int count) throws IOException {
        Map<String, When> declared = scheduler.declared();
        return jobs.stream()
                .map(job -> of(job, Optional.ofNullable(declared.get(job)), count, scheduler.troubles(job, jobs)))
                .toList();
    }

    private ScheduleView of(String job, Optional<When> when, int count, List<String> troubles) {
        Optional<Pause> pause = scheduler.pause(job);
        // within a pause nothing starts; what is due at its end is the next
        Instant from = pause.flatMap(Pause::until).orElse(clock.instant());
        return view(
                job,
                when,
                pause.isPresent() && pause.get().until().isEmpty() ? List.of() : times(when, from, count),
                pause,
                troubles);
    }

    /** The same of a declaration that is not saved. */
    ScheduleView of(String job, Optional<When> when, int count) {
        return view(job, when, times(when, clock.instant(), count), Optional.empty(), List.of());
    }

    private static List<Instant> times(Optional<When> when, Instant from, int count) {
        return when.map(declared -> declared.next(from, count)).orElse(List.of());
    }

    private static ScheduleView view(
            String job, Optional<When> when, List<Instant> next, Optional<Pause> pause, List<String> troubles) {
        return new ScheduleView(
                job,
                when.isPresent(),
                Explanation.when(when),
                when.map(Explanation::starts).orElse(List.of()),
                when.map(declared -> declared.zone().getId()).orElse(null),
                next,
                when.flatMap(When::arrival).isPresent(),
                when.map(When::after).orElse(List.of()),
                pause.map(one -> new PauseView(one.since(), one.until().orElse(null), one.because()))
                        .orElse(null),
                troubles);
    }
}
