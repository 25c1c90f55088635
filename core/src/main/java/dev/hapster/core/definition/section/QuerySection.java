package dev.hapster.core.definition.section;

import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.key.Section;
import dev.hapster.core.definition.key.Shapes;
import java.util.List;

/** The keys of a saved query's file. */
public final class QuerySection {

    /** How many groups may be asked for at once. */
    public static final int MOST_LISTED = 20_000;

    public static final Key<String> QUERY =
            Key.of("query", Shapes.matching(DatasetSection.FILE_NAME_RULE), "", "its name, the same as the file's");
    public static final Key<String> ABOUT = Key.of("about", Shapes.text(), "", "what it answers");
    public static final Key<String> DATASET =
            Key.of("dataset", Shapes.matching(DatasetSection.FILE_NAME_RULE), "", "the dataset that is asked");
    public static final Key<List<String>> WHERE =
            Key.of("where", Shapes.texts(), List.<String>of(), "a condition, or several of which all must hold");
    public static final Key<List<String>> COLUMNS = Key.of(
            "columns",
            Shapes.texts(),
            List.<String>of(),
            "of rows: which columns, in this order; all where none is named");
    public static final Key<List<String>> SORT = Key.of(
            "sort",
            Shapes.texts(),
            List.<String>of(),
            "columns to sort by, with `-` in front for descending; of counts what they are counted by, `rows` or measures");
    public static final Key<List<String>> BY = Key.of(
            "by",
            Shapes.texts(),
            List.<String>of(),
            "counts rows by one to four columns; dates also as `sampled_at:month`");
    public static final Key<List<String>> MEASURES = Key.of(
            "measures",
            Shapes.texts(),
            List.<String>of(),
            "what is found out in each group: `sum(COLUMN)`, `mean(COLUMN)`, `min(COLUMN)`, `max(COLUMN)`, `count(COLUMN)`");
    public static final Key<Integer> TOP = Key.of(
            "top", Shapes.whole(0, MOST_LISTED), 0, "of counts: only so many groups, and the rest as one; 0 for all");

    public static final Section SECTION = Section.of(QUERY, ABOUT, DATASET, WHERE, COLUMNS, SORT, BY, MEASURES, TOP)
            .requiring(QUERY, DATASET);

    private QuerySection() {}
}
