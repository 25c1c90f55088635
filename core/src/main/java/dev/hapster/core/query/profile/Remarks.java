package dev.hapster.core.query.profile;

import dev.hapster.core.query.profile.ColumnProfile.Frequent;
import dev.hapster.core.query.profile.ColumnProfile.Gap;
import dev.hapster.core.query.profile.ColumnProfile.Gaps;
import dev.hapster.core.query.value.Texts;
import dev.hapster.core.reason.Reasons;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** What a person should look at in a column, in sentences, with the condition that its rows satisfy. */
public final class Remarks {

    private static final int SHOWN = 5;
    /** Stretches without a row are worth a word where they are so many times as long as usual. */
    private static final int LONG = 3;

    private static final String STRAY = "^[\\s\\x0b\\x{a0}]|[\\s\\x0b\\x{a0}]$|  ";
    private static final String CONTROL = "[\\x00-\\x1f\\x7f]";

    private Remarks() {}

    /**
     * One thing to look at.
     *
     * @param rows that it concerns
     * @param where the condition that they satisfy; empty where there is none
     */
    public record Remark(String what, long rows, Optional<String> where) {}

    /** What there is to look at in a column. */
    public static List<Remark> of(ColumnProfile profile) {
        List<Remark> remarks = new ArrayList<>();
        if (profile.rows() == 0) {
            return remarks;
        }
        String name = profile.field().name();
        if (profile.filled() == 0) {
            remarks.add(new Remark("has no value in any row", profile.rows(), Optional.of(name + " is empty")));
            return remarks;
        }
        if (profile.distinct().number() == 1 && profile.rows() > 1) {
            remarks.add(new Remark(
                    "has the same value in every row that has one: "
                            + shown(profile.frequent().get(0).value()),
                    profile.filled(),
                    Optional.of(name + " is filled")));
        }
        profile.text()
                .filter(text -> text.strayRows() > 0)
                .ifPresent(text -> remarks.add(new Remark(
                        rows(text.strayRows()) + " white space at an end, or two spaces behind one another",
                        text.strayRows(),
                        Optional.of(name + " matches '" + STRAY + "'"))));
        profile.text()
                .filter(text -> text.controlRows() > 0)
                .ifPresent(text -> remarks.add(new Remark(
                        rows(text.controlRows()) + " control characters, such as tabs or line breaks",
                        text.controlRows(),
                        Optional.of(name + " matches '" + CONTROL + "'"))));
        for (List<Frequent> group : profile.lookAlikes()) {
            long rows = group.stream().mapToLong(Frequent::rows).sum();
            remarks.add(new Remark(
                    group.stream()
                                    .limit(SHOWN)
                                    .map(one -> shown(one.value()) + " (" + Reasons.grouped(one.rows()) + ")")
                                    .collect(Collectors.joining(", "))
                            + (group.size() > SHOWN ? " and " + (group.size() - SHOWN) + " more" : "") + " look alike",
                    rows,
                    Optional.of(name + " in ("
                            + group.stream()
                                    .map(one -> quoted(Texts.of(one.value())))
                                    .collect(Collectors.joining(", ")) + ")")));
        }
        profile.gaps().ifPresent(gaps -> gaps(gaps, remarks));
        return remarks;
    }

    private static String rows(long rows) {
        return Reasons.grouped(rows) + (rows == 1 ? " row has" : " rows have");
    }

    private static void gaps(Gaps gaps, List<Remark> remarks) {
        List<Gap> some = gaps.longest().stream()
                .filter(gap -> gaps.usual() > 0 && gap.days() + 1 >= LONG * gaps.usual())
                .toList();
        if (!some.isEmpty()) {
            remarks.add(new Remark(
                    "has no row for " + some.stream().map(Remarks::gap).collect(Collectors.joining(", "))
                            + (gaps.usual() == 1
                                    ? "; otherwise there are rows on most days"
                                    : "; usually there are rows every " + Reasons.grouped(gaps.usual()) + " days"),
                    0,
                    Optional.empty()));
        }
    }

    private static String gap(Gap gap) {
        return Reasons.grouped(gap.days()) + (gap.days() == 1 ? " day" : " days") + " from "
                + gap.from().plusDays(1);
    }

    private static String shown(Comparable<?> value) {
        return Reasons.quote(Texts.of(value));
    }

    /** The condition that exactly the rows of a value satisfy; nothing where the value is too long for one. */
    public static Optional<String> rowsOf(ColumnProfile profile, Comparable<?> value) {
        String text = Texts.of(value);
        return text.length() > 1_000
                ? Optional.empty()
                : Optional.of(profile.field().name() + " = " + quoted(text));
    }

    /** The condition that the rows between two values satisfy. */
    public static String rowsOf(ColumnProfile profile, ColumnProfile.Bin bin, boolean last) {
        String name = profile.field().name();
        return name + " >= " + quoted(Texts.of(bin.from())) + " and " + name + (last ? " <= " : " < ")
                + quoted(Texts.of(bin.to()));
    }

    private static String quoted(String text) {
        return "'" + text.replace("'", "''") + "'";
    }

    /** A number for people: with so many decimals as tell it apart. */
    public static BigDecimal rounded(double number) {
        return new BigDecimal(number).round(new java.math.MathContext(8)).stripTrailingZeros();
    }
}
