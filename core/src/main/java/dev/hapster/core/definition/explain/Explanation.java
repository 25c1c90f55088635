package dev.hapster.core.definition.explain;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Clean;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.JobDef.Sheets;
import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.pattern.DateNames;
import dev.hapster.core.pattern.Durations;
import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.schedule.CronTimes;
import dev.hapster.core.schedule.When;
import java.nio.charset.Charset;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** What a job does, in plain words made from its definition, section by section. */
public record Explanation(
        List<String> find,
        List<String> read,
        List<String> map,
        List<String> keep,
        List<String> load,
        List<String> rejects,
        List<String> after,
        List<String> when,
        List<String> due) {

    public static Explanation of(JobDef job, DatasetDef dataset) {
        return new Explanation(
                job.find().stream().map(Explanation::place).toList(),
                read(job.read()),
                map(job, dataset),
                keep(job.handling()),
                load(job.handling(), dataset),
                rejects(job.handling()),
                after(job.handling().after()),
                when(job.when()),
                DueWords.of(job.due()));
    }

    /** What starts a job, each way in a few words. */
    public static List<String> starts(When when) {
        List<String> ways = new ArrayList<>();
        if (!when.cron().isEmpty()) {
            ways.add("by the clock, at "
                    + when.cron().stream().map(CronTimes::text).collect(Collectors.joining(" and at ")) + " ("
                    + when.zone() + ")");
        }
        when.every()
                .ifPresent(step ->
                        ways.add("every " + Durations.format(step) + ", counted from midnight (" + when.zone() + ")"));
        if (when.arrival().isPresent()) {
            ways.add("as soon as complete files are there that are new or changed");
        }
        if (!when.after().isEmpty()) {
            ways.add("after each finished run of " + String.join(" or ", when.after()));
        }
        return ways;
    }

    /** When a job runs by itself. */
    public static List<String> when(Optional<When> declared) {
        if (declared.isEmpty()) {
            return List.of("It runs when somebody asks for it.");
        }
        When when = declared.get();
        List<String> sentences = new ArrayList<>();
        starts(when).forEach(way -> sentences.add("It runs " + way + "."));
        when.arrival()
                .ifPresent(look -> sentences.add(
                        "Besides being watched, its folders are looked at every " + Durations.format(look) + "."));
        when.notBefore().ifPresent(first -> sentences.add("Nothing of this happens before " + first + "."));
        if (!when.notOn().isEmpty()) {
            sentences.add("Nothing of this happens on "
                    + when.notOn().stream().map(When.Days::toString).collect(Collectors.joining(", ")) + ".");
        }
        if (when.isTimed()) {
            sentences.add(
                    when.catchUp()
                            ? "One run makes up for times that were missed."
                            : "Times that were missed are left out.");
        }
        return sentences;
    }

    /** From so many columns on, those without a rule of their own are put into one sentence. */
    private static final int MANY = 20;

    private static List<String> map(JobDef job, DatasetDef dataset) {
        List<String> plain = dataset.columns().stream()
                .map(ColumnDef::name)
                .filter(name -> !job.map().containsKey(name))
                .toList();
        boolean together = plain.size() > MANY;
        List<String> sentences = new ArrayList<>(dataset.columns().stream()
                .filter(column -> !together || job.map().containsKey(column.name()))
                .map(column -> column(
                        column,
                        job.map().get(column.name()),
                        job.read().get(ReadSection.FACTS).keySet()))
                .toList());
        if (together) {
            sentences.add((sentences.isEmpty() ? "All " : "The other ") + plain.size() + " columns, " + plain.get(0)
                    + " to " + plain.get(plain.size() - 1) + ", come from the columns of their own names.");
        }
        return sentences;
    }

    private static List<String> keep(Handling handling) {
        List<String> sentences = new ArrayList<>();
        handling.keep().forEach(rule -> sentences.add("Rows are set aside unless " + rule.text() + "."));
        handling.duplicates()
                .ifPresent(duplicates -> sentences.add("Rows that are there already (the same "
                        + (duplicates.columns().isEmpty() ? "in all columns" : String.join(", ", duplicates.columns()))
                        + ", within the " + duplicates.within().word() + ") "
                        + switch (duplicates.then()) {
                            case REJECT -> "are rejected.";
                            case KEEP_FIRST -> "are left out: the first stays.";
                            case KEEP_LAST -> "give way: the last stays.";
                            case COUNT -> "are loaded all the same, and counted.";
                        }));
        return sentences;
    }

    private static List<String> load(Handling handling, DatasetDef dataset) {
        List<String> sentences = new ArrayList<>();
        sentences.add("A second run " + handling.load().secondRun().replace("`", "") + ".");
        if (handling.load() == Handling.Load.UPDATE) {
            sentences.add("The key of " + dataset.name() + " is " + String.join(", ", dataset.key()) + ".");
        }
        handling.newestBy()
                .ifPresent(column -> sentences.add("Of several rows with one key, the one with the latest " + column
                        + " counts; of those with the same, the last to arrive."));
        if (handling.load() == Handling.Load.BY_FILE || handling.load() == Handling.Load.APPEND) {
            sentences.add(
                    handling.nameAdds()
                            ? "A file that comes again under the same name with other content is another file: "
                                    + "its rows are added."
                            : handling.after().loaded().isTaking()
                                    ? "Once the job has taken a file away, the next one of that name is another "
                                            + "file: its rows are added."
                                    : "");
            sentences.remove("");
        }
        handling.deleted()
                .ifPresent(rule -> sentences.add(
                        "A row for which " + rule.text() + " takes the row of its key out of the dataset."));
        sentences.add(
                handling.together()
                        ? "All files of a run are committed at once, or none."
                        : handling.settlesTogether()
                                ? "All files of a run are committed at once, since what becomes of one depends "
                                        + "on the others."
                                : "Each file is committed by itself.");
        return sentences;
    }

    private static List<String> rejects(Handling handling) {
        List<String> sentences = new ArrayList<>();
        handling.limits()
                .fileAt()
                .ifPresent(limit ->
                        sentences.add("A file is rejected whole once " + limit.written() + " of it are rejected."));
        handling.limits()
                .runAt()
                .ifPresent(limit -> sentences.add(
                        "The run stops at " + limit.written() + " rejected" + (limit.share() > 0 ? " files" : "")
                                + (handling.settlesTogether()
                                        ? "; the dataset then stays as it was."
                                        : "; files that it has loaded by then stay.")));
        sentences.add("A file with far more or fewer rows than its like is "
                + (handling.limits().rejectUnusual() ? "rejected." : "pointed out."));
        return sentences;
    }

    private static List<String> after(Handling.After after) {
        List<String> sentences = new ArrayList<>();
        if (after.isNothing()) {
            return List.of("Files stay where they are.");
        }
        boolean spares = after.loaded().kind() == Handling.Routing.Kind.DELETE
                && !after.loaded().always();
        sentences.add("Loaded files " + routing(after.loaded())
                + (spares
                        ? ", but for those of which rows are rejected: these stay, so that the rows can be tried again"
                        : "")
                + ".");
        sentences.add("Rejected files " + routing(after.rejected())
                + (after.rejected().declared() && after.rejected().kind() != Handling.Routing.Kind.DELETE
                        ? ", with their reasons beside them"
                        : "")
                + ".");
        sentences.add("Files that are not complete " + routing(after.waiting()) + ".");
        return sentences;
    }

    private static String routing(Handling.Routing routing) {
        return switch (routing.kind()) {
            case LEAVE -> "stay where they are";
            case MOVE -> "move to " + routing.target().orElseThrow();
            case COPY -> "are copied to " + routing.target().orElseThrow();
            case DELETE -> "are deleted";
        };
    }

    private static String place(Place place) {
        String depth = place.depth() == 0
                ? ""
                : place.depth() == 1 ? " and its subfolders" : " and subfolders down to level " + place.depth();
        String rules = place.rules().stream().map(Explanation::rule).collect(Collectors.joining(", then "));
        return (place.list().isPresent()
                        ? "Goes by the names in " + place.list().get().file()
                                + place.list()
                                        .get()
                                        .column()
                                        .map(column -> " (column \"" + column + "\")")
                                        .orElse("") + ", in " + place.folder()
                        : "Looks into " + place.folder() + depth)
                + (rules.isEmpty() ? "" : " and " + rules) + "."
                + place.sheets().map(Explanation::sheets).orElse("")
                + place.look()
                        .map(look -> " Looked at every " + Durations.format(look) + " where files start the job.")
                        .orElse("")
                + (place.loadCopies() ? " Loads a file also where another has the same content." : "");
    }

    private static String sheets(Sheets sheets) {
        List<String> taken =
                new ArrayList<>(sheets.names().stream().map(NamePattern::words).toList());
        sheets.positions().forEach(position -> taken.add(position < 0 ? "the last" : "number " + position));
        return " Of each workbook it takes "
                + (taken.isEmpty() ? "all sheets" : "the sheets " + String.join(", ", taken))
                + (sheets.skip().isEmpty() ? "" : " and skips " + names(sheets.skip())) + ".";
    }

    private static String rule(FindRule rule) {
        if (rule instanceof FindRule.Take take) {
            return "takes " + names(take.names());
        }
        if (rule instanceof FindRule.Skip skip) {
            return "skips " + names(skip.names());
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
        return "keeps the " + rank.order().name().toLowerCase(Locale.ROOT) + " " + rank.count()
                + (rank.perFolder() ? " of each folder" : "");
    }

    private static String names(List<NamePattern> names) {
        return names.stream().map(NamePattern::words).collect(Collectors.joining(", "));
    }

    private static List<String> read(Read read) {
        List<String> sentences = new ArrayList<>();
        sentences.add("Reads " + what(read) + ".");
        for (Key<?> key : ReadSection.SECTION.keys()) {
            String sentence = key == ReadSection.NAMES ? header(read) : sentence(read, key);
            if (!sentence.isEmpty()) {
                sentences.add(sentence);
            }
        }
        return sentences;
    }

    private static <T> String sentence(Read read, Key<T> key) {
        return key.sentence(read.get(key));
    }

    private static String encodings(Read read) {
        return read.get(ReadSection.ENCODING).stream().map(Charset::name).collect(Collectors.joining(" or "));
    }

    private static String what(Read read) {
        return switch (read.as()) {
            case DELIMITED ->
                read.as().noun() + " in " + encodings(read) + ", separated by "
                        + read.get(ReadSection.SEPARATOR).stream()
                                .map(Explanation::mark)
                                .collect(java.util.stream.Collectors.joining(" or "))
                        + read.get(ReadSection.QUOTE)
                                .map(quote -> ", quoted with " + mark(quote))
                                .orElse(", with no quoting")
                        + read.get(ReadSection.ESCAPE)
                                .map(escape -> "; " + mark(escape) + " takes the next character's meaning away")
                                .orElse("");
            case LINES, FIXED -> read.as().noun() + " in " + encodings(read);
            case WORKBOOK ->
                "workbooks, sheet by sheet"
                        + read.get(ReadSection.TABLE)
                                .map(table -> ", the table " + table)
                                .orElse("")
                        + read.get(ReadSection.RANGE)
                                .map(range -> ", a part of the cells")
                                .orElse("")
                        + (read.get(ReadSection.REPEAT_MERGED) ? "; merged cells all have the value of the first" : "");
            case JSON, JSON_LINES, XML, PARQUET -> {
                List<String> rows = read.get(ReadSection.ROWS);
                yield read.as().noun()
                        + (rows.isEmpty()
                                ? ""
                                : ", a row for each of " + String.join(read.as().pathMark(), rows));
            }
        };
    }

    /** Where the columns' names come from. */
    private static String header(Read read) {
        String row = read.as().isText() ? "line" : "row";
        return switch (read.as()) {
            case LINES -> "Each line is one column, " + read.names().get(0) + ".";
            case DELIMITED, WORKBOOK ->
                read.get(ReadSection.HEADER_CONTAINS)
                        .map(text -> "The first " + row + " that holds \"" + text + "\" names the columns.")
                        .orElseGet(() -> !read.hasHeader()
                                ? "There is no header; the columns are " + String.join(", ", read.names()) + "."
                                : read.get(ReadSection.HEADER_ONCE)
                                        ? "One of the files names the columns of all."
                                        : "The next " + row + " names the columns.");
            default -> "";
        };
    }

    private static String column(ColumnDef column, Mapping mapping, Set<String> beside) {
        if (mapping instanceof Mapping.Constant constant) {
            return column.name() + " is always \"" + constant.value() + "\".";
        }
        if (mapping instanceof Mapping.Compute compute) {
            return column.name() + " is calculated: " + compute.value().text() + ".";
        }
        if (mapping instanceof Mapping.Lookup lookup) {
            return column.name() + " is looked up in " + lookup.table().file() + ": the "
                    + lookup.table().take()
                    + " whose " + lookup.table().by() + " is "
                    + lookup.with().text()
                    + lookup.otherwise()
                            .map(value -> value.isEmpty() ? ", else nothing" : ", else \"" + value + "\"")
                            .orElse("")
                    + ".";
        }
        Mapping.Source source = mapping instanceof Mapping.Fact fact
                ? fact.how()
                : mapping instanceof Mapping.Source given ? given : Mapping.Source.PLAIN;
        List<String> steps = new ArrayList<>();
        source.clean().forEach(clean -> steps.add(clean(clean)));
        source.emptyAs().ifPresent(words -> steps.add(list(words) + " taken as empty"));
        if (source.decimal() == ',') {
            steps.add("decimal comma");
        }
        source.thousands().ifPresent(mark -> steps.add("thousands marked by " + mark(mark)));
        if (!source.patterns().isEmpty()) {
            steps.add("written as " + String.join(" or ", source.patterns())
                    + source.language()
                            .flatMap(DateNames::of)
                            .map(names -> " with names of " + names.name())
                            .orElse(""));
        }
        String origin = mapping instanceof Mapping.Fact fact
                ? "comes from "
                        + (beside.contains(fact.name())
                                ? fact.name() + " beside the table"
                                : "{" + fact.name() + "} in the file's name")
                : source.from().isEmpty()
                        ? "comes from the column of its own name"
                        : "comes from "
                                + source.from().stream()
                                        .map(from -> "\"" + from + "\"")
                                        .collect(Collectors.joining(" or "));
        return column.name() + " " + origin + (steps.isEmpty() ? "" : ": " + String.join(", ", steps)) + ".";
    }

    private static String clean(Clean clean) {
        if (clean instanceof Clean.Remove remove) {
            return list(remove.texts()) + " removed";
        }
        if (clean instanceof Clean.Replace replace) {
            return replace.pairs().entrySet().stream()
                    .map(pair -> "\"" + pair.getKey() + "\" replaced by \"" + pair.getValue() + "\"")
                    .collect(Collectors.joining(", "));
        }
        return clean instanceof Clean.Trim
                ? "trimmed"
                : clean instanceof Clean.Upper ? "in upper case" : "in lower case";
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
