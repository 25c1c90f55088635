package dev.hapster.core.schedule;

import java.time.Instant;

/**
 * Why a run starts by itself.
 *
 * @param by what starts it
 * @param due the time by the clock that was due last; null but for {@link By#TIME}
 * @param missed how many times came while nobody could start it
 * @param afterRun the run after which it starts; 0 but for {@link By#AFTER} and {@link By#FAULT}
 */
public record Start(By by, Instant due, long missed, long afterRun) {

    /** What starts a run. */
    public enum By {
        /** Somebody asks for it. */
        CALL,
        /** Its time has come. */
        TIME,
        /** Files have arrived. */
        ARRIVAL,
        /** Another job has run. */
        AFTER,
        /** It failed before, for a fault that may have passed. */
        FAULT
    }

    /** @param run that failed */
    public static Start afterFault(long run) {
        return new Start(By.FAULT, null, 0, run);
    }

    public static final Start CALLED = new Start(By.CALL, null, 0, 0);
    public static final Start ARRIVED = new Start(By.ARRIVAL, null, 0, 0);
}
