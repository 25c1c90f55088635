package dev.hapster.core.query.profile;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.pattern.DatePattern;
import dev.hapster.core.query.filter.Filter;
import dev.hapster.core.query.filter.Where;
import dev.hapster.core.query.part.Parts;
import dev.hapster.core.query.profile.ColumnProfile.Bin;
import dev.hapster.core.query.profile.ColumnProfile.Frequent;
import dev.hapster.core.query.profile.ColumnProfile.Gap;
import dev.hapster.core.query.profile.ColumnProfile.Gaps;
import dev.hapster.core.query.profile.ColumnProfile.Quantile;
import dev.hapster.core.query.profile.ColumnProfile.TextProfile;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Ordering;
import dev.hapster.core.query.value.QueryException;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Path;
import java.text.Normalizer;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import org.apache.datasketches.kll.KllDoublesSketch;
import org.roaringbitmap.IntIterator;
import org.roaringbitmap.RoaringBitmap;

/** Finds out what columns hold: a few of them at a time, each batch by batch, on all cores. Immutable. */
public final class Profiler {

    /** Columns that are looked at together; so many have room in memory. */
    private static final int TOGETHER = 40;

    static final int MOST_FREQUENT = 20;
    private static final int MOST_LOOK_ALIKES = 20;
    private static final int MOST_GAPS = 5;
    private static final int BINS = 20;
    static final double[] SHARES = {0.01, 0.05, 0.25, 0.5, 0.75, 0.95, 0.99};
    private static final Pattern MARKS = Pattern.compile("[\\p{M}\\p{Cf}\\p{Cc}]+");
    private static final Pattern SPACES = Pattern.compile("[\\s\\p{Z}]+");

    private final Parts parts;
    private final Where where;

    public Profiler(Parts parts, Where where) {
        this.parts = parts;
        this.where = where;
    }

    /** What some columns hold, in their order. */
    public List<ColumnProfile> profile(List<Field> fields) throws IOException, QueryException {
        List<ColumnProfile> profiles = new ArrayList<>();
        for (int from = 0; from < fields.size(); from += TOGETHER) {
            profiles.addAll(some(fields.subList(from, Math.min(fields.size(), from + TOGETHER))));
        }
        return profiles;
    }

    /**
     * The same with nothing estimated, which takes much longer.
     *
     * @param scratch folder for files of rows that are sorted; they are gone at the end
     */
    public List<ColumnProfile> exact(List<Field> fields, Path scratch) throws IOException, QueryException {
        List<ColumnProfile> profiles = new ArrayList<>();
        for (ColumnProfile profile : profile(fields)) {
            profiles.add(ExactFigures.isMissingIn(profile) ? ExactFigures.of(profile, parts, where, scratch) : profile);
        }
        return profiles;
    }

    private List<ColumnProfile> some(List<Field> fields) throws IOException, QueryException {
        List<Field> read = new ArrayList<>(fields);
        read.addAll(where.fields());
        List<Facts> all = null;
        for (List<Facts> found : parts.each(
                parts.everyFile(), read, () -> fields.stream().map(Facts::new).toList(), (slice, reader, facts) -> {
                    Filter filter = new Filter(where, fields.size());
                    reader.only(slice.groups(reader), group -> filter.mayHold(reader, group));
                    for (int rows = reader.next(); rows > 0; rows = reader.next()) {
                        int count = filter.select(reader, rows);
                        for (int i = 0; i < facts.size(); i++) {
                            facts.get(i).add(reader, i, filter.selected(), count);
                        }
                    }
                    facts.forEach(Facts::settle);
                })) {
            for (int i = 0; all != null && i < all.size(); i++) {
                all.get(i).merge(found.get(i));
            }
            all = all == null ? found : all;
        }
        return (all == null ? fields.stream().map(Facts::new).toList() : all)
                .stream().map(Profiler::profile).toList();
    }

    static ColumnProfile profile(Facts facts) {
        Frequencies values = facts.frequencies;
        boolean some = facts.rows > facts.empty;
        List<Frequent> counted = values.counted();
        boolean ranked = facts.isRanked() && some;
        return new ColumnProfile(
                facts.field,
                facts.rows,
                facts.empty,
                values.distinct(),
                facts.smallest(),
                facts.largest(),
                facts.isNumber() && some ? OptionalDouble.of(facts.mean()) : OptionalDouble.empty(),
                facts.isNumber() && some ? OptionalDouble.of(facts.deviation()) : OptionalDouble.empty(),
                ranked ? quantiles(facts, counted) : List.of(),
                ranked ? histogram(facts, counted) : List.of(),
                values.frequent(MOST_FREQUENT),
                facts.texts == null || !some ? Optional.empty() : Optional.of(text(facts.texts)),
                facts.texts == null ? List.of() : lookAlikes(counted),
                facts.days == null || !some ? Optional.empty() : Optional.of(gaps(facts.days)));
    }

    private static TextProfile text(TextFacts texts) {
        return new TextProfile(
                texts.shortest,
                TextFacts.text(texts.shortestText),
                texts.longest,
                TextFacts.text(texts.longestText),
                texts.strayRows,
                texts.controlRows);
    }

    /** The value at a rank is the first one at which so many values lie at it or below. */
    private static List<Quantile> quantiles(Facts facts, List<Frequent> counted) {
        List<Quantile> quantiles = new ArrayList<>();
        KllDoublesSketch ranks = facts.frequencies.ranks();
        if (!facts.frequencies.isExact()) {
            if (ranks != null && !ranks.isEmpty()) {
                double error = ranks.getNormalizedRankError(false);
                for (double share : SHARES) {
                    quantiles.add(new Quantile(share, value(facts.field, ranks.getQuantile(share)), error));
                }
            }
            return quantiles;
        }
        List<Frequent> sorted = sorted(counted);
        long rows = sorted.stream().mapToLong(Frequent::rows).sum();
        int next = 0;
        long below = 0;
        for (Frequent one : sorted) {
            below += one.rows();
            while (next < SHARES.length && below >= SHARES[next] * rows) {
                quantiles.add(new Quantile(SHARES[next++], one.value(), 0));
            }
        }
        return quantiles;
    }

    private static List<Frequent> sorted(List<Frequent> counted) {
        return counted.stream()
                .sorted((a, b) -> Ordering.compare(a.value(), b.value()))
                .toList();
    }

    /** What a column has that stores such a number. */
    private static Comparable<?> value(Field field, double stored) {
        return switch (field.type().kind()) {
            case DOUBLE -> stored;
            default -> field.ofLong(Math.round(stored));
        };
    }

    private static double stored(Field field, Comparable<?> value) {
        return value instanceof Double real
                ? real
                : value instanceof BigDecimal decimal
                        ? decimal.movePointRight(field.type().scale()).doubleValue()
                        : dev.hapster.core.query.value.Widening.plain(value, field.type());
    }

    private static List<Bin> histogram(Facts facts, List<Frequent> counted) {
        Field field = facts.field;
        double from = stored(field, facts.smallest());
        double to = stored(field, facts.largest());
        if (!(to > from) || Double.isInfinite(to - from) || field.type().isWideDecimal()) {
            return List.of();
        }
        boolean whole = !(facts.smallest() instanceof Double);
        int bins = whole ? (int) Math.min(BINS, to - from + 1) : BINS;
        double end = whole ? to + 1 : to;
        double[] edges = IntStream.rangeClosed(0, bins)
                .mapToDouble(i -> from + (end - from) * i / bins)
                .map(edge -> whole ? Math.floor(edge) : edge)
                .toArray();
        double even = field.type().kind() == Kind.TIMESTAMP ? even((to - from) / bins) : 1;
        for (int i = 1; i < bins && even > 1; i++) {
            edges[i] = Math.floor(edges[i] / even) * even;
        }
        long[] rows = new long[bins];
        KllDoublesSketch ranks = facts.frequencies.ranks();
        if (facts.frequencies.isExact()) {
            for (Frequent one : counted) {
                double value = stored(field, one.value());
                int found = Arrays.binarySearch(edges, value);
                int bin = found >= 0 ? found : -found - 2;
                rows[Math.max(0, Math.min(bins - 1, bin))] += one.rows();
            }
        } else {
            double[] inner = Arrays.copyOfRange(edges, 1, bins);
            double[] shares = inner.length == 0
                    ? new double[] {1}
                    : ranks.getPMF(inner, org.apache.datasketches.quantilescommon.QuantileSearchCriteria.EXCLUSIVE);
            for (int i = 0; i < bins; i++) {
                rows[i] = Math.round(shares[i] * (facts.rows - facts.empty));
            }
        }
        List<Bin> histogram = new ArrayList<>();
        for (int i = 0; i < bins; i++) {
            Comparable<?> last = i == bins - 1 ? facts.largest() : value(field, edges[i + 1]);
            histogram.add(new Bin(value(field, edges[i]), last, rows[i]));
        }
        return histogram;
    }

    /** Of microseconds that a stretch is long: a day, an hour, a second, or one; where it begins is one of these. */
    private static double even(double stretch) {
        for (double unit : new double[] {DatePattern.MICROS_PER_DAY, DatePattern.MICROS_PER_DAY / 24.0, 1e6}) {
            if (stretch > 2 * unit) {
                return unit;
            }
        }
        return 1;
    }

    /** Texts that are the same without case, spaces, accents and characters that are not seen. */
    private static List<List<Frequent>> lookAlikes(List<Frequent> counted) {
        Map<String, List<Frequent>> groups = new LinkedHashMap<>();
        for (Frequent one : counted) {
            groups.computeIfAbsent(look((String) one.value()), unused -> new ArrayList<>())
                    .add(one);
        }
        Comparator<List<Frequent>> most = Comparator.comparingLong(
                group -> -group.stream().mapToLong(Frequent::rows).sum());
        return groups.values().stream()
                .filter(group -> group.size() > 1)
                .sorted(most)
                .limit(MOST_LOOK_ALIKES)
                .map(group -> group.stream()
                        .sorted(Comparator.comparingLong(Frequent::rows).reversed())
                        .limit(MOST_FREQUENT)
                        .toList())
                .toList();
    }

    private static String look(String text) {
        boolean plain = text.chars().allMatch(c -> c > ' ' && c < 0x7F);
        if (plain) {
            return text.toLowerCase(Locale.ROOT);
        }
        String apart =
                MARKS.matcher(Normalizer.normalize(text, Normalizer.Form.NFKD)).replaceAll("");
        return SPACES.matcher(apart).replaceAll(" ").strip().toLowerCase(Locale.ROOT);
    }

    private static Gaps gaps(RoaringBitmap days) {
        int[] all = new int[days.getCardinality()];
        IntIterator each = days.getIntIterator();
        for (int i = 0; each.hasNext(); i++) {
            all[i] = each.next();
        }
        int[] steps = new int[Math.max(0, all.length - 1)];
        for (int i = 0; i < steps.length; i++) {
            steps[i] = all[i + 1] - all[i];
        }
        int[] ordered = steps.clone();
        Arrays.sort(ordered);
        int usual = steps.length == 0 ? 0 : ordered[steps.length / 2];
        List<Gap> longest = IntStream.range(0, steps.length)
                .filter(i -> steps[i] > usual)
                .boxed()
                .sorted(Comparator.<Integer>comparingInt(i -> -steps[i]).thenComparing(i -> i))
                .limit(MOST_GAPS)
                .map(i -> new Gap(day(all[i]), day(all[i + 1]), steps[i] - 1L))
                .toList();
        return new Gaps(all.length, usual, longest);
    }

    private static LocalDate day(int shifted) {
        return LocalDate.ofEpochDay(shifted + Integer.MIN_VALUE / 2);
    }
}
