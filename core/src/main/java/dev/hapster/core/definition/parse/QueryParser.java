package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.QueryDef;
import dev.hapster.core.definition.section.QuerySection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.definition.yaml.YamlMap;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/** Reads a saved query's file. */
final class QueryParser {

    private QueryParser() {}

    static QueryDef query(String file, String text, Set<String> datasets) throws DefinitionException {
        List<Problem> problems = new ArrayList<>();
        YamlMap root = QuerySection.SECTION.check(YamlMap.parse(file, text, problems));
        String name = root.required("query", "Write `query: " + Definitions.stem(file) + "` as the first line");
        Definitions.checkName(root, "query", name, file);
        String dataset = root.required("dataset", "Name the dataset that is asked: `dataset: NAME`");
        if (root.has("dataset") && !datasets.contains(dataset)) {
            root.wrong("dataset", "there is no dataset '" + dataset + "'", Nearest.hint(dataset, datasets));
        }
        QueryDef query = new QueryDef(
                name,
                QuerySection.ABOUT.in(root),
                dataset,
                QuerySection.WHERE.in(root),
                QuerySection.COLUMNS.in(root),
                QuerySection.SORT.in(root),
                QuerySection.BY.in(root),
                QuerySection.MEASURES.in(root),
                QuerySection.TOP.in(root));
        if (query.counts() && !query.columns().isEmpty()) {
            root.wrong("columns", "columns are of rows, and this query counts", "Remove it, or `by` and `measures`");
        }
        if (!query.counts() && query.top() > 0) {
            root.wrong(
                    "top", "top is of counts, and this query shows rows", "Name what rows are counted by: `by: [lab]`");
        }
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return query;
    }
}
