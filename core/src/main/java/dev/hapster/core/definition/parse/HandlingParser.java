package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.Handling.After;
import dev.hapster.core.definition.Handling.Duplicates;
import dev.hapster.core.definition.Handling.Limit;
import dev.hapster.core.definition.Handling.Limits;
import dev.hapster.core.definition.Handling.Load;
import dev.hapster.core.definition.Handling.Routing;
import dev.hapster.core.definition.Handling.Then;
import dev.hapster.core.definition.Handling.Within;
import dev.hapster.core.definition.TargetPattern;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.definition.section.JobSection;
import dev.hapster.core.definition.section.JobSection.Duplicate;
import dev.hapster.core.definition.section.JobSection.Route;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.definition.yaml.YamlMap;
import dev.hapster.core.expression.Expression;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads what a job's file says of rows and files once they are read. */
final class HandlingParser {

    private static final Pattern LIMIT = Pattern.compile("(\\d{1,9}(?:\\.\\d{1,4})?)\\s*(%|rows?|files?)?");

    private final YamlMap root;
    private final Optional<DatasetDef> dataset;
    private final Set<String> facts;

    private HandlingParser(YamlMap root, Optional<DatasetDef> dataset, Set<String> facts) {
        this.root = root;
        this.dataset = dataset;
        this.facts = facts;
    }

    /** @param facts what the names of the job's files may say */
    static Handling read(YamlMap root, Optional<DatasetDef> dataset, Set<String> facts, Read read) {
        return new HandlingParser(root, dataset, facts).read(read);
    }

    private Handling read(Read read) {
        Load load = JobSection.LOAD.in(root);
        boolean together = JobSection.TOGETHER.in(root);
        if (load == Load.UPDATE && dataset.isPresent() && dataset.get().key().isEmpty()) {
            root.wrong(
                    "load",
                    "'update' goes by the dataset's key, and " + dataset.get().name() + " has none",
                    "Write `key: [COLUMN, …]` into datasets/" + dataset.get().name() + ".yaml");
        }
        Optional<Expression> deleted = expressions("deleted").stream().findFirst();
        if (root.has("deleted") && load != Load.UPDATE) {
            root.wrongKey("deleted", "'deleted' goes with `load: update` only", "");
        }
        Optional<Duplicates> duplicates = root.has("duplicates") ? Optional.of(duplicates()) : Optional.empty();
        if (duplicates.isPresent() && load == Load.UPDATE) {
            root.wrongKey(
                    "duplicates",
                    "'duplicates' does not go with `load: update`, by which the newest row of a key stays anyway",
                    "Keep one of them");
        }
        if (root.has("duplicates")
                && load == Load.REPLACE
                && duplicates.get().within() == Within.DATASET
                && duplicates.get().then() == Then.KEEP_LAST) {
            root.wrongKey(
                    "duplicates",
                    "'keep_last' within the dataset does not go with `load: replace`",
                    "Use `load: update`, or `within: run`");
        }
        After after = root.has("after") ? after() : After.NOTHING;
        boolean leaves =
                after.loaded().kind() == Routing.Kind.MOVE || after.loaded().kind() == Routing.Kind.DELETE;
        if (load == Load.REPLACE && leaves) {
            root.wrongKey(
                    "load",
                    "`load: replace` takes out the rows of files that are no longer there, and `after: loaded` "
                            + "takes them away",
                    "Use `load: by_file`, or `after: {loaded: copy}`");
        }
        if (read.get(ReadSection.HEADER_ONCE) && leaves) {
            root.wrongKey(
                    "after",
                    "one file has the header of all (`header: once`), and `after: loaded` would take it away "
                            + "from those that come later",
                    "Leave or copy the files, or name the columns with `read: names`");
        }
        return new Handling(
                load,
                together,
                deleted,
                duplicates,
                expressions("keep"),
                root.has("rejects") ? limits() : Limits.NONE,
                after,
                newestBy(load),
                nameAdds(load));
    }

    private Optional<String> newestBy(Load load) {
        Optional<String> column = JobSection.NEWEST_BY.in(root);
        if (column.isPresent() && load != Load.UPDATE) {
            root.wrongKey("newest_by", "'newest_by' goes with `load: update` only", "");
        } else if (column.isPresent() && dataset.isPresent()) {
            Optional<ColumnDef> declared = dataset.get().column(column.get());
            if (declared.isEmpty()) {
                root.wrong(
                        "newest_by",
                        "there is no column '" + column.get() + "'",
                        Nearest.hint(
                                column.get(),
                                dataset.get().columns().stream()
                                        .map(ColumnDef::name)
                                        .toList()));
            } else if (!isOrdered(declared.get().type())) {
                root.wrong(
                        "newest_by",
                        "'" + column.get() + "' is " + declared.get().type() + ", which does not say what is newer",
                        "Name a column that is a date, timestamp, time, integer or decimal of up to 18 digits");
            }
        }
        return column;
    }

    /** Whether the values of a type are kept as whole numbers in their own order. */
    private static boolean isOrdered(ColumnType type) {
        return type.isTemporal()
                || type.kind() == Kind.INTEGER
                || (type.kind() == Kind.DECIMAL && !type.isWideDecimal());
    }

    private boolean nameAdds(Load load) {
        if (root.has("same_name") && load == Load.REPLACE) {
            root.wrongKey(
                    "same_name",
                    "'same_name' does not go with `load: replace`, by which only the files that are there count",
                    "Use `load: by_file`");
        }
        return JobSection.NAME_ADDS.in(root);
    }

    private List<Expression> expressions(String key) {
        return dataset.isEmpty() // the mistakes of the dataset name the cause
                ? List.of()
                : ExpressionParser.read(root, key, dataset.get(), Expression.Type.BOOLEAN);
    }

    private Duplicates duplicates() {
        YamlMap map = JobSection.DUPLICATES.in(root).orElseThrow();
        List<String> by = Duplicate.BY.in(map);
        List<String> columns = by;
        if (by.equals(List.of("key"))) {
            columns = dataset.map(DatasetDef::key).orElse(List.of());
            if (dataset.isPresent() && columns.isEmpty()) {
                map.wrong(
                        "by",
                        "'key' is the dataset's key, and " + dataset.get().name() + " has none",
                        "Name columns, write `by: row`, or give the dataset a `key`");
            }
        } else if (by.equals(List.of("row"))) {
            columns = List.of();
        } else if (dataset.isPresent()) {
            List<String> known =
                    dataset.get().columns().stream().map(ColumnDef::name).toList();
            by.stream()
                    .filter(column -> !known.contains(column))
                    .forEach(column ->
                            map.wrong("by", "there is no column '" + column + "'", Nearest.hint(column, known)));
        }
        return new Duplicates(columns, Duplicate.WITHIN.in(map), Duplicate.THEN.in(map));
    }

    private Limits limits() {
        YamlMap map = JobSection.REJECTS.in(root).orElseThrow();
        return new Limits(
                limit(map, "file_at", "row"), limit(map, "run_at", "file"), JobSection.Limit.REJECT_UNUSUAL.in(map));
    }

    private static Optional<Limit> limit(YamlMap map, String key, String unit) {
        if (!map.has(key)) {
            return Optional.empty();
        }
        String text = map.text(key, "").strip();
        Matcher form = LIMIT.matcher(text);
        boolean fits = form.matches();
        boolean share = fits && "%".equals(form.group(2));
        double number = fits ? Double.parseDouble(form.group(1)) : 0;
        if (!fits
                || (form.group(2) != null && !share && !form.group(2).startsWith(unit))
                || (!share && number != Math.rint(number))
                || number <= 0
                || (share && number > 100)) {
            map.wrong(
                    key,
                    "'" + text + "' is not a limit",
                    "Write a number such as 100 " + unit + "s, or a share such as 5%");
            return Optional.empty();
        }
        return Optional.of(new Limit(
                share ? 0 : (long) number,
                share ? number / 100 : 0,
                share ? text : (long) number + " " + unit + (number == 1 ? "" : "s")));
    }

    private After after() {
        YamlMap map = JobSection.AFTER.in(root).orElseThrow();
        return new After(routing(map, "loaded"), routing(map, "rejected"), routing(map, "waiting"));
    }

    private Routing routing(YamlMap after, String outcome) {
        if (!after.has(outcome)) {
            return Routing.LEAVE;
        }
        if (after.isText(outcome)) {
            String word = after.text(outcome, "leave");
            if (!word.equals("leave") && !word.equals("delete")) {
                after.wrong(
                        outcome,
                        "'" + outcome + "' must be leave, delete, {move: FOLDER} or {copy: FOLDER}, not '" + word + "'",
                        "");
            }
            return new Routing(
                    word.equals("delete") ? Routing.Kind.DELETE : Routing.Kind.LEAVE, true, Optional.empty(), false);
        }
        YamlMap map = Route.SECTION.check(after.map(outcome));
        if (map.has("delete") && !map.has("move") && !map.has("copy")) {
            if (!map.text("delete", "").equals("even with rejects")) {
                map.wrong(
                        "delete",
                        "'delete' can only be `even with rejects` here",
                        "Write `" + outcome + ": delete` to delete files of which no row is rejected");
            }
            return new Routing(Routing.Kind.DELETE, true, Optional.empty(), true);
        }
        if (map.has("move") == map.has("copy") || map.has("delete")) {
            map.wrong("either 'move' or 'copy' says where the files go", "Write {move: \"done/{run:yyyy-MM}\"}");
            return Routing.LEAVE;
        }
        String key = map.has("move") ? "move" : "copy";
        try {
            TargetPattern target = TargetPattern.of(map.text(key, ""), Route.AS.in(map), facts);
            return new Routing(
                    key.equals("move") ? Routing.Kind.MOVE : Routing.Kind.COPY, true, Optional.of(target), false);
        } catch (IllegalArgumentException wrong) {
            map.wrong(key, wrong.getMessage(), "");
            return Routing.LEAVE;
        }
    }
}
