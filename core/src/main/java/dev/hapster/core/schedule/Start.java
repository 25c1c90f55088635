package dev.hapster.core.schedule;

import java.time.Instant;

/**
 * Why a run starts by itself.
 *
 * @param by what starts it
 * @param due the time by the clock that was due last; null but for {@link By#TIME}
 * @param missed how many times came while nobody could start it
 * @param afterRun the run after which it starts; 0 but for {@link By#AFTER}
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
        AFTER
    }

    public static final Start CALLED = new Start(By.CALL, null, 0, 0);
    public static final Start ARRIVED = new Start(By.ARRIVAL, null, 0, 0);
}
