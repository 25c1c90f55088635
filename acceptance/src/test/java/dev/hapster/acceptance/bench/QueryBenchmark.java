package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.Postgres;
import dev.hapster.acceptance.TestService;
import dev.hapster.demo.LargeFiles;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Asks 12,000,000 rows of 10 columns, loaded from 12 files, through the running service and in PostgreSQL, in turn:
 * counts by one column and by two, the 100 largest, the first 100 rows for a condition. Each answer is compared. Run by
 * {@code ./dev bench Query}.
 */
@Tag("benchmark")
class QueryBenchmark {

    private static final int ROWS = 12_000_000;
    private static final int FILES = 12;
    private static final int ROUNDS = 7;

    @TempDir
    private Path folder;

    /**
     * A question.
     *
     * @param path of the service
     * @param sql for PostgreSQL, with the values that {@code sees} looks for in one column, in order
     * @param times how many times as fast as PostgreSQL it is to be
     */
    private record Question(String words, String path, String sql, Sees sees, double times) {}

    private interface Sees {
        List<String> in(JsonNode answer);
    }

    private static List<String> groups(JsonNode answer) {
        List<String> rows = new ArrayList<>();
        answer.path("groups").forEach(group -> rows.add(group.path("rows").asText()));
        return rows;
    }

    private static List<String> ids(JsonNode answer) {
        List<String> rows = new ArrayList<>();
        answer.path("rows").forEach(row -> rows.add(row.path(5).asText()));
        return rows;
    }

    private static final List<Question> QUESTIONS = List.of(
            new Question(
                    "counts by one column",
                    "counts?by=lab",
                    "SELECT count(*) FROM samples GROUP BY lab ORDER BY lab",
                    QueryBenchmark::groups,
                    5),
            new Question(
                    "counts by two columns",
                    "counts?by=lab&by=parameter",
                    "SELECT count(*) FROM samples GROUP BY lab, parameter ORDER BY lab, parameter",
                    QueryBenchmark::groups,
                    4),
            new Question(
                    "counts by the month of a column",
                    "counts?by=sampled_at:month",
                    "SELECT count(*) FROM samples GROUP BY date_trunc('month', sampled_at) "
                            + "ORDER BY date_trunc('month', sampled_at)",
                    QueryBenchmark::groups,
                    4),
            new Question(
                    "sums and means by one column",
                    "counts?by=lab&measures=sum(value)&measures=mean(value)&measures=max(sampled_at)",
                    "SELECT sum(value), avg(value), max(sampled_at) FROM samples GROUP BY lab ORDER BY lab",
                    answer -> {
                        List<String> sums = new ArrayList<>();
                        answer.path("groups")
                                .forEach(group -> sums.add(group.path("measures")
                                        .path(0)
                                        .decimalValue()
                                        .toPlainString()));
                        return sums;
                    },
                    4),
            new Question(
                    "counts for one of two conditions",
                    "counts?by=lab&where=value%20%3E%3D%2040%20or%20station%20in%20(VS-001,VS-002)",
                    "SELECT count(*) FROM samples WHERE value >= 40 OR station IN ('VS-001', 'VS-002') "
                            + "GROUP BY lab ORDER BY lab",
                    QueryBenchmark::groups,
                    4),
            new Question(
                    "the 100 largest",
                    "rows?sort=-value&sort=sample_id&total=false",
                    "SELECT sample_id, * FROM samples ORDER BY value DESC NULLS LAST, sample_id LIMIT 100",
                    QueryBenchmark::ids,
                    1),
            new Question(
                    "how many satisfy a condition",
                    "rows?limit=0&where=value%20%3E%3D%2040",
                    "SELECT count(*) FROM samples WHERE value >= 40",
                    answer -> List.of(answer.path("total").asText()),
                    4));

    @Test
    void asksTwelveMillionRows() throws Exception {
        Path workspace = folder.resolve("workspace");
        List<Path> files = LargeFiles.write(workspace.resolve("inbox"), FILES, ROWS);
        LoadBenchmark.define(workspace, "samples", "inbox");
        try (Postgres postgres = Postgres.start(folder.resolve("postgres"));
                TestService service = Measured.start(workspace)) {
            postgres.mayRead(folder, workspace, workspace.resolve("inbox"));
            LoadBenchmark.hapster(service, "samples", ROWS);
            postgres.sql(LoadBenchmark.TABLE.formatted(0).replace("samples0", "samples"));
            for (Path file : files) {
                postgres.sql("COPY samples FROM '" + file + "' WITH (FORMAT csv, HEADER true)");
                Files.delete(file);
            }
            postgres.sql("VACUUM ANALYZE samples");
            System.out.printf(
                    Locale.ROOT, "%n%,d rows, %d files; %d rounds, each in turn, seconds%n", ROWS, FILES, ROUNDS);
            for (Question question : QUESTIONS) {
                ask(question, service, postgres);
            }
            firstPage(service);
            profile(service, postgres);
            System.out.printf(
                    Locale.ROOT, "service's peak memory %d MB with -Xmx512m%n", Measured.peakMegabytes(service.pid()));
        }
    }

    private static void ask(Question question, TestService service, Postgres postgres) throws Exception {
        double[] ours = new double[ROUNDS];
        double[] theirs = new double[ROUNDS];
        for (int round = 0; round < ROUNDS; round++) {
            // what was asked before is remembered for pages that follow: each round asks anew
            String path = "/datasets/samples/" + question.path + (question.path.startsWith("rows") ? anew(round) : "");
            long start = System.nanoTime();
            JsonNode answer = service.get(path);
            ours[round] = (System.nanoTime() - start) / 1e9;
            start = System.nanoTime();
            List<String> lines = postgres.sql(question.sql)
                    .lines()
                    .map(line -> line.split("\\|")[0])
                    .toList();
            theirs[round] = (System.nanoTime() - start) / 1e9;
            assertThat(question.sees.in(answer)).as(question.words).isEqualTo(lines);
        }
        double ratio = Measured.median(theirs) / Measured.median(ours);
        System.out.printf(
                Locale.ROOT,
                "%-32s Hapster %.3f (first %.3f), PostgreSQL %.3f: %.1f times as fast (goal %.0f)%n",
                question.words,
                Measured.median(ours),
                ours[0],
                Measured.median(theirs),
                ratio,
                question.times);
    }

    /** All columns, and in PostgreSQL a part of what is found out of them. */
    private static void profile(TestService service, Postgres postgres) throws Exception {
        double[] ours = new double[3];
        List<String> columns = new ArrayList<>();
        for (int round = 0; round < ours.length; round++) {
            long start = System.nanoTime();
            JsonNode answer = service.get("/datasets/samples/profile");
            ours[round] = (System.nanoTime() - start) / 1e9;
            columns.clear();
            for (JsonNode column : answer.path("columns")) {
                assertThat(column.path("rows").asInt()).isEqualTo(ROWS);
                if (!column.path("type").asText().equals("boolean")) { // PostgreSQL has no smallest one of these
                    columns.add(column.path("name").asText());
                }
            }
        }
        String each = columns.stream()
                .map(column -> "count(" + column + "), count(DISTINCT " + column + "), min(" + column + "), max("
                        + column + ")")
                .collect(Collectors.joining(", "));
        long start = System.nanoTime();
        postgres.sql("SELECT " + each + " FROM samples");
        double theirs = (System.nanoTime() - start) / 1e9;
        System.out.printf(
                Locale.ROOT,
                "profile of all columns, %d of them in PostgreSQL: Hapster %.2f s (first %.2f; goal 10 for 10,000,000 rows), PostgreSQL's counts, "
                        + "different, smallest and largest values %.1f s: %.1f times as fast%n",
                columns.size(),
                Measured.median(ours),
                ours[0],
                theirs,
                theirs / Measured.median(ours));
    }

    /** A condition that all rows satisfy, another one in each round. */
    private static String anew(int round) {
        return "&where=_line%20%3E%20-" + (round + 1);
    }

    private static void firstPage(TestService service) throws Exception {
        double[] warm = new double[5 * ROUNDS];
        for (int round = 0; round < warm.length; round++) {
            long start = System.nanoTime();
            JsonNode answer = service.get("/datasets/samples/rows?total=false&where=value%20%3E%20" + round);
            warm[round] = (System.nanoTime() - start) / 1e9;
            assertThat(answer.path("rows").size()).isEqualTo(100);
        }
        System.out.printf(
                Locale.ROOT,
                "the first 100 rows for a condition, each time another one: %.1f ms median, first %.1f ms (goal 30)%n",
                Measured.median(warm) * 1000,
                warm[0] * 1000);
    }
}
