package dev.hapster.core.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CancellationException;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ForkJoinPool;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Work that others may do: nobody waits for what has not begun, and everybody for what has. */
@Timeout(60)
class MeanwhileTest {

    @Test
    void whoeverWantsItDoesItWhileAllOthersAreBusy() throws Throwable {
        whileAllOthersAreBusy(() -> {
            Meanwhile<String> work =
                    Meanwhile.begin(() -> Thread.currentThread().getName());

            assertThat(work.get()).isEqualTo(Thread.currentThread().getName());
            assertThat(work.get()).as("asked again").isEqualTo(work.get());
        });
    }

    @Test
    void workThatIsLeftIsLeftHoweverOftenItIsAskedFor() throws Throwable {
        List<String> done = new ArrayList<>();
        whileAllOthersAreBusy(() -> {
            Meanwhile<Boolean> work = Meanwhile.begin(() -> done.add("done"));

            assertThat(work.getIfBegun()).isEmpty();
            assertThat(work.getIfBegun()).isEmpty();
            work.drop();
            assertThatThrownBy(work::get).isInstanceOf(CancellationException.class);
        });
        assertThat(ForkJoinPool.commonPool().awaitQuiescence(10, TimeUnit.SECONDS))
                .isTrue();
        assertThat(done).as("also when the others have time").isEmpty();
    }

    @Test
    void workThatHasBegunIsWaitedForAlsoByWhoeverIsInterrupted() throws Exception {
        CountDownLatch begun = new CountDownLatch(1);
        CountDownLatch mayEnd = new CountDownLatch(1);
        List<String> done = new ArrayList<>();
        Meanwhile<Boolean> work = Meanwhile.begin(() -> {
            begun.countDown();
            mayEnd.await();
            return done.add("done");
        });
        begun.await();
        Thread other = new Thread(mayEnd::countDown);
        Thread.currentThread().interrupt();
        other.start();

        work.drop();

        assertThat(Thread.interrupted()).as("that it was interrupted is kept").isTrue();
        assertThat(done).containsExactly("done");
        assertThat(work.getIfBegun()).contains(true);
        other.join();
    }

    @Test
    void aFaultOfTheWorkIsThatOfWhoeverWantsIt() {
        Meanwhile<String> work = Meanwhile.begin(() -> {
            throw new IOException("the disk is gone");
        });

        assertThatThrownBy(work::get).isInstanceOf(IOException.class).hasMessage("the disk is gone");
        work.drop();
    }

    @Test
    void eachPieceIsDoneOnceAndAFaultIsToldWhenNobodyIsAtWork() {
        int[] done = new int[10_000];
        Together.each(done.length, true, piece -> done[piece]++);
        assertThat(done).containsOnly(1);

        AtomicInteger atWork = new AtomicInteger();
        assertThatThrownBy(() -> Together.each(done.length, true, piece -> {
                    atWork.incrementAndGet();
                    done[piece]++;
                    atWork.decrementAndGet();
                    if (piece % 100 == 50) {
                        throw new IllegalStateException("piece " + piece);
                    }
                }))
                .isInstanceOf(IllegalStateException.class)
                .hasMessageStartingWith("piece ");
        assertThat(atWork).hasValue(0);
        assertThat(done).contains(1).doesNotContain(3);
    }

    private static void whileAllOthersAreBusy(ThrowingCallable act) throws Throwable {
        int others = ForkJoinPool.getCommonPoolParallelism();
        CountDownLatch busy = new CountDownLatch(others);
        CountDownLatch over = new CountDownLatch(1);
        for (int i = 0; i < others; i++) {
            ForkJoinPool.commonPool().execute(() -> {
                busy.countDown();
                try {
                    over.await();
                } catch (InterruptedException hurried) {
                    Thread.currentThread().interrupt();
                }
            });
        }
        busy.await();
        try {
            act.call();
        } finally {
            over.countDown();
        }
    }
}
