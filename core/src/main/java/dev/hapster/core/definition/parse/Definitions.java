package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.QueryDef;
import dev.hapster.core.definition.Values;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.section.JobSection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.definition.yaml.YamlMap;
import dev.hapster.core.due.Due;
import dev.hapster.core.expression.Expression;
import dev.hapster.core.notify.Notice;
import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.schedule.Faults;
import dev.hapster.core.schedule.When;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/** Reads job and dataset files. Every mistake of a file is reported at once. */
public final class Definitions {

    private Definitions() {}

    /**
     * Reads a dataset file.
     *
     * @param file name of the file for messages, such as {@code datasets/river_samples.yaml}
     * @throws DefinitionException with every mistake in it
     */
    public static DatasetDef dataset(String file, String text) throws DefinitionException {
        return DatasetParser.dataset(file, text);
    }

    /**
     * Reads a saved query's file.
     *
     * @param file name of the file for messages, such as {@code queries/labs.yaml}
     * @param datasets names of the datasets that there are
     * @throws DefinitionException with every mistake in it
     */
    public static QueryDef query(String file, String text, Set<String> datasets) throws DefinitionException {
        return QueryParser.query(file, text, datasets);
    }

    /**
     * Reads the file of values that all jobs share.
     *
     * @return values by name, with nothing put in yet
     */
    public static Map<String, String> values(String file, String text) throws DefinitionException {
        List<Problem> problems = new ArrayList<>();
        Map<String, String> values = text.isBlank() ? Map.of() : values(YamlMap.parse(file, text, problems));
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return values;
    }

    /**
     * Reads the file of accounts.
     *
     * @return accounts by name
     * @throws DefinitionException with every mistake in it
     */
    public static Map<String, AccountDef> accounts(String file, String text) throws DefinitionException {
        return text.isBlank() ? Map.of() : AccountParser.accounts(file, text);
    }

    private static Map<String, String> values(YamlMap map) {
        Map<String, String> values = new LinkedHashMap<>();
        for (String name : map.keys()) {
            if (!name.matches(Values.NAME_RULE)) {
                map.wrongKey(
                        name,
                        "a value cannot be called '" + name + "'",
                        "Use letters, digits and _, beginning with a letter");
            } else {
                map.text(name).ifPresent(value -> values.put(name, value));
            }
        }
        return values;
    }

    /** The dataset that a job's text names, whatever else is wrong with it; empty where it names none. */
    public static String into(String file, String text) {
        return YamlMap.parse(file, text, new ArrayList<>()).text("into").orElse("");
    }

    /**
     * A condition on rows of a dataset.
     *
     * @throws Expression.WrongException where it is none
     */
    public static Expression condition(String text, DatasetDef dataset) throws Expression.WrongException {
        return Expression.of(text, ExpressionParser.types(dataset));
    }

    /**
     * What a job's file says about where to look, whatever else is wrong with it.
     *
     * @param places those that are declared without mistakes, by their position in the file
     * @param problems mistakes of {@code values} and {@code find}
     */
    public record Search(Map<Integer, Place> places, List<Values.Used> values, List<Problem> problems) {}

    /** Reads no more of a job file than {@code values} and {@code find}. */
    public static Search search(String file, String text, Values values) {
        List<Problem> problems = new ArrayList<>();
        YamlMap root = YamlMap.parse(file, text, problems);
        Values.Expansion expansion = values.new Expansion(root.has("values") ? values(root.map("values")) : Map.of());
        Map<Integer, Place> places = new LinkedHashMap<>();
        YamlMap expanded = root.expanding(expansion::expand);
        List<Problem> elsewhere = new ArrayList<>();
        YamlMap quiet = YamlMap.parse(file, text, elsewhere).expanding(expansion::expand);
        Format format = quiet.has("read") ? ReadSection.AS.in(quiet.map("read")) : Format.DELIMITED;
        List<YamlMap> declared = root.has("find") ? expanded.maps("find") : List.of();
        for (int i = 0; i < declared.size(); i++) {
            int before = problems.size();
            Place place = PlaceParser.place(declared.get(i), format);
            if (problems.size() == before) {
                places.put(i + 1, place);
            }
        }
        return new Search(places, expansion.used(), problems);
    }

    /**
     * What a job's file says of when it runs, whatever else is wrong with it.
     *
     * @return empty where it says nothing
     * @throws DefinitionException where that cannot be read
     */
    public static Optional<When> when(String file, String text, Values values) throws DefinitionException {
        return section(
                file,
                text,
                values,
                root -> WhenParser.when(root, root.text("job").orElse("")));
    }

    /**
     * What a job's file says of faults that may pass, whatever else is wrong with it.
     *
     * @return empty where it says nothing
     * @throws DefinitionException where that cannot be read
     */
    public static Optional<Faults> faults(String file, String text, Values values) throws DefinitionException {
        return section(file, text, values, FaultsParser::faults);
    }

    /**
     * Reads a part of a job's file, whatever else is wrong with it.
     *
     * @throws DefinitionException where that part cannot be read
     */
    private static <T> T section(String file, String text, Values values, Function<YamlMap, T> part)
            throws DefinitionException {
        List<Problem> problems = new ArrayList<>();
        YamlMap root = YamlMap.parse(file, text, problems);
        Values.Expansion expansion = values.new Expansion(root.has("values") ? values(root.map("values")) : Map.of());
        T read = part.apply(root.expanding(expansion::expand));
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return read;
    }

    /**
     * What a job's file says of what is to arrive, whatever else is wrong with it.
     *
     * @param due empty where it says nothing
     * @param places in which the files are found, by their position in the file
     */
    public record Expected(Optional<Due> due, Map<Integer, Place> places) {}

    /** @throws DefinitionException where that, or where to look, cannot be read */
    public static Expected expected(String file, String text, Values values) throws DefinitionException {
        Search search = search(file, text, values);
        Optional<Due> due = section(
                file, text, values, root -> DueParser.due(root, search.places().values()));
        if (due.isPresent() && !search.problems().isEmpty()) {
            throw new DefinitionException(search.problems());
        }
        return new Expected(due, search.places());
    }

    /**
     * Whom a job's file has told how it went, whatever else is wrong with it.
     *
     * @throws DefinitionException where that cannot be read
     */
    public static List<Notice> notices(String file, String text, Values values) throws DefinitionException {
        return section(file, text, values, NotifyParser::own);
    }

    /**
     * Reads the file that says who is told of all jobs, or of several.
     *
     * @throws DefinitionException with every mistake in it
     */
    public static List<Notice> sharedNotices(String file, String text) throws DefinitionException {
        return text.isBlank() ? List.of() : NotifyParser.shared(file, text);
    }

    /** Reads a job file with no values but those it declares itself. */
    public static JobDef job(
            String file, String text, Function<String, Optional<DatasetDef>> datasets, Set<String> known)
            throws DefinitionException {
        return job(file, text, datasets, known, Values.none());
    }

    /** Reads a job file that looks nothing up. */
    public static JobDef job(
            String file, String text, Function<String, Optional<DatasetDef>> datasets, Set<String> known, Values values)
            throws DefinitionException {
        return job(file, text, datasets, known, values, Lookups.NONE);
    }

    /**
     * Reads a job file and checks it against the dataset that it loads into.
     *
     * @param file name of the file for messages, such as {@code jobs/east-lab.yaml}
     * @param datasets gives a dataset by its name; empty where there is none or it has mistakes of its own
     * @param known names of all datasets, for the nearest right word
     * @param values what its <code>${names}</code> stand for
     * @param lookups where the tables are that it looks values up in
     */
    public static JobDef job(
            String file,
            String text,
            Function<String, Optional<DatasetDef>> datasets,
            Set<String> known,
            Values values,
            Lookups lookups)
            throws DefinitionException {
        List<Problem> problems = new ArrayList<>();
        YamlMap plain = JobSection.SECTION.check(YamlMap.parse(file, text, problems));
        Map<String, String> own = plain.has("values") ? values(plain.map("values")) : Map.of();
        Values.Expansion expansion = values.new Expansion(own);
        YamlMap root = plain.expanding(expansion::expand);
        String name = root.required("job", "Write `job: " + stem(file) + "` as the first line");
        checkName(root, "job", name, file);
        String into = root.required("into", "Name the dataset: `into: …`");
        Optional<DatasetDef> dataset = datasets.apply(into);
        if (root.has("into") && !known.contains(into)) {
            root.wrong(
                    "into",
                    "there is no dataset '" + into + "' (no file datasets/" + into + ".yaml)",
                    Nearest.hint(into, known));
        }
        Read read = root.has("read") ? ReadSection.read(root.map("read")) : Read.USUAL;
        List<Place> find = new ArrayList<>();
        if (!root.has("find")) {
            root.missing("find", "Say where to look: `find: [{folder: …, take: [\"*.csv\"]}]`");
        } else {
            List<YamlMap> places = root.maps("find");
            places.forEach(place -> find.add(PlaceParser.place(place, read.as())));
            if (places.isEmpty() && problems.isEmpty()) {
                root.wrong("find", "'find' names no folder", "");
            }
        }
        Map<String, Mapping> map = new LinkedHashMap<>();
        if (root.has("map")) {
            YamlMap mappings = root.map("map");
            for (String column : mappings.keys()) {
                ColumnDef target =
                        dataset.flatMap(found -> found.column(column)).orElse(null);
                if (target == null && dataset.isPresent()) {
                    mappings.wrongKey(
                            column,
                            "the dataset " + into + " has no column '" + column + "'",
                            Nearest.hint(
                                    column,
                                    dataset.get().columns().stream()
                                            .map(ColumnDef::name)
                                            .toList()));
                }
                Mapping mapping = MappingParser.mapping(mappings, column, target, dataset, lookups);
                map.put(column, mapping);
                if (mapping instanceof Mapping.Fact fact
                        && !read.get(ReadSection.FACTS).containsKey(fact.name())) {
                    checkFact(mappings.map(column), fact.name(), find);
                }
            }
            checkCircles(mappings, map);
        }
        Handling handling = HandlingParser.read(root, dataset, facts(find), read);
        // what only says when it runs, what is to arrive, and who is told, is not among the values that a run was given
        Optional<When> when = WhenParser.when(plain.expanding(values.new Expansion(own)::expand), name);
        Optional<Due> due = DueParser.due(plain.expanding(values.new Expansion(own)::expand), find);
        Optional<Faults> faults = FaultsParser.faults(plain.expanding(values.new Expansion(own)::expand));
        List<Notice> notices = NotifyParser.own(plain.expanding(values.new Expansion(own)::expand));
        String about = JobSection.ABOUT.in(root);
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return new JobDef(
                name,
                about,
                into,
                expansion.used(),
                find,
                read,
                map,
                handling,
                when,
                due,
                faults,
                notices,
                version(text),
                text);
    }

    /** No column may be calculated from itself, be it through others. */
    private static void checkCircles(YamlMap mappings, Map<String, Mapping> map) {
        for (String column : map.keySet()) {
            List<String> way = way(column, column, map, new ArrayList<>());
            if (!way.isEmpty()) {
                mappings.wrong(
                        column,
                        column + " is calculated from itself"
                                + (way.size() > 1
                                        ? ", through " + String.join(" and ", way.subList(0, way.size() - 1))
                                        : ""),
                        "For what the file has in such a column, write source[\"" + column + "\"]");
            }
        }
    }

    /** The columns on the way from one to another; empty where there is none. */
    private static List<String> way(String from, String to, Map<String, Mapping> map, List<String> before) {
        Set<String> needed = Optional.ofNullable(map.get(from))
                .flatMap(Mapping::computed)
                .map(Expression::names)
                .orElse(Set.of());
        if (needed.contains(to)) {
            List<String> way = new ArrayList<>(before);
            way.add(to);
            return way;
        }
        for (String next : needed) {
            if (!before.contains(next) && map.containsKey(next)) {
                List<String> longer = new ArrayList<>(before);
                longer.add(next);
                List<String> way = way(next, to, map, longer);
                if (!way.isEmpty()) {
                    return way;
                }
            }
        }
        return List.of();
    }

    /** What the names of the job's files may say. */
    private static Set<String> facts(List<Place> places) {
        Set<String> known = new java.util.TreeSet<>();
        places.forEach(place -> place.naming().forEach(name -> known.addAll(name.facts())));
        return known;
    }

    /** Each pattern that takes files must yield a fact that a column needs. */
    private static void checkFact(YamlMap mapping, String fact, List<Place> places) {
        Set<String> known = facts(places);
        for (Place place : places) {
            List<List<NamePattern>> takes = place.rules().stream()
                    .filter(FindRule.Take.class::isInstance)
                    .map(Definitions::names)
                    .toList();
            boolean yields = takes.stream().anyMatch(names -> names.stream()
                    .allMatch(name -> name.facts().contains(fact)));
            boolean titles = place.sheets().isPresent()
                    && place.sheets().get().names().stream()
                            .anyMatch(name -> name.facts().contains(fact));
            if (!yields && !titles) {
                String lacking = takes.stream()
                        .flatMap(List::stream)
                        .filter(name -> !name.facts().contains(fact))
                        .findFirst()
                        .map(name -> "the pattern " + name.words() + " yields no '" + fact + "'")
                        .orElse("the place " + place.folder() + " has no pattern that yields '" + fact + "'");
                mapping.wrong(
                        "fact",
                        lacking,
                        known.contains(fact) || Nearest.word(fact, known).isEmpty()
                                ? "Put a piece {" + fact + "} into it, or give those files a job of their own"
                                : Nearest.hint(fact, known));
            }
        }
    }

    private static List<NamePattern> names(FindRule rule) {
        return rule instanceof FindRule.Take take ? take.names() : List.of();
    }

    static void checkName(YamlMap root, String key, String name, String file) {
        if (!root.has(key)) {
            return;
        }
        if (!name.matches(DatasetSection.FILE_NAME_RULE)) {
            root.wrong(key, "a " + key + " cannot be called '" + name + "'", "Use letters, digits, - and _");
        } else if (!name.equals(stem(file))) {
            root.wrong(
                    key,
                    "the " + key + " is called '" + name + "', its file '" + stem(file) + "'",
                    "Give both the same name");
        }
    }

    static String stem(String file) {
        String name = file.substring(file.lastIndexOf('/') + 1);
        return name.endsWith(".yaml") ? name.substring(0, name.length() - 5) : name;
    }

    /** The version of a text: the first 12 hexadecimal digits of its SHA-256. */
    public static String version(String text) {
        return version(text.getBytes(StandardCharsets.UTF_8));
    }

    /** The same of the bytes of a file. */
    public static String version(byte[] bytes) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256").digest(bytes);
            return HexFormat.of().formatHex(digest, 0, 6);
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException("Every Java platform has SHA-256", impossible);
        }
    }
}
