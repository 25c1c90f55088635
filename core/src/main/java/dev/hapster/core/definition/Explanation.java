package dev.hapster.core.definition;

import dev.hapster.core.definition.JobDef.Clean;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.JobDef.Read;
import dev.hapster.core.pattern.NamePattern;
import java.nio.charset.Charset;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/**
 * What a job does, in plain words made from its definition, section by section.
 */
public record Explanation(List<String> find, List<String> read, List<String> map) {

    public static Explanation of(JobDef job, DatasetDef dataset) {
        return new Explanation(job.find().stream().map(Explanation::place).toList(), read(job.read()),
                dataset.columns().stream().map(column -> column(column, job.map().get(column.name()), job.read())).toList());
    }

    private static String place(Place place) {
        String depth = place.depth() == 0 ? "" : place.depth() == 1 ? " and its subfolders" : " and subfolders down to level " + place.depth();
        String rules = place.rules().stream().map(Explanation::rule).collect(Collectors.joining(", then "));
        return (place.list().isPresent() ? "Goes by the names in " + place.list().get().file() + place.list().get().column().map(column -> " (column \"" + column + "\")").orElse("")
                + ", in " + place.folder() : "Looks into " + place.folder() + depth) + (rules.isEmpty() ? "" : " and " + rules) + "."
                + (place.loadCopies() ? " Loads a file also where another has the same content." : "");
    }

    private static String rule(FindRule rule) {
        if (rule instanceof FindRule.Take take) {
            return "takes " + names(take.names());
        }
        if (rule instanceof FindRule.Leave leave) {
            return "leaves " + names(leave.names());
        }
        if (rule instanceof FindRule.Size size) {
            return "keeps those of a size " + size.written();
        }
        if (rule instanceof FindRule.Modified modified) {
            return "keeps those modified " + modified.range();
        }
        if (rule instanceof FindRule.Created created) {
            return "keeps those created " + created.range();
        }
        FindRule.Rank rank = (FindRule.Rank) rule;
        return "keeps the " + rank.order().name().toLowerCase(Locale.ROOT) + " " + rank.count() + (rank.perFolder() ? " of each folder" : "");
    }

    private static String names(List<NamePattern> names) {
        return names.stream().map(NamePattern::words).collect(Collectors.joining(", "));
    }

    private static List<String> read(Read read) {
        List<String> sentences = new ArrayList<>();
        Charset encoding = read.encoding();
        sentences.add("Reads delimited text in " + encoding.name() + ", separated by " + mark(read.separator())
                + read.quote().map(quote -> ", quoted with " + mark(quote)).orElse(", with no quoting")
                + read.escape().map(escape -> "; " + mark(escape) + " takes the next character's meaning away").orElse("") + ".");
        if (read.linesAbove() > 0) {
            sentences.add("Passes over " + (read.linesAbove() == 1 ? "1 line" : read.linesAbove() + " lines") + " on top.");
        }
        read.comment().ifPresent(comment -> sentences.add("Passes over lines that begin with \"" + comment + "\"."));
        sentences.add(read.headerContains().isPresent() ? "The first line that holds \"" + read.headerContains().get() + "\" names the columns."
                : read.hasHeader() ? "The next line names the columns." : "There is no header; the columns are "
                + String.join(", ", read.names()) + ".");
        if (read.linesBelow() > 0 || read.endsAt().isPresent()) {
            sentences.add("Rows end " + read.endsAt().map(text -> "at the line that begins with \"" + text + "\"").orElse("")
                    + (read.linesBelow() > 0 && read.endsAt().isPresent() ? " or " : "") + (read.linesBelow() > 0 ? read.linesBelow() + (read.linesBelow() == 1 ? " line" : " lines") + " before the last" : "") + ".");
        }
        if (read.fillShort() || read.cutLong()) {
            sentences.add((read.fillShort() ? "Rows with too few fields are filled up" : "") + (read.fillShort() && read.cutLong() ? ", " : "") + (read.cutLong() ? "rows with too many are cut" : "") + ".");
        }
        if (!read.emptyAs().equals(List.of(""))) {
            sentences.add("Takes " + list(read.emptyAs()) + " as empty.");
        }
        return sentences;
    }

    private static String column(ColumnDef column, Mapping mapping, Read read) {
        if (mapping instanceof Mapping.Constant constant) {
            return column.name() + " is always \"" + constant.value() + "\".";
        }
        Mapping.Source source = mapping instanceof Mapping.Fact fact ? fact.how() : mapping instanceof Mapping.Source given ? given : Mapping.Source.PLAIN;
        List<String> steps = new ArrayList<>();
        source.clean().forEach(clean -> steps.add(clean(clean)));
        source.emptyAs().ifPresent(words -> steps.add(list(words) + " taken as empty"));
        if (source.decimal() == ',') {
            steps.add("decimal comma");
        }
        source.thousands().ifPresent(mark -> steps.add("thousands marked by " + mark(mark)));
        if (!source.patterns().isEmpty()) {
            steps.add("written as " + String.join(" or ", source.patterns()));
        }
        String origin = mapping instanceof Mapping.Fact fact ? "comes from {" + fact.name() + "} in the file's name" : source.from().map(from -> "comes from \"" + from + "\"").orElse("comes from the column of its own name");
        return column.name() + " " + origin + (steps.isEmpty() ? "" : ": " + String.join(", ", steps)) + ".";
    }

    private static String clean(Clean clean) {
        if (clean instanceof Clean.Remove remove) {
            return list(remove.texts()) + " removed";
        }
        if (clean instanceof Clean.Replace replace) {
            return replace.pairs().entrySet().stream().map(pair -> "\"" + pair.getKey() + "\" replaced by \"" + pair.getValue() + "\"")
                    .collect(Collectors.joining(", "));
        }
        return clean instanceof Clean.Trim ? "trimmed" : clean instanceof Clean.Upper ? "in upper case" : "in lower case";
    }

    private static String list(List<String> texts) {
        return texts.stream().map(text -> "\"" + text + "\"").collect(Collectors.joining(", "));
    }

    private static String mark(String text) {
        return text.length() == 1 ? mark(text.charAt(0)) : "\"" + text + "\"";
    }

    private static String mark(char c) {
        return c == '\t' ? "tab" : c == '"' ? "the double quote" : "\"" + c + "\"";
    }
}
