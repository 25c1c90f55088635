package dev.hapster.core.draft;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.draft.reading.ReadChoice;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a draft is asked for.
 *
 * @param paths folders and files, absolute; files stand for themselves and their like
 * @param into a dataset that exists and is to be loaded into; empty for a new one
 * @param name of the job, and of a new dataset; empty for one made from the folder's name
 * @param thorough whether every row is read
 * @param comments whether the evidence is written into the definitions as comments
 * @param reading what people decided of how text files are read
 * @param choices what people decided otherwise, by the header of the column
 */
public record DraftRequest(
        List<Path> paths,
        Optional<String> into,
        Optional<String> name,
        boolean thorough,
        boolean comments,
        ReadChoice reading,
        Map<String, Choice> choices) {

    public DraftRequest {
        paths = List.copyOf(paths);
        choices = Map.copyOf(choices);
    }

    /**
     * What was decided for a column.
     *
     * @param name what it is called in the dataset
     * @param type that it is declared with
     * @param required whether a row without a value is rejected
     * @param skip whether the column is left out
     */
    public record Choice(
            Optional<String> name, Optional<ColumnType> type, Optional<Boolean> required, Optional<Boolean> skip) {}
}
