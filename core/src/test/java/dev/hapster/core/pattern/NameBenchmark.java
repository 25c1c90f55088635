package dev.hapster.core.pattern;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.function.Predicate;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;

/**
 * Matches 200,000 names by a pattern, with the program that it becomes ({@link NameProgram}) beside regular expressions
 * that say the same: RE2 in linear time, and Java's own, which may take exponential time. Prints ratios.
 */
@Tag("benchmark")
class NameBenchmark {

    private static final int NAMES = 200_000;
    private static final int ROUNDS = 9;

    @Test
    void aPatternIsMatchedBesideRegularExpressions() {
        List<String> names = new ArrayList<>();
        for (int i = 0; i < NAMES; i++) {
            names.add("station-" + i % 97 + "/VS-" + i % 1000 + "-202" + i % 10 + String.format("%02d", 1 + i % 12)
                    + (i % 3 == 0 ? "17" : "x7") + "-part" + i + (i % 5 == 0 ? ".txt" : ".csv"));
        }
        NamePattern ours = NamePattern.of("station-*/{station}-{day:yyyyMMdd}-*.csv", false);
        String regex = "station-[^/]*/(?P<station>[^/]+?)-(?P<day>[0-9]{8})-[^/]*[.]csv";
        com.google.re2j.Pattern re2 = com.google.re2j.Pattern.compile(regex);
        java.util.regex.Pattern own = java.util.regex.Pattern.compile(regex.replace("?P<", "?<"));
        double[] times = new double[3];
        double[][] rounds = new double[3][ROUNDS];
        for (int round = 0; round < ROUNDS; round++) {
            rounds[0][round] = seconds(names, name -> ours.matches(name));
            rounds[1][round] = seconds(names, name -> re2.matcher(name).matches());
            rounds[2][round] = seconds(names, name -> own.matcher(name).matches());
        }
        for (int i = 0; i < 3; i++) {
            Arrays.sort(rounds[i]);
            times[i] = rounds[i][ROUNDS / 2];
        }
        System.out.printf(
                Locale.ROOT,
                "%,d names by a pattern with two pieces: %.3f s; RE2 takes %.1f times as long, Java's regular expressions %.1f "
                        + "times (medians)%n",
                NAMES,
                times[0],
                times[1] / times[0],
                times[2] / times[0]);
    }

    private static double seconds(List<String> names, Predicate<String> matches) {
        long start = System.nanoTime();
        long found = names.stream().filter(matches).count();
        assertThat(found).as(names.get(3)).isBetween(1L, (long) NAMES);
        return (System.nanoTime() - start) / 1e9;
    }
}
