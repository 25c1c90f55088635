package dev.hapster.core.expression;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** The table of functions is that of the code; with {@code -Dhapster.write-docs=true} it is written. */
class ExpressionsDocumentTest {

    private static final Pattern PLACE =
            Pattern.compile("(<!-- functions -->\n).*?(<!-- end of functions -->)", Pattern.DOTALL);

    @Test
    void theTableOfFunctionsIsThatOfTheCode() throws Exception {
        Map<String, StringBuilder> means = new LinkedHashMap<>();
        Map<String, StringBuilder> examples = new LinkedHashMap<>();
        for (Function function : Library.ALL) {
            means.computeIfAbsent(function.name(), name -> new StringBuilder())
                    .append(
                            function.means().isEmpty()
                                            || means.get(function.name()).length() == 0
                                    ? function.means()
                                    : "; " + function.means());
            examples.computeIfAbsent(function.name(), name -> new StringBuilder())
                    .append(examples.get(function.name()).length() == 0 ? "" : ", ")
                    .append(function.examples().stream()
                            .map(one -> "`" + one.expression() + "` = `" + one.gives() + "`")
                            .collect(Collectors.joining(", ")));
        }
        StringBuilder table = new StringBuilder("| function | what it gives | examples |\n| --- | --- | --- |\n");
        means.forEach((name, text) -> table.append("| `" + name + "` | " + text + " | " + examples.get(name) + " |\n"));
        Path document = Path.of("../docs/expressions.md");
        String right = PLACE.matcher(Files.readString(document))
                .replaceAll(match -> Matcher.quoteReplacement(match.group(1) + "\n" + table + "\n" + match.group(2)));
        assertThat(right).contains(table);
        if (Boolean.getBoolean("hapster.write-docs")) {
            Files.writeString(document, right);
        }
        assertThat(plain(Files.readString(document))).isEqualTo(plain(right));
    }

    private static String plain(String text) {
        return text.replaceAll("-{3,}", "---").replaceAll(" +", " ");
    }
}
