package dev.hapster.core.draft.name;

import java.text.Normalizer;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/** Names of columns, made from the words of headers. */
public final class ColumnNames {

    private static final int LONGEST = 63;

    private ColumnNames() {}

    /** A name for each header, valid and different from all others. */
    public static List<String> of(List<String> headers) {
        List<String> names = new ArrayList<>();
        Set<String> seen = new HashSet<>();
        for (int i = 0; i < headers.size(); i++) {
            String name = name(headers.get(i));
            String base = name.isEmpty() ? "column_" + (i + 1) : name;
            String unique = base;
            for (int n = 2; !seen.add(unique); n++) {
                String tail = "_" + n;
                unique = base.substring(0, Math.min(base.length(), LONGEST - tail.length())) + tail;
            }
            names.add(unique);
        }
        return names;
    }

    /** Headers of a file that has none, or of which some are empty or stand twice. */
    public static List<String> whole(List<String> headers, int width) {
        List<String> whole = new ArrayList<>();
        Set<String> seen = new HashSet<>();
        for (int i = 0; i < width; i++) {
            String name = i < headers.size() ? headers.get(i).strip() : "";
            String base = name.isEmpty() ? "column_" + (i + 1) : name;
            String unique = base;
            for (int n = 2; !seen.add(unique.toLowerCase(Locale.ROOT)); n++) {
                unique = base + "_" + n;
            }
            whole.add(unique);
        }
        return whole;
    }

    private static String name(String header) {
        String plain = Normalizer.normalize(
                        header.replace("ß", "ss")
                                .replace("ø", "o")
                                .replace("Ø", "O")
                                .replace("æ", "ae")
                                .replace("ł", "l"),
                        Normalizer.Form.NFKD)
                .replaceAll("\\p{M}+", "")
                .replaceAll("(\\p{Ll})(\\p{Lu}\\p{Ll})", "$1_$2")
                .toLowerCase(Locale.ROOT)
                .replaceAll("[^a-z0-9]+", "_")
                .replaceAll("^_+|_+$", "");
        String begun = !plain.isEmpty() && Character.isDigit(plain.charAt(0)) ? "c_" + plain : plain;
        return begun.substring(0, Math.min(begun.length(), LONGEST)).replaceAll("_+$", "");
    }
}
