package dev.hapster.core.query;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.DatasetQuery.Grouping;
import dev.hapster.core.query.DatasetQuery.Selection;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.profile.ColumnProfile;
import dev.hapster.core.query.value.Texts;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.query.write.RowWriter.Limits;
import dev.hapster.core.store.PartOrigin;
import dev.hapster.core.store.Span;
import java.io.ByteArrayOutputStream;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.YearMonth;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.stream.IntStream;
import org.assertj.core.data.Offset;
import org.assertj.core.data.Percentage;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.TestInstance.Lifecycle;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.roaringbitmap.RoaringBitmap;

/** Random questions have the answers that going through all rows as objects has. */
@TestInstance(Lifecycle.PER_CLASS)
class QueryModelTest {

    private static final List<String> COLUMNS =
            List.of("id", "lab", "code", "value", "ratio", "day", "at", "sure", "wide", "grown", "later", "note");
    /** Of the first part, so that it has several row groups. */
    private static final int MANY = 60_000;

    private static final int FEW = 3_000;

    private final Random random = new Random(1);
    private final List<List<Comparable<?>>> model = new ArrayList<>();
    private DatasetQuery query;
    private Path scratch;

    @BeforeAll
    void parts(@TempDir Path folder) throws Exception {
        scratch = folder;
        DatasetDef before = dataset("{name: small, type: integer}", "{name: note, type: text}");
        DatasetDef now = dataset(
                "{name: grown, was: [small], type: \"decimal(25,2)\"}",
                "{name: later, type: text, default: none yet}",
                "{name: note, type: text}");
        List<PartFile> files = new ArrayList<>();
        for (int part = 0; part < 5; part++) {
            files.add(part(folder, part, before, part == 0 ? MANY : FEW));
        }
        query = new DatasetQuery(now, files);
    }

    private static DatasetDef dataset(String... last) throws Exception {
        List<String> columns = new ArrayList<>(List.of(
                "{name: id, type: integer}",
                "{name: lab, type: text}",
                "{name: code, type: text}",
                "{name: value, type: \"decimal(9,1)\"}",
                "{name: ratio, type: double}",
                "{name: day, type: date}",
                "{name: at, type: timestamp}",
                "{name: sure, type: boolean}",
                "{name: wide, type: \"decimal(30,3)\"}"));
        columns.addAll(List.of(last));
        return TestJobs.dataset(columns.toArray(String[]::new));
    }

    private PartFile part(Path folder, int part, DatasetDef before, int rows) throws Exception {
        String name = "f" + (part == 4 ? 2 : part);
        StringBuilder text = new StringBuilder("id,lab,code,value,ratio,day,at,sure,wide,small,note\n");
        RoaringBitmap masked = new RoaringBitmap();
        byte[] noise = new byte[300];
        for (int row = 0; row < rows; row++) {
            long id = part * 1_000_000L + row;
            Comparable<?> lab = maybe("lab " + random.nextInt(5));
            Comparable<?> code = maybe("c" + random.nextInt(1_000_000));
            Comparable<?> value = maybe(BigDecimal.valueOf(random.nextInt(20_000) - 10_000, 1));
            Comparable<?> ratio = maybe((double) Math.round(random.nextGaussian() * 1000) / 7);
            LocalDate date = LocalDate.of(2025, 11, 20).plusDays(row / 700 + random.nextInt(3));
            Comparable<?> at = maybe(date.atTime(random.nextInt(24), random.nextInt(60), random.nextInt(60)));
            Comparable<?> sure = maybe(random.nextBoolean());
            Comparable<?> wide = maybe(BigDecimal.valueOf(random.nextLong(), 3));
            Long small = (long) random.nextInt(9) - 4;
            random.nextBytes(noise);
            String note = part == 0 ? java.util.HexFormat.of().formatHex(noise) : "short";
            text.append(id);
            for (Comparable<?> one : java.util.Arrays.asList(lab, code, value, ratio, date, at, sure, wide, small)) {
                text.append(',')
                        .append(one instanceof BigDecimal number ? number.toPlainString() : one == null ? "" : one);
            }
            text.append(',').append(note).append('\n');
            if (part > 1 && random.nextInt(4) == 0) {
                masked.add(row);
                continue;
            }
            List<Comparable<?>> all = new ArrayList<>();
            all.add(name);
            all.add(row + 2L);
            Collections.addAll(all, id, lab, code, value, ratio, date, at, sure, wide);
            all.add(BigDecimal.valueOf(small * 100, 2));
            all.add("none yet");
            all.add(note);
            model.add(all);
        }
        Path file = folder.resolve(part + ".parquet");
        TestJobs.part(file, before, new PartOrigin(name, "/" + name, part, Instant.EPOCH), text.toString());
        return new PartFile(Span.whole(file), name, rows - masked.getCardinality(), Optional.of(masked));
    }

    private Comparable<?> maybe(Comparable<?> value) {
        return random.nextInt(20) == 0 ? null : value;
    }

    private int place(String column) {
        return 2 + COLUMNS.indexOf(column);
    }

    @SuppressWarnings("unchecked")
    private static int compare(Comparable<?> a, Comparable<?> b) {
        return ((Comparable<Object>) a).compareTo(b);
    }

    /** A condition as text, and what it means. */
    private record Asked(String text, Predicate<List<Comparable<?>>> holds) {}

    /** One condition, or several put together. */
    private Asked condition() {
        int kind = random.nextInt(8);
        if (kind > 3) {
            return simple();
        }
        Asked one = condition();
        if (kind == 0) {
            return new Asked("not (" + one.text + ")", one.holds.negate());
        }
        Asked other = condition();
        return kind == 1
                ? new Asked("(" + one.text + " or " + other.text + ")", one.holds.or(other.holds))
                : kind == 2
                        ? new Asked("(" + one.text + ") AND (" + other.text + ")", one.holds.and(other.holds))
                        : new Asked(one.text + " or " + other.text, one.holds.or(other.holds));
    }

    /** A few values of a column, of which some do not occur. */
    private Asked list(String column, int at, boolean not) {
        List<Comparable<?>> values = model.get(random.nextInt(model.size())).get(at) instanceof Long
                ? List.of(1L, -3L, 2L, 1_000_003L, 77L)
                : IntStream.range(0, 1 + random.nextInt(4))
                        .<Comparable<?>>mapToObj(
                                i -> model.get(random.nextInt(model.size())).get(at))
                        .filter(java.util.Objects::nonNull)
                        .toList();
        String list = values.stream()
                .map(value -> "'" + plain(value) + "'")
                .reduce((a, b) -> a + ", " + b)
                .orElse("");
        if (list.isEmpty()) {
            return new Asked(column + " is empty", row -> row.get(at) == null);
        }
        return new Asked(
                column + (not ? " not in (" : " in (") + list + ")",
                row -> (row.get(at) != null && values.stream().anyMatch(value -> compare(row.get(at), value) == 0))
                        != not);
    }

    private static String plain(Comparable<?> value) {
        return value instanceof BigDecimal number ? number.toPlainString() : value.toString();
    }

    private static String shown(Comparable<?> value) {
        return Texts.of(value);
    }

    private Asked simple() {
        String column = COLUMNS.get(random.nextInt(COLUMNS.size()));
        int at = place(column);
        if (random.nextInt(6) == 0) {
            boolean empty = random.nextBoolean();
            return new Asked(column + (empty ? " is empty" : " is filled"), row -> (row.get(at) == null) == empty);
        }
        Comparable<?> value = null;
        while (value == null) {
            value = model.get(random.nextInt(model.size())).get(at);
        }
        Comparable<?> wanted =
                value instanceof BigDecimal number && random.nextBoolean() ? number.add(new BigDecimal("0.05")) : value;
        String text = wanted instanceof BigDecimal number ? number.toPlainString() : wanted.toString();
        boolean not = random.nextBoolean();
        return switch (random.nextInt(11)) {
            case 7 -> list(column, at, not);
            case 8 -> {
                Comparable<?> end = model.get(random.nextInt(model.size())).get(at);
                Comparable<?> last = end == null ? wanted : end;
                yield new Asked(
                        column + (not ? " not between '" : " between '") + text + "' and '" + plain(last) + "'",
                        row -> (row.get(at) != null
                                        && compare(row.get(at), wanted) >= 0
                                        && compare(row.get(at), last) <= 0)
                                != not);
            }
            case 9 -> {
                String start = shown(wanted).substring(0, 1);
                yield new Asked(
                        column + (not ? " not like '" : " like '") + start + "%_'",
                        row -> (row.get(at) != null
                                        && shown(row.get(at)).startsWith(start)
                                        && shown(row.get(at)).length() > 1)
                                != not);
            }
            case 10 -> {
                String end = shown(wanted).substring(shown(wanted).length() - 1);
                yield new Asked(
                        column + " matches '[" + end + "]$'",
                        row -> row.get(at) != null && shown(row.get(at)).endsWith(end));
            }
            case 0 -> new Asked(column + " = '" + text + "'", row -> is(row.get(at), wanted, order -> order == 0));
            case 1 ->
                new Asked(
                        column + " != '" + text + "'", row -> row.get(at) == null || compare(row.get(at), wanted) != 0);
            case 2 -> new Asked(column + " < '" + text + "'", row -> is(row.get(at), wanted, order -> order < 0));
            case 3 -> new Asked(column + " <= '" + text + "'", row -> is(row.get(at), wanted, order -> order <= 0));
            case 4 -> new Asked(column + " > '" + text + "'", row -> is(row.get(at), wanted, order -> order > 0));
            case 5 -> new Asked(column + " >= '" + text + "'", row -> is(row.get(at), wanted, order -> order >= 0));
            default -> {
                String piece = shown(wanted)
                        .substring(0, Math.max(1, shown(wanted).length() / 2))
                        .toLowerCase(Locale.ROOT);
                yield new Asked(
                        column + " ~ '" + piece + "'",
                        row -> row.get(at) != null
                                && shown(row.get(at)).toLowerCase(Locale.ROOT).contains(piece));
            }
        };
    }

    private static boolean is(Comparable<?> value, Comparable<?> wanted, Predicate<Integer> order) {
        return value != null && order.test(compare(value, wanted));
    }

    private Comparator<List<Comparable<?>>> order(List<String> sorts) {
        Comparator<List<Comparable<?>>> order = Comparator.comparingInt(row -> 0);
        for (String sort : sorts) {
            boolean descending = sort.startsWith("-");
            int at = place(descending ? sort.substring(1) : sort);
            Comparator<Comparable<?>> one = QueryModelTest::compare;
            order = order.thenComparing(row -> row.get(at), Comparator.nullsLast(descending ? one.reversed() : one));
        }
        Comparator<Comparable<?>> plain = QueryModelTest::compare;
        return order.thenComparing(row -> row.get(0), plain).thenComparing(row -> row.get(1), plain);
    }

    private List<Asked> conditions(int most) {
        return IntStream.range(0, random.nextInt(most + 1))
                .mapToObj(i -> condition())
                .toList();
    }

    private List<String> sorts() {
        return IntStream.range(0, random.nextInt(3))
                .mapToObj(i -> (random.nextBoolean() ? "-" : "") + COLUMNS.get(random.nextInt(COLUMNS.size())))
                .toList();
    }

    private static List<String> texts(List<Asked> asked) {
        return asked.stream().map(Asked::text).toList();
    }

    private List<List<Comparable<?>>> holding(List<Asked> asked) {
        return model.stream()
                .filter(row -> asked.stream().allMatch(one -> one.holds().test(row)))
                .toList();
    }

    @ParameterizedTest
    @ValueSource(longs = {11, 12})
    void pagesAreThoseOfThePlainList(long seed) throws Exception {
        random.setSeed(seed);
        for (int question = 0; question < 15; question++) {
            List<Asked> asked = conditions(2);
            List<String> sorts = sorts();
            List<List<Comparable<?>>> expected =
                    holding(asked).stream().sorted(order(sorts)).toList();
            int offset = random.nextInt(3) == 0 ? 0 : random.nextInt(Math.min(expected.size(), 5_000) + 1);
            for (int from = offset; from <= offset + 120; from += 60) {
                boolean counted = random.nextBoolean();
                Page page = query.rows(from, 60, sorts, texts(asked), counted);
                assertThat(page.rows().stream().map(row -> row.get(5)).toList())
                        .as("%s by %s from %d", texts(asked), sorts, from)
                        .isEqualTo(expected.stream()
                                .skip(from)
                                .limit(60)
                                .map(row -> row.get(2))
                                .toList());
                if (counted || page.total().isPresent()) {
                    assertThat(page.total()).as("%s", texts(asked)).hasValue(expected.size());
                }
                for (int i = 0; i < page.rows().size(); i++) {
                    assertThat(page.rows().get(i).subList(5, page.rows().get(i).size()))
                            .isEqualTo(expected.get(from + i).subList(2, 2 + COLUMNS.size()));
                }
            }
        }
    }

    private static Comparable<?> unit(Comparable<?> value, String unit) {
        if (value == null || unit.isEmpty()) {
            return value;
        }
        LocalDateTime time = value instanceof LocalDateTime exact ? exact : ((LocalDate) value).atStartOfDay();
        LocalDate day = time.toLocalDate();
        return switch (unit) {
            case ":year" -> (Comparable<?>) (long) day.getYear();
            case ":quarter" -> day.getYear() + "-Q" + ((day.getMonthValue() + 2) / 3);
            case ":month" -> YearMonth.from(day);
            case ":week" -> DateTimeFormatter.ISO_WEEK_DATE.format(day).substring(0, 8);
            case ":hour" -> time.toString().substring(0, 13);
            default -> day;
        };
    }

    /** What a measure of some rows comes to, found out in the plainest way. */
    private Comparable<?> measure(String measure, List<List<Comparable<?>>> rows) {
        String way = measure.substring(0, measure.indexOf('('));
        int at = place(measure.substring(way.length() + 1, measure.length() - 1));
        List<Comparable<?>> values = new ArrayList<>();
        rows.stream().map(row -> row.get(at)).filter(java.util.Objects::nonNull).forEach(values::add);
        values.sort(QueryModelTest::compare);
        if (way.equals("count")) {
            return (long) values.size();
        }
        if (values.isEmpty()) {
            return null;
        }
        BigDecimal sum = values.stream()
                .map(value -> value instanceof Number number ? new BigDecimal(number.toString()) : BigDecimal.ZERO)
                .reduce(BigDecimal.ZERO, BigDecimal::add);
        boolean rough = values.get(0) instanceof Double;
        int scale = values.get(0) instanceof BigDecimal number ? number.scale() : 0;
        return switch (way) {
            case "min" -> values.get(0);
            case "max" -> values.get(values.size() - 1);
            case "sum" -> rough ? (Comparable<?>) sum.doubleValue() : sum;
            default -> {
                BigDecimal count = BigDecimal.valueOf(values.size());
                yield rough
                        ? (Comparable<?>) (sum.doubleValue() / values.size())
                        : sum.divide(count, scale + 4, RoundingMode.HALF_UP);
            }
        };
    }

    private static boolean same(Comparable<?> a, Comparable<?> b) {
        return (a instanceof Double x && b instanceof Double y)
                ? Math.abs(x - y) <= 1e-9 * Math.max(1, Math.abs(y))
                : java.util.Objects.equals(a, b);
    }

    @ParameterizedTest
    @ValueSource(longs = {21, 22})
    void countsAreThoseOfThePlainList(long seed) throws Exception {
        random.setSeed(seed);
        List<String> groupable = List.of(
                "lab",
                "day",
                "at:day",
                "at:month",
                "at:hour",
                "at:week",
                "day:quarter",
                "day:year",
                "day:week",
                "sure",
                "grown",
                "later",
                "_file");
        List<String> measurable = List.of(
                "sum(id)",
                "sum(value)",
                "mean(value)",
                "sum(wide)",
                "mean(wide)",
                "mean(ratio)",
                "sum(grown)",
                "min(at)",
                "max(day)",
                "max(code)",
                "min(ratio)",
                "max(wide)",
                "count(lab)",
                "min(sure)",
                "count(later)");
        for (int question = 0; question < 12; question++) {
            List<Asked> asked = conditions(2);
            List<String> by = new ArrayList<>(groupable);
            Collections.shuffle(by, random);
            List<String> keys = by.subList(0, random.nextInt(4));
            List<String> some = new ArrayList<>(measurable);
            Collections.shuffle(some, random);
            List<String> measures = some.subList(0, random.nextInt(4));
            Map<List<Comparable<?>>, List<List<Comparable<?>>>> expected = new HashMap<>();
            for (List<Comparable<?>> row : holding(asked)) {
                List<Comparable<?>> group = new ArrayList<>();
                for (String key : keys) {
                    int colon = key.indexOf(':');
                    String column = colon < 0 ? key : key.substring(0, colon);
                    group.add(unit(
                            row.get(column.equals("_file") ? 0 : place(column)),
                            colon < 0 ? "" : key.substring(colon)));
                }
                expected.computeIfAbsent(group, unused -> new ArrayList<>()).add(row);
            }
            int top = random.nextBoolean() ? 0 : 1 + random.nextInt(4);
            Counts counts = query.counts(new Grouping(keys, measures, texts(asked), List.of(), top));
            String what = texts(asked) + " by " + keys + " " + measures + " top " + top;
            assertThat(counts.groups()).as(what).hasSize(top == 0 ? expected.size() : Math.min(top, expected.size()));
            Map<List<Comparable<?>>, List<List<Comparable<?>>>> others = new HashMap<>(expected);
            long least = Long.MAX_VALUE;
            for (Counts.Group group : counts.groups()) {
                check(what, group, measures, others.remove(group.values()));
                least = Math.min(least, group.rows());
            }
            List<List<Comparable<?>>> rest =
                    others.values().stream().flatMap(List::stream).toList();
            assertThat(counts.rest().isPresent()).as(what).isEqualTo(!others.isEmpty());
            if (counts.rest().isPresent()) {
                assertThat(counts.rest().get().groups()).isEqualTo(others.size());
                check(what, counts.rest().get().all(), measures, rest);
                assertThat(others.values().stream().mapToInt(List::size).max().orElse(0))
                        .isLessThanOrEqualTo((int) least);
            }
            check(what, counts.total(), measures, holding(asked));
        }
    }

    private void check(String what, Counts.Group group, List<String> measures, List<List<Comparable<?>>> rows) {
        assertThat(rows).as("%s: group %s", what, group.values()).isNotNull();
        assertThat(group.rows()).as("%s: rows of %s", what, group.values()).isEqualTo(rows.size());
        for (int i = 0; i < measures.size(); i++) {
            Comparable<?> expected = measure(measures.get(i), rows);
            assertThat(same(group.measures().get(i), expected))
                    .as(
                            "%s: %s of %s is %s, not %s",
                            what,
                            measures.get(i),
                            group.values(),
                            group.measures().get(i),
                            expected)
                    .isTrue();
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "lab = 'lab 2' or value is empty", "id < 40", "id < 0"})
    void profilesAreThoseOfThePlainList(String where) throws Exception {
        List<Asked> asked = where.isEmpty()
                ? List.of()
                : List.of(new Asked(
                        where,
                        row -> where.startsWith("id")
                                ? (Long) row.get(2) < Long.parseLong(where.substring(5))
                                : "lab 2".equals(row.get(place("lab"))) || row.get(place("value")) == null));
        List<List<Comparable<?>>> rows = holding(asked);
        List<ColumnProfile> profiles = query.profile(List.of(), texts(asked));
        assertThat(profiles).hasSize(COLUMNS.size());
        for (ColumnProfile profile : profiles) {
            String name = profile.field().name();
            Map<Comparable<?>, Long> counts = new TreeMap<>(QueryModelTest::compare);
            rows.stream()
                    .map(row -> row.get(place(name)))
                    .filter(java.util.Objects::nonNull)
                    .forEach(value -> counts.merge(value, 1L, Long::sum));
            long filled = counts.values().stream().mapToLong(Long::longValue).sum();
            assertThat(profile.rows()).as(name).isEqualTo(rows.size());
            assertThat(profile.filled()).as(name).isEqualTo(filled);
            if (profile.distinct().error() == 0) {
                assertThat(profile.distinct().number()).as(name).isEqualTo(counts.size());
            } else {
                assertThat(counts).as(name).hasSizeGreaterThan(6_000);
                assertThat((double) profile.distinct().number())
                        .as(name)
                        .isCloseTo(
                                counts.size(),
                                Percentage.withPercentage(
                                        300 * profile.distinct().error()));
            }
            if (filled == 0) {
                assertThat(profile.smallest()).as(name).isNull();
                assertThat(profile.quantiles()).as(name).isEmpty();
                assertThat(profile.frequent()).as(name).isEmpty();
                continue;
            }
            List<Comparable<?>> sorted = List.copyOf(counts.keySet());
            assertThat(profile.smallest()).as(name).isEqualTo(sorted.get(0));
            assertThat(profile.largest()).as(name).isEqualTo(sorted.get(sorted.size() - 1));
            if (!profile.histogram().isEmpty()) {
                assertThat(profile.histogram().stream()
                                .mapToLong(ColumnProfile.Bin::rows)
                                .sum())
                        .as(name)
                        .isCloseTo(filled, Offset.offset(20L));
                assertThat(profile.histogram().get(0).from()).as(name).isEqualTo(sorted.get(0));
            }
            for (ColumnProfile.Quantile quantile : profile.quantiles()) {
                long below = 0;
                long to = 0;
                for (Map.Entry<Comparable<?>, Long> one : counts.entrySet()) {
                    int order = compare(one.getKey(), quantile.value());
                    below += order < 0 ? one.getValue() : 0;
                    to += order <= 0 ? one.getValue() : 0;
                }
                double share = quantile.share();
                double error = quantile.error() * 2 + 1e-9;
                assertThat((double) below / filled).as(name + " " + quantile).isLessThanOrEqualTo(share + error);
                assertThat((double) to / filled).as(name + " " + quantile).isGreaterThanOrEqualTo(share - error);
            }
            if (profile.distinct().error() == 0) {
                assertThat(profile.frequent())
                        .as(name)
                        .hasSize(Math.min(20, counts.size()))
                        .allSatisfy(one -> assertThat(one.rows()).isEqualTo(counts.get(one.value())));
                long least =
                        profile.frequent().get(profile.frequent().size() - 1).rows();
                assertThat(counts.values().stream()
                                .filter(count -> count > least)
                                .count())
                        .as(name)
                        .isLessThan(20);
            }
            if (profile.mean().isPresent()) {
                double sum = 0;
                for (Map.Entry<Comparable<?>, Long> one : counts.entrySet()) {
                    sum += ((Number) one.getKey()).doubleValue() * one.getValue();
                }
                double mean = sum / filled;
                double squares = 0;
                for (Map.Entry<Comparable<?>, Long> one : counts.entrySet()) {
                    double distance = ((Number) one.getKey()).doubleValue() - mean;
                    squares += distance * distance * one.getValue();
                }
                double close = 1e-9 * Math.max(1, Math.abs(mean) + Math.sqrt(squares / filled));
                assertThat(profile.mean().getAsDouble()).as(name).isCloseTo(mean, Offset.offset(close));
                assertThat(profile.deviation().getAsDouble())
                        .as(name)
                        .isCloseTo(Math.sqrt(squares / filled), Offset.offset(close * 10));
            }
            profile.text().ifPresent(text -> {
                assertThat(text.shortest())
                        .isEqualTo(counts.keySet().stream()
                                .mapToInt(value -> value.toString().length())
                                .min()
                                .orElseThrow());
                assertThat(text.longestValue()).hasSize(text.longest());
            });
            profile.gaps().ifPresent(gaps -> assertThat(gaps.days())
                    .as(name)
                    .isEqualTo(counts.keySet().stream()
                            .map(value -> unit(value, ":day"))
                            .distinct()
                            .count()));
        }
    }

    @Test
    void anExportHasTheRowsForWhichItsConditionsHold() throws Exception {
        for (int question = 0; question < 6; question++) {
            List<Asked> asked = conditions(2);
            List<String> sorts = question % 2 == 0 ? List.of() : sorts();
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            query.export(new Selection(List.of("id"), false, texts(asked), sorts), columns -> Limits.NONE, false)
                    .to(RowWriter.of("csv", out, "x").orElseThrow(), scratch);
            assertThat(out.toString(StandardCharsets.UTF_8).lines().skip(1).map(Long::valueOf))
                    .as("%s by %s", texts(asked), sorts)
                    .isEqualTo(holding(asked).stream()
                            .sorted(order(sorts))
                            .map(row -> (Long) row.get(2))
                            .toList());
        }
    }
}
