package dev.hapster.service.api.call;

import java.util.Arrays;
import java.util.List;

/** Query parameters that take several values. */
public final class ListParameters {

    private ListParameters() {}

    /** Values that were given several times, or separated by commas. */
    public static List<String> split(List<String> texts) {
        return texts.stream()
                .flatMap(text -> Arrays.stream(text.split(",")))
                .map(String::strip)
                .filter(text -> !text.isEmpty())
                .toList();
    }
}
