package dev.hapster.core.find;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import dev.hapster.core.definition.Completeness;
import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.NameList;
import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.pattern.TimeRange;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.Size;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class FinderTest {

    private static final Instant NOW = Instant.parse("2026-03-15T12:00:00Z");

    @TempDir
    private Path root;

    private Path workspace;

    @BeforeEach
    void files() throws IOException {
        workspace = root.resolve("workspace");
        for (String name : List.of(
                "in/a-1.csv",
                "in/a-1 - copy.csv",
                "in/notes.txt",
                "in/2026/a-2.csv",
                "in/2026/q1/a-3.csv",
                "other/b.csv")) {
            Files.createDirectories(workspace.resolve(name).getParent());
            Files.writeString(workspace.resolve(name), "x");
        }
    }

    private Finding find(Place... places) throws IOException {
        return new Finder(
                        workspace,
                        Roots.of(List.of(workspace)),
                        (file, list) -> List.of(),
                        Nothing.INSIDE,
                        Clock.fixed(NOW, ZoneOffset.UTC))
                .find(List.of(places));
    }

    private static Place place(String folder, int depth, List<String> skip, String... take) {
        List<FindRule> rules = new ArrayList<>();
        if (!skip.isEmpty()) {
            rules.add(new FindRule.Skip(skip.stream().map(NamePattern::of).toList()));
        }
        rules.add(new FindRule.Take(Stream.of(take).map(NamePattern::of).toList()));
        return new Place(folder, depth, rules, Optional.of(ZoneOffset.UTC));
    }

    private static Place rules(int depth, FindRule... rules) {
        return new Place("in", depth, List.of(rules), Optional.of(ZoneOffset.UTC));
    }

    @Test
    void everyFileIsTakenOrLeftByARuleThatIsNamed() throws IOException {
        assertThat(find(place("in", 0, List.of("*copy*"), "a-*.csv")).candidates())
                .extracting(Candidate::relative, Candidate::taken, Candidate::rule)
                .containsExactly(
                        tuple("a-1 - copy.csv", false, "skip \"*copy*\""),
                        tuple("a-1.csv", true, "take \"a-*.csv\""),
                        tuple("notes.txt", false, "no take pattern matches"));
    }

    @Test
    void filesThatArePassedOverForALittleAreNamed() throws IOException {
        Files.writeString(workspace.resolve("in/A-2.CSV"), "x");
        Place lower = place("in", 0, List.of(), "a-*.csv");
        assertThat(find(lower).nearlyTaken())
                .containsExactly("A-2.CSV is not taken: only case differs from \"a-*.csv\"; any_case: true takes it");
        assertThat(find(lower, place("in", 0, List.of(), "*.CSV")).nearlyTaken())
                .as("another place takes it")
                .isEmpty();
        FindRule take = new FindRule.Take(List.of(NamePattern.of("a-*.csv")));
        FindRule skip = new FindRule.Skip(List.of(NamePattern.of("*.CSV")));
        assertThat(find(rules(0, take, skip)).nearlyTaken())
                .as("it is meant to be skipped")
                .isEmpty();
        assertThat(find(place("in", 0, List.of(), "a-2.csv!/*")).nearlyTaken())
                .as("an archive")
                .containsExactly("A-2.CSV is not taken: only case differs from \"a-2.csv\"; any_case: true takes it");
        for (int i = 3; i < 9; i++) {
            Files.writeString(workspace.resolve("in/A-" + i + ".CSV"), "x");
        }
        assertThat(find(lower).nearlyTaken())
                .hasSize(5)
                .last()
                .isEqualTo("Nor are 3 more files, of which the names differ as little");
    }

    @Test
    void subfoldersAreSearchedToTheStatedDepthOnly() throws IOException {
        assertThat(find(place("in", 1, List.of(), "a-?.csv")).taken())
                .extracting(Candidate::relative)
                .containsExactly("2026/a-2.csv", "a-1.csv");
        assertThat(find(place("in", 2, List.of(), "2026/**")).taken())
                .extracting(Candidate::relative)
                .containsExactly("2026/a-2.csv", "2026/q1/a-3.csv");
    }

    @Test
    void aFileThatTwoPlacesReachIsTakenOnce() throws IOException {
        Finding finding = find(
                place("in", 0, List.of(), "a-1.csv"),
                place("in", 1, List.of(), "a-?.csv"),
                place("other", 0, List.of(), "*"));
        assertThat(finding.taken())
                .extracting(Candidate::place, Candidate::relative)
                .containsExactly(tuple(1, "a-1.csv"), tuple(2, "2026/a-2.csv"), tuple(3, "b.csv"));
        assertThat(finding.skipped())
                .extracting(Candidate::rule)
                .contains("taken already, by an earlier place or link");
    }

    @Test
    void foldersOutsideTheRootsAreRefusedHoweverTheyAreReached() throws IOException {
        Path outside = Files.createDirectories(root.resolve("outside"));
        Files.writeString(outside.resolve("secret.csv"), "x");
        Files.createSymbolicLink(workspace.resolve("in/link.csv"), outside.resolve("secret.csv"));
        Files.createSymbolicLink(workspace.resolve("linked"), outside);

        for (String folder : List.of("../outside", outside.toString(), "linked", "../nowhere")) {
            assertThat(find(place(folder, 0, List.of(), "*")).troubles())
                    .as(folder)
                    .singleElement()
                    .satisfies(trouble ->
                            assertThat(trouble.what()).contains("outside the folders that the service may use"));
        }
        assertThat(find(place("in", 0, List.of(), "link.csv")).skipped())
                .filteredOn(file -> file.relative().equals("link.csv"))
                .singleElement()
                .satisfies(
                        file -> assertThat(file.rule()).startsWith("a link to ").endsWith("outside the roots"));
    }

    @Test
    void missingFoldersAndFilesInTheirPlaceAreGrave() throws IOException {
        assertThat(find(place("nowhere", 0, List.of(), "*")).troubles())
                .singleElement()
                .satisfies(trouble -> assertThat(trouble.grave()).isTrue())
                .extracting(Finding.Trouble::what)
                .asString()
                .endsWith("does not exist");
        assertThat(find(place("in/a-1.csv", 0, List.of(), "*")).troubles())
                .singleElement()
                .extracting(Finding.Trouble::what)
                .asString()
                .endsWith("is a file, not a folder");
    }

    @Test
    void aTreeThatIsTooLargeStopsTheSearchAndSaysSo() throws IOException {
        Place narrow = new Place(
                "in",
                5,
                List.of(),
                Optional.empty(),
                Optional.empty(),
                Completeness.USUAL,
                false,
                3,
                Optional.empty(),
                Optional.empty(),
                Optional.empty());
        Finding finding = find(narrow);
        assertThat(finding.troubles())
                .singleElement()
                .extracting(Finding.Trouble::what)
                .asString()
                .contains("more than 3 entries");
    }

    /** Files of 10, 20, … bytes, written 1, 2, … days before the present. */
    private void aged(String... names) throws IOException {
        for (int i = 0; i < names.length; i++) {
            Path file = workspace.resolve("in").resolve(names[i]);
            Files.createDirectories(file.getParent());
            Files.writeString(file, "x".repeat(10 * (i + 1)));
            Files.setLastModifiedTime(file, FileTime.from(NOW.minus(Duration.ofDays(i + 1))));
        }
    }

    @Test
    void rulesActInTheirOrderAndTheCountsSayWhatRemainsAfterEach() throws IOException {
        aged("Run-1.CSV", "run-2.csv", "run-3.csv", "run-4.csv", "run-5.csv", "run-6.csv");
        FindRule take = new FindRule.Take(List.of(NamePattern.regex("run-[0-9]\\.csv", true)));
        FindRule week = new FindRule.Modified(TimeRange.of("last 5 days"));
        FindRule size = new FindRule.Size(20L, Long.MAX_VALUE, "from 20 B");
        FindRule newest = new FindRule.Rank(FindRule.Order.NEWEST, 2, false);

        Finding finding = find(rules(0, take, week, size, newest));
        assertThat(finding.taken()).extracting(Candidate::relative).containsExactly("run-2.csv", "run-3.csv");
        assertThat(finding.counts()).singleElement().satisfies(sieve -> {
            assertThat(sieve.seen()).isEqualTo(9);
            assertThat(sieve.steps())
                    .extracting(RuleCounts.Step::rule, RuleCounts.Step::removed, RuleCounts.Step::remain)
                    .containsExactly(
                            tuple("take regex \"run-[0-9]\\.csv\"", 3L, 6L),
                            tuple("modified last 5 days", 1L, 5L),
                            tuple("size from 20 B", 1L, 4L),
                            tuple("rank newest 2", 2L, 2L));
        });
        assertThat(find(rules(0, take, newest, size)).taken())
                .as("rank before size: other files")
                .extracting(Candidate::relative)
                .containsExactly("run-2.csv");
        assertThat(find(rules(0, take, new FindRule.Size(0, 1, "to 1 B"), newest))
                        .counts()
                        .get(0)
                        .steps())
                .extracting(RuleCounts.Step::remain)
                .containsExactly(6L, 0L, 0L);
    }

    @Test
    void rankCanBePerFolder() throws IOException {
        aged("a/1.txt", "a/2.txt", "b/3.txt", "b/4.txt");
        FindRule take = new FindRule.Take(List.of(NamePattern.of("?.txt")));
        assertThat(find(rules(1, take, new FindRule.Rank(FindRule.Order.LARGEST, 1, true)))
                        .taken())
                .extracting(Candidate::relative)
                .containsExactly("a/2.txt", "b/4.txt");
        assertThat(find(rules(1, take, new FindRule.Rank(FindRule.Order.OLDEST, 1, false)))
                        .taken())
                .extracting(Candidate::relative)
                .containsExactly("b/4.txt");
    }

    @Property(tries = 100)
    void aFurtherRuleNeverAddsAFileAndTheCountsSum(
            @ForAll @Size(max = 12) List<@IntRange(max = 40) Integer> sizes,
            @ForAll @IntRange(max = 300) int from,
            @ForAll @IntRange(min = 1, max = 5) int count,
            @ForAll FindRule.Order order) {
        List<Listing.Entry> entries = new ArrayList<>();
        for (int i = 0; i < sizes.size(); i++) {
            Path path = Path.of("/in/f" + i);
            entries.add(new Listing.Entry(
                    path,
                    path,
                    "f" + i,
                    10L * sizes.get(i),
                    NOW.minusSeconds(sizes.get(i)),
                    BirthTime.known(NOW),
                    Optional.empty()));
        }
        List<FindRule> all = List.of(
                new FindRule.Take(List.of(NamePattern.of("f*"))),
                new FindRule.Skip(List.of(NamePattern.of("*3"))),
                new FindRule.Size(from, Long.MAX_VALUE, "from"),
                new FindRule.Modified(TimeRange.of("last 1 minute")),
                new FindRule.Rank(order, count, false));
        Set<String> before = null;
        for (int n = 1; n <= all.size(); n++) {
            RuleFilter filter = new RuleFilter(
                    1,
                    new Place("in", 0, all.subList(0, n), Optional.empty()),
                    new Listing(entries, List.of(), Map.of(), -1, NOW));
            RuleCounts sieve = filter.sift(NOW, new HashSet<>());
            Set<String> taken = filter.candidates().stream()
                    .filter(Candidate::taken)
                    .map(Candidate::relative)
                    .collect(Collectors.toSet());
            assertThat(before == null || before.containsAll(taken)).isTrue();
            assertThat(sieve.seen()
                            - sieve.steps().stream()
                                    .mapToLong(RuleCounts.Step::removed)
                                    .sum())
                    .isEqualTo(taken.size());
            before = taken;
        }
    }

    @Test
    void linksToFoldersAreFollowedInsideTheRootsAndNeverInCircles() throws IOException {
        Files.createSymbolicLink(workspace.resolve("in/elsewhere"), workspace.resolve("other"));
        Files.createSymbolicLink(workspace.resolve("in/2026/up"), workspace.resolve("in"));
        Files.createSymbolicLink(workspace.resolve("in/self"), workspace.resolve("in/self"));
        Files.createSymbolicLink(workspace.resolve("in/out"), Files.createDirectories(root.resolve("outside")));
        Finding finding = find(place("in", 9, List.of(), "*"));
        assertThat(finding.taken())
                .extracting(Candidate::relative)
                .containsExactly(
                        "2026/a-2.csv", "2026/q1/a-3.csv", "a-1 - copy.csv", "a-1.csv", "elsewhere/b.csv", "notes.txt");
        assertThat(finding.skipped())
                .extracting(Candidate::relative, Candidate::rule)
                .contains(
                        tuple("2026/up", "a link to a folder that is searched already"),
                        tuple("out", "a link to " + root.resolve("outside") + ", outside the roots"))
                .hasSize(3);
        assertThat(find(place("in", 0, List.of(), "*")).taken())
                .as("a linked folder is a subfolder")
                .extracting(Candidate::relative)
                .doesNotContain("elsewhere/b.csv");
    }

    @Test
    void theFileItselfIsTakenRatherThanALinkToIt() throws IOException {
        Files.createSymbolicLink(workspace.resolve("in/a-0.csv"), workspace.resolve("in/a-1.csv"));
        Finding finding = find(place("in", 0, List.of(), "a-?.csv"));
        assertThat(finding.taken()).extracting(Candidate::relative).containsExactly("a-1.csv");
        assertThat(finding.skipped())
                .extracting(Candidate::relative, Candidate::rule)
                .contains(tuple("a-0.csv", "taken already, by an earlier place or link"));
    }

    @Test
    void theSystemTellsWhenAFileWasCreatedAndWhoWritesIt() throws Exception {
        Path file = workspace.resolve("in/grows.csv");
        Process writer =
                new ProcessBuilder("sh", "-c", "exec 3>>'" + file + "'; echo x >&3; echo ready; read wait").start();
        try {
            assertThat(writer.inputReader().readLine()).isEqualTo("ready");
            Files.setLastModifiedTime(file, FileTime.from(NOW.minus(Duration.ofDays(9))));
            assertThat(find(place("in", 0, List.of(), "grows.csv")).taken())
                    .singleElement()
                    .satisfies(found -> {
                        assertThat(found.created()).hasValueSatisfying(created -> assertThat(created)
                                .isAfter(NOW));
                        assertThat(found.waiting()).hasValueSatisfying(why -> assertThat(why.sentence())
                                .isEqualTo("is open for writing by process " + writer.pid() + " (sh)"));
                    });
        } finally {
            writer.destroy();
        }
        writer.waitFor();
        assertThat(find(place("in", 0, List.of(), "grows.csv")).taken())
                .singleElement()
                .satisfies(found -> assertThat(found.waiting()).isEmpty());
    }

    @Test
    void aFileThatWasWrittenJustNowWaits() throws IOException {
        Files.setLastModifiedTime(workspace.resolve("in/a-1.csv"), FileTime.from(NOW.minusMillis(500)));
        assertThat(find(place("in", 0, List.of(), "a-1.csv")).taken())
                .singleElement()
                .extracting(Candidate::waiting)
                .isEqualTo(Optional.of(
                        new Candidate.Waiting(true, "was last written 0.5 s ago and must be still for 2 s")));
    }

    private Finding listed(boolean stops, NameLists.Listed... names) throws IOException {
        Files.writeString(workspace.resolve("list.txt"), "");
        NameList list = new NameList(
                "list.txt",
                Optional.empty(),
                Optional.empty(),
                java.nio.charset.StandardCharsets.UTF_8,
                Optional.empty(),
                stops);
        return new Finder(
                        workspace,
                        Roots.of(List.of(workspace)),
                        (file, what) -> List.of(names),
                        Nothing.INSIDE,
                        Clock.fixed(NOW, ZoneOffset.UTC))
                .find(List.of(new Place(
                        "in",
                        0,
                        List.of(),
                        Optional.empty(),
                        Optional.of(list),
                        Completeness.USUAL,
                        false,
                        10,
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty())));
    }

    @Test
    void aListTakesWhatItNamesAndReportsTheRest() throws IOException {
        Finding finding = listed(
                true,
                new NameLists.Listed(1, "a-1.csv"),
                new NameLists.Listed(3, "2026/a-2.csv"),
                new NameLists.Listed(4, "./a-1.csv"),
                new NameLists.Listed(5, "gone.csv"),
                new NameLists.Listed(6, "../other/b.csv"),
                new NameLists.Listed(7, "/etc/passwd"),
                new NameLists.Listed(8, "2026"),
                new NameLists.Listed(9, "a\0b"));
        assertThat(finding.taken())
                .extracting(Candidate::relative, Candidate::rule)
                .containsExactly(tuple("2026/a-2.csv", "list list.txt"), tuple("a-1.csv", "list list.txt"));
        assertThat(finding.troubles())
                .extracting(Finding.Trouble::grave, Finding.Trouble::what)
                .containsExactly(
                        tuple(
                                true,
                                "5 of the 8 names in list.txt cannot be found in " + workspace.resolve("in")
                                        + ": line 5 \"gone.csv\" does not exist; line 6 \"../other/b.csv\" lies "
                                        + "outside the folder; "
                                        + "line 7 \"/etc/passwd\" lies outside the folder; line 8 \"2026\" is a "
                                        + "folder; line 9 \"a\\u0000b\" is not a name of a file: Nul "
                                        + "character not allowed"),
                        tuple(false, "1 name stands twice in list.txt: line 4 \"./a-1.csv\", first in line 1"));
        assertThat(finding.counts().get(0).seen()).isEqualTo(8);
        assertThat(finding.counts().get(0).steps())
                .extracting(RuleCounts.Step::rule, RuleCounts.Step::remain)
                .containsExactly(tuple("list list.txt", 2L));
        assertThat(listed(false, new NameLists.Listed(1, "gone.csv")).troubles())
                .extracting(Finding.Trouble::grave)
                .containsExactly(false);
    }
}
