package dev.hapster.core.store.reject;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RejectedRow;
import dev.hapster.core.row.RejectedRow.Fault;
import dev.hapster.core.store.reject.RejectStore.FileRejects;
import dev.hapster.core.store.reject.RejectStore.Reject;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class RejectStoreTest {

    private static final List<String> NASTY =
            List.of("", ",", "\"", "\r\n", "a\nb", "\u00e4\u20ac", "=1+1", "\t", "x".repeat(100_000), "'");

    @TempDir
    private Path folder;

    private RejectStore store;

    @BeforeEach
    void open() throws IOException {
        store = new RejectStore(folder);
    }

    private static RejectedRow row(long line, String value, String original) {
        return new RejectedRow(
                line,
                line - 1,
                List.of(new Fault("value", value, Reasons.numberUnreadable(value, ""))),
                original,
                List.of("x", value));
    }

    @Test
    void whateverStandsInARowIsReadBackAsItWas() throws IOException {
        List<String> expected = new ArrayList<>();
        try (FileRejects rejects = store.open(1, "north", 1, "a.csv", "/in/a.csv", "in/a.csv")) {
            for (String value : NASTY) {
                for (String original : NASTY) {
                    rejects.row(row(expected.size() + 2L, value, original));
                    expected.add(value + "|" + original);
                }
            }
            assertThat(rejects.rows()).isEqualTo(100);
            rejects.finish();
        }
        store.merge(1, ordinal -> true);
        assertThat(store.read(1, reject -> true, 0, 1000))
                .extracting(reject -> reject.value() + "|" + reject.original())
                .isEqualTo(expected);
        assertThat(store.read(1, reject -> reject.line() > 50, 10, 5))
                .extracting(Reject::line)
                .containsExactly(61L, 62L, 63L, 64L, 65L);
    }

    @Test
    void filesStandInTheirOrderAndOnlyThoseCommittedCount() throws IOException {
        for (int ordinal : new int[] {10, 2, 1, 3}) {
            try (FileRejects rejects =
                    store.open(7, "north", ordinal, "f" + ordinal, "/in/f" + ordinal, "in/f" + ordinal)) {
                rejects.row(row(2, "x", "x"));
                rejects.finish();
            }
        }
        try (FileRejects unfinished = store.open(7, "north", 4, "f4", "/in/f4", "in/f4")) {
            unfinished.row(row(2, "x", "x"));
        }
        Set<Long> committed = Set.of(1L, 2L, 10L);
        store.merge(7, committed::contains);
        store.merge(7, committed::contains); // again, as after a crash
        assertThat(store.read(7, reject -> true, 0, 100))
                .extracting(Reject::file)
                .containsExactly("f1", "f2", "f10");
        assertThat(folder.resolve("rejects/run-7")).doesNotExist();
    }

    @Test
    void aFileRejectedWholeForgetsTheRowsRejectedBefore() throws IOException {
        try (FileRejects rejects = store.open(1, "north", 1, "a.csv", "/in/a.csv", "in/a.csv")) {
            rejects.row(row(2, "x", "x"));
            rejects.file(Reasons.quoteOpen(3), false);
            assertThat(rejects.rows()).isZero();
            rejects.finish();
        }
        store.merge(1, ordinal -> true);
        assertThat(store.read(1, reject -> true, 0, 10)).singleElement().satisfies(reject -> {
            assertThat(reject.line()).isZero();
            assertThat(reject.code()).isEqualTo("quote-open");
        });
    }

    @Test
    void nothingRejectedIsAFileThatSaysSo() throws IOException {
        store.merge(3, ordinal -> true);
        assertThat(Files.readString(store.path(3))).isEqualTo(String.join(",", RejectStore.COLUMNS) + "\r\n");
        assertThat(store.read(3, reject -> true, 0, 10)).isEmpty();
        assertThat(store.read(99, reject -> true, 0, 10)).as("no such run").isEmpty();
    }
}
