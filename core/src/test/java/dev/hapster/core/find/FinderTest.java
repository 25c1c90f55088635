package dev.hapster.core.find;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import dev.hapster.core.definition.JobDef.Place;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class FinderTest {

    @TempDir
    private Path root;
    private Path workspace;

    @BeforeEach
    void files() throws IOException {
        workspace = root.resolve("workspace");
        for (String name : List.of("in/a-1.csv", "in/a-1 - copy.csv", "in/notes.txt", "in/2026/a-2.csv", "in/2026/q1/a-3.csv", "other/b.csv")) {
            Files.createDirectories(workspace.resolve(name).getParent());
            Files.writeString(workspace.resolve(name), "x");
        }
    }

    private Finding find(Place... places) throws IOException {
        return new Finder(workspace, Roots.of(List.of(workspace))).find(List.of(places));
    }

    private static Place place(String folder, int depth, List<String> leave, String... take) {
        return new Place(folder, List.of(take), leave, depth);
    }

    @Test
    void everyFileIsTakenOrLeftByARuleThatIsNamed() throws IOException {
        assertThat(find(place("in", 0, List.of("*copy*"), "a-*.csv")).candidates()).extracting(Candidate::relative, Candidate::taken, Candidate::rule)
                .containsExactly(tuple("a-1 - copy.csv", false, "leave \"*copy*\""), tuple("a-1.csv", true, "take \"a-*.csv\""),
                        tuple("notes.txt", false, "no take pattern matches"));
    }

    @Test
    void subfoldersAreSearchedToTheStatedDepthOnly() throws IOException {
        assertThat(find(place("in", 1, List.of(), "a-?.csv")).taken()).extracting(Candidate::relative).containsExactly("2026/a-2.csv", "a-1.csv");
        assertThat(find(place("in", 2, List.of(), "2026/**")).taken()).extracting(Candidate::relative).containsExactly("2026/a-2.csv", "2026/q1/a-3.csv");
    }

    @Test
    void aFileThatTwoPlacesReachIsTakenOnce() throws IOException {
        Finding finding = find(place("in", 0, List.of(), "a-1.csv"), place("in", 1, List.of(), "a-?.csv"), place("other", 0, List.of(), "*"));
        assertThat(finding.taken()).extracting(Candidate::place, Candidate::relative)
                .containsExactly(tuple(1, "a-1.csv"), tuple(2, "2026/a-2.csv"), tuple(3, "b.csv"));
        assertThat(finding.left()).extracting(Candidate::rule).contains("taken already, by an earlier place or link");
    }

    @Test
    void foldersOutsideTheRootsAreRefusedHoweverTheyAreReached() throws IOException {
        Path outside = Files.createDirectories(root.resolve("outside"));
        Files.writeString(outside.resolve("secret.csv"), "x");
        Files.createSymbolicLink(workspace.resolve("in/link.csv"), outside.resolve("secret.csv"));
        Files.createSymbolicLink(workspace.resolve("linked"), outside);

        for (String folder : List.of("../outside", outside.toString(), "linked", "../nowhere")) {
            assertThat(find(place(folder, 0, List.of(), "*")).troubles()).as(folder).singleElement()
                    .satisfies(trouble -> assertThat(trouble.what()).contains("outside the folders that the service may read"));
        }
        assertThat(find(place("in", 0, List.of(), "link.csv")).left()).filteredOn(file -> file.relative().equals("link.csv")).singleElement()
                .satisfies(file -> assertThat(file.rule()).startsWith("a link to ").endsWith("outside the roots"));
    }

    @Test
    void missingFoldersAndFilesInTheirPlaceAreGrave() throws IOException {
        assertThat(find(place("nowhere", 0, List.of(), "*")).troubles()).singleElement()
                .satisfies(trouble -> assertThat(trouble.grave()).isTrue()).extracting(Finding.Trouble::what).asString().endsWith("does not exist");
        assertThat(find(place("in/a-1.csv", 0, List.of(), "*")).troubles()).singleElement().extracting(Finding.Trouble::what).asString()
                .endsWith("is a file, not a folder");
    }

    @Test
    void aTreeThatIsTooLargeStopsTheSearchAndSaysSo() throws IOException {
        Finding finding = new Finder(workspace, Roots.of(List.of(workspace)), 3).find(List.of(place("in", 5, List.of(), "*")));
        assertThat(finding.troubles()).singleElement().extracting(Finding.Trouble::what).asString().contains("more than 3 entries");
    }
}
