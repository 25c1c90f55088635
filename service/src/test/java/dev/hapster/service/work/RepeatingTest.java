package dev.hapster.service.work;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.slf4j.LoggerFactory;

class RepeatingTest {

    private static final String NAME = "repeating-test";

    @Test
    void aPauseDelaysNoEndAndATroubleEndsNothing() throws Exception {
        CountDownLatch often = new CountDownLatch(3);
        Repeating quick = repeating(1, () -> {
            often.countDown();
            if (often.getCount() == 1) {
                throw new OutOfMemoryError("others hold it");
            }
            throw new IOException("again");
        });
        assertThat(often.await(30, TimeUnit.SECONDS)).isTrue();
        quick.stop();

        AtomicInteger turns = new AtomicInteger();
        CountDownLatch once = new CountDownLatch(1);
        Repeating slow = repeating(TimeUnit.DAYS.toMillis(1), () -> {
            turns.incrementAndGet();
            once.countDown();
        });
        once.await();
        slow.stop();
        assertThat(slow.isStopping()).isTrue();
        assertThat(turns).hasValue(1);
        assertThat(Thread.getAllStackTraces().keySet())
                .noneMatch(thread -> thread.getName().equals(NAME));
    }

    private static Repeating repeating(long pause, Repeating.Turn turn) {
        Repeating repeating =
                new Repeating(NAME, pause, turn, LoggerFactory.getLogger(RepeatingTest.class), "A turn has failed");
        repeating.start();
        return repeating;
    }
}
