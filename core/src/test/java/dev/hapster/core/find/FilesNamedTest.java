package dev.hapster.core.find;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.junit.jupiter.api.Test;

class FilesNamedTest {

    private static final List<String> FILES =
            List.of("in/a.csv", "in/north/a.csv", "in/south/a.csv", "in/b.zip!/x/a.csv", "lab:c.xlsx!Mar", "out/d.csv");

    private static List<String> named(String text) throws Exception {
        return FilesNamed.of(text).among(FILES);
    }

    @Test
    void asMuchOfThePathAsTellsAFileApart() throws Exception {
        assertThat(named("north/a.csv")).containsExactly("in/north/a.csv");
        assertThat(named("in/north/a.csv")).containsExactly("in/north/a.csv");
        assertThat(named("d.csv")).containsExactly("out/d.csv");
        assertThat(named("c.xlsx!Mar")).containsExactly("lab:c.xlsx!Mar");
        assertThat(named("b.zip!/x/a.csv")).containsExactly("in/b.zip!/x/a.csv");
        assertThat(named("e.csv")).isEmpty();
        assertThat(named("orth/a.csv")).isEmpty();
    }

    @Test
    void theOneCalledExactlySoBelowTheFolderOfAllIsMeant() throws Exception {
        assertThat(named("a.csv")).containsExactly("in/a.csv");
    }

    @Test
    void aNameOfSeveralIsAnErrorThatListsThem() {
        List<String> twins = List.of("in/north/a.csv", "in/south/a.csv");
        assertThatThrownBy(() -> FilesNamed.of("a.csv").among(twins))
                .hasMessage("'a.csv' is the name of 2 files: in/north/a.csv, in/south/a.csv. Name one of them with its "
                        + "folder");
    }

    @Test
    void aPatternMeansAllThatFit() throws Exception {
        assertThat(named("*/a.csv")).contains("in/north/a.csv", "in/south/a.csv");
        assertThat(named("*.csv")).contains("in/a.csv", "in/north/a.csv", "out/d.csv");
    }
}
