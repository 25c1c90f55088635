package dev.hapster.service.log;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.log.RunLogs.Lines;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Logs are read in pieces while they are written, and survive a kill in mid-line. */
class RunLogTest {

    @TempDir
    private Path workspace;

    private RunLogs logs;

    @BeforeEach
    void begin() throws IOException {
        logs = new RunLogs(new Workspace(workspace), Clock.systemUTC());
    }

    private static List<String> texts(Lines lines) {
        return lines.lines().stream().map(LogLine::text).toList();
    }

    @Test
    void isReadInPiecesFromWhereTheLastOneEnded() throws IOException {
        try (RunLog log = logs.open(1)) {
            List<String> written = new ArrayList<>();
            List<String> read = new ArrayList<>();
            long next = 0;
            for (int i = 0; i < 100; i++) {
                String text = "line " + i + " with ž and \n in it";
                log.said(LogLevel.INFO, text);
                written.add(text);
                if (i % 7 == 0) {
                    Lines piece = logs.read(1, next, 5, LogLevel.INFO);
                    read.addAll(texts(piece));
                    next = piece.next();
                }
            }
            Lines piece;
            do {
                piece = logs.read(1, next, 5, LogLevel.INFO);
                read.addAll(texts(piece));
                next = piece.next();
            } while (piece.more());
            assertThat(read).isEqualTo(written);
            assertThat(texts(logs.read(1, 10, 1, LogLevel.INFO)))
                    .as("from within a line: the next one")
                    .containsExactly(written.get(1));
            assertThat(logs.read(1, Long.MAX_VALUE, 5, LogLevel.INFO).lines()).isEmpty();
        }
    }

    @Test
    void aLineThatWasCutOffIsPassedOverAndWhatComesLaterIsRead() throws IOException {
        logs.open(1).said(LogLevel.WARN, "before");
        logs.close(1);
        Files.writeString(logs.path(1), "{\"at\":\"20", StandardOpenOption.APPEND);
        Lines torn = logs.read(1, 0, 10, LogLevel.INFO);
        assertThat(texts(torn)).containsExactly("before");
        assertThat(torn.more()).isFalse();
        logs.open(1).said(LogLevel.ERROR, "after");
        logs.close(1);
        assertThat(texts(logs.read(1, torn.next(), 10, LogLevel.INFO))).containsExactly("after");
        assertThat(texts(logs.read(1, 0, 10, LogLevel.ERROR))).containsExactly("after");
    }

    @Test
    void aRunWithTheNumberOfOneThatIsForgottenBeginsAnew() throws IOException {
        logs.begin(1).said(LogLevel.INFO, "of a run that a lost catalogue knew");
        logs.close(1);
        logs.begin(1).said(LogLevel.INFO, "of this one");
        logs.close(1);
        assertThat(texts(logs.read(1, 0, 10, LogLevel.INFO))).containsExactly("of this one");
    }

    @Test
    void veryManyLinesEndWithAWordAboutThat() throws IOException {
        int most = 100_000;
        try (RunLog log = logs.open(1)) {
            for (int i = 0; i < most + 10; i++) {
                log.said(LogLevel.INFO, "x");
            }
            log.brokenOff("it ended");
            log.brokenOff("it ended");
        }
        try (var lines = Files.lines(logs.path(1))) {
            List<String> all = lines.toList();
            assertThat(all).hasSize(most + 2);
            assertThat(all.get(most)).contains("further files have none");
            assertThat(all.get(most + 1)).contains("it ended");
        }
    }

    @Test
    void aLogThatCannotBeWrittenSaysSoOnceAndKeepsNobodyFromRunning() throws IOException {
        Files.delete(workspace.resolve("store/logs"));
        try (RunLog log = logs.open(1)) {
            log.started("it begins");
            log.said(LogLevel.INFO, "it goes on");
            assertThat(log.trouble())
                    .hasValueSatisfying(trouble -> assertThat(trouble).contains("run-1.jsonl cannot be written"));
        }
        assertThat(logs.read(1, 0, 10, LogLevel.INFO).lines()).isEmpty();
    }
}
