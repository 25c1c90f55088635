package dev.hapster.core.draft.reading;

import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.read.tree.TreeOutline;
import dev.hapster.core.read.tree.TreeOutline.Element;
import dev.hapster.core.read.tree.TreeReader;
import dev.hapster.core.reason.FileRejectedException;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

/** Finds the rows in a nested file: the elements of which there are most, with all that is above them. */
final class TreeReading {

    private static final long ELEMENTS = 400_000;
    private static final long ROWS = 2_000;
    /** Members of an array that become columns of their own. */
    private static final int MOST_MEMBERS = 4;

    /** A list within a list, whose members have no names: not a table. */
    private static final String NAMELESS = "[]";

    private TreeReading() {}

    static Reading of(Content content, Read read, List<Evidence> evidence, List<String> doubts, boolean ascii)
            throws IOException, FileRejectedException {
        String mark = read.as().pathMark();
        List<Element> outline = TreeOutline.of(content, read, ELEMENTS);
        List<Element> tables = outline.stream()
                .filter(one -> one.branches() && one.most() > 1 && !one.path().contains(NAMELESS))
                .sorted(Comparator.comparing((Element one) -> -one.count())
                        .thenComparing(one -> one.path().size()))
                .toList();
        Optional<Element> rows = tables.stream().findFirst();
        Read rules = read;
        if (rows.isPresent() && !rows.get().path().isEmpty()) {
            rules = read.with(ReadSection.ROWS, rows.get().path());
            evidence.add(new Evidence(
                    "rows",
                    path(rows.get(), read.as(), outline),
                    "it holds " + rows.get().count() + " elements"
                            + tables.stream()
                                    .skip(1)
                                    .findFirst()
                                    .map(other -> "; " + shown(other, read.as(), outline) + " holds " + other.count())
                                    .orElse("")));
        } else if (rows.isPresent()) {
            evidence.add(new Evidence(
                    "rows",
                    "",
                    "each of the " + rows.get().count()
                            + (read.as() == Format.JSON ? " members of the outermost list" : " lines") + " is a row"));
        }
        List<String> path = rows.map(Element::path).orElse(List.of());
        List<Evidence> skipped = new ArrayList<>();
        List<String> names = new ArrayList<>();
        List<String> header;
        try (TreeReader reader = new TreeReader(content, rules, ROWS, List.of())) {
            header = reader.header().names();
        }
        for (String name : header) {
            Optional<Element> several = outline.stream()
                    .filter(one -> one.most() > 1 && !isAbove(one.path(), path))
                    .filter(one -> {
                        String own = name(one.path(), path, mark);
                        return name.equals(own) || name.startsWith(own + mark);
                    })
                    .findFirst();
            if (several.isEmpty()) {
                names.add(name);
            } else if (!several.get().branches()
                    && read.as() != Format.XML
                    && several.get().fewest() == several.get().most()
                    && several.get().most() <= MOST_MEMBERS) {
                IntStream.range(0, several.get().most()).forEach(i -> names.add(name + "[" + i + "]"));
            } else {
                skipped.add(new Evidence(
                        name, "", "one row has up to " + several.get().most() + " values of it, and a row holds one"));
            }
        }
        return new Reading(rules, names, names.size(), evidence, doubts, ascii, true, skipped);
    }

    /** Whether rows lie at or below a path, so that each row has one element of it. */
    private static boolean isAbove(List<String> path, List<String> rows) {
        return path.size() <= rows.size() && rows.subList(0, path.size()).equals(path);
    }

    /** What a column of this path is called. */
    private static String name(List<String> path, List<String> rows, String mark) {
        return path.size() > rows.size() && path.subList(0, rows.size()).equals(rows)
                ? String.join(mark, path.subList(rows.size(), path.size()))
                : String.join(mark, path);
    }

    private static String shown(Element one, Format format, List<Element> outline) {
        return one.path().isEmpty() ? "the outermost list" : path(one, format, outline);
    }

    /** As the key {@code rows} says it. */
    private static String path(Element of, Format format, List<Element> outline) {
        if (format == Format.XML) {
            return String.join("/", of.path());
        }
        List<String> names = new ArrayList<>();
        for (int i = 1; i <= of.path().size(); i++) {
            List<String> part = of.path().subList(0, i);
            boolean list = outline.stream().anyMatch(one -> one.path().equals(part) && one.most() > 1);
            names.add(part.get(i - 1) + (list ? "[]" : ""));
        }
        return String.join(".", names);
    }
}
