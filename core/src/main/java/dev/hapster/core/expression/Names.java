package dev.hapster.core.expression;

import java.util.function.Supplier;

/** What the names of an expression stand for, in the rows of one file. */
public interface Names {

    /**
     * A column of the dataset, or {@link Expression#ROW}, {@link Expression#FILE}, {@link Expression#FACT} and
     * {@link Expression#SOURCE} as maps.
     *
     * @return gives the value for the present row, as {@link Step} has it; null for nothing
     */
    Supplier<Object> of(String name);

    /**
     * A column of the file itself.
     *
     * @return gives the text for the present row; null where the file has no such column
     */
    Supplier<Object> source(String column);
}
