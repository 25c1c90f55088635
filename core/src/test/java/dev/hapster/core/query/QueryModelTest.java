package dev.hapster.core.query;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.DatasetQuery.Selection;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.store.PartOrigin;
import dev.hapster.core.store.Span;
import java.io.ByteArrayOutputStream;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.YearMonth;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.function.Predicate;
import java.util.stream.IntStream;
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

    private Asked condition() {
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
        return switch (random.nextInt(7)) {
            case 0 -> new Asked(column + " = '" + text + "'", row -> is(row.get(at), wanted, order -> order == 0));
            case 1 ->
                new Asked(
                        column + " != '" + text + "'", row -> row.get(at) == null || compare(row.get(at), wanted) != 0);
            case 2 -> new Asked(column + " < '" + text + "'", row -> is(row.get(at), wanted, order -> order < 0));
            case 3 -> new Asked(column + " <= '" + text + "'", row -> is(row.get(at), wanted, order -> order <= 0));
            case 4 -> new Asked(column + " > '" + text + "'", row -> is(row.get(at), wanted, order -> order > 0));
            case 5 -> new Asked(column + " >= '" + text + "'", row -> is(row.get(at), wanted, order -> order >= 0));
            default -> {
                String piece = text.substring(0, Math.max(1, text.length() / 2)).toLowerCase(Locale.ROOT);
                yield new Asked(
                        column + " ~ '" + piece + "'",
                        row -> row.get(at) != null
                                && (row.get(at) instanceof BigDecimal number
                                                ? number.toPlainString()
                                                : row.get(at).toString())
                                        .toLowerCase(Locale.ROOT)
                                        .contains(piece));
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
        LocalDate day = value instanceof LocalDateTime time ? time.toLocalDate() : (LocalDate) value;
        return unit.equals(":year")
                ? (Comparable<?>) (long) day.getYear()
                : unit.equals(":month") ? YearMonth.from(day) : day;
    }

    @ParameterizedTest
    @ValueSource(longs = {21, 22})
    void countsAreThoseOfThePlainList(long seed) throws Exception {
        random.setSeed(seed);
        List<String> groupable =
                List.of("lab", "day", "at:day", "at:month", "day:year", "sure", "grown", "later", "_file");
        for (int question = 0; question < 10; question++) {
            List<Asked> asked = conditions(2);
            List<String> by = new ArrayList<>(groupable);
            Collections.shuffle(by, random);
            List<String> keys = by.subList(0, 1 + random.nextInt(3));
            Map<List<Comparable<?>>, Long> expected = new HashMap<>();
            for (List<Comparable<?>> row : holding(asked)) {
                List<Comparable<?>> group = new ArrayList<>();
                for (String key : keys) {
                    int colon = key.indexOf(':');
                    String column = colon < 0 ? key : key.substring(0, colon);
                    group.add(unit(
                            row.get(column.equals("_file") ? 0 : place(column)),
                            colon < 0 ? "" : key.substring(colon)));
                }
                expected.merge(group, 1L, Long::sum);
            }
            Counts counts = query.counts(keys, texts(asked));
            Map<List<Comparable<?>>, Long> found = new HashMap<>();
            counts.groups().forEach(group -> found.put(group.values(), group.rows()));
            assertThat(found).as("%s by %s", texts(asked), keys).isEqualTo(expected);
            assertThat(counts.total())
                    .isEqualTo(expected.values().stream()
                            .mapToLong(Long::longValue)
                            .sum());
        }
    }

    @Test
    void anExportHasTheRowsForWhichItsConditionsHold() throws Exception {
        for (int question = 0; question < 6; question++) {
            List<Asked> asked = conditions(2);
            List<String> sorts = question % 2 == 0 ? List.of() : sorts();
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            query.export(new Selection(List.of("id"), false, texts(asked), sorts), Integer.MAX_VALUE, false)
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
