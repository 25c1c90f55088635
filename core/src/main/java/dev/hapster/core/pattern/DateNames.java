package dev.hapster.core.pattern;

import com.ibm.icu.lang.UCharacter;
import com.ibm.icu.text.DateFormatSymbols;
import com.ibm.icu.util.GregorianCalendar;
import com.ibm.icu.util.ULocale;
import java.text.Normalizer;
import java.time.DayOfWeek;
import java.time.Month;
import java.time.format.TextStyle;
import java.util.Arrays;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Names of months and days of the week in a language, from CLDR: within a sentence ("3. März", "3 марта") and alone
 * ("Mär", "март"), whole and shortened, in any case. Names of several words or with digits are left out; a pattern can
 * say those with numbers and quoted text. Immutable and thread-safe.
 */
public final class DateNames {

    private static final Map<String, Optional<DateNames>> KNOWN = new ConcurrentHashMap<>();

    private final String language;
    private final Map<String, Integer> months = new HashMap<>();
    private final Map<String, Integer> shortMonths = new HashMap<>();
    private final Map<String, Integer> days = new HashMap<>();
    private final Map<String, Integer> shortDays = new HashMap<>();

    private DateNames(ULocale locale) {
        language = locale.toLanguageTag();
        DateFormatSymbols symbols = new DateFormatSymbols(new GregorianCalendar(locale), locale);
        for (int context : new int[] {DateFormatSymbols.FORMAT, DateFormatSymbols.STANDALONE}) {
            add(months, symbols.getMonths(context, DateFormatSymbols.WIDE), 1);
            add(shortMonths, symbols.getMonths(context, DateFormatSymbols.ABBREVIATED), 1);
            add(days, symbols.getWeekdays(context, DateFormatSymbols.WIDE), 0);
            add(shortDays, symbols.getWeekdays(context, DateFormatSymbols.ABBREVIATED), 0);
        }
    }

    private static void add(Map<String, Integer> names, String[] all, int first) {
        for (int i = 0; i < all.length; i++) {
            String name = folded(all[i].endsWith(".") ? all[i].substring(0, all[i].length() - 1) : all[i]);
            if (!name.isEmpty() && end(name, 0) == name.length()) {
                names.putIfAbsent(name, i + first);
            }
        }
    }

    /**
     * The names of a language.
     *
     * @param tag of BCP 47, such as {@code de} or {@code pt-BR}
     * @return empty where CLDR has no such language, or no names of months that are words
     */
    public static Optional<DateNames> of(String tag) {
        return KNOWN.computeIfAbsent(tag, DateNames::find);
    }

    private static Optional<DateNames> find(String tag) {
        ULocale locale = ULocale.forLanguageTag(tag);
        boolean known = Arrays.stream(ULocale.getAvailableLocales())
                .anyMatch(one -> one.getLanguage().equals(locale.getLanguage()));
        if (!known || locale.getLanguage().isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(new DateNames(locale)).filter(names -> !names.months.isEmpty());
    }

    /** The languages of which all words are names of months, by their tags. */
    public static List<DateNames> knowing(Collection<String> words) {
        return all().stream()
                .filter(names -> names.knows(words, true) || names.knows(words, false))
                .toList();
    }

    /** Names of months of all languages; made when it is needed first. */
    private static final class Everywhere {
        static final Set<String> MONTHS = new HashSet<>();

        static {
            all().forEach(names -> {
                MONTHS.addAll(names.months.keySet());
                MONTHS.addAll(names.shortMonths.keySet());
            });
        }

        private Everywhere() {}
    }

    /** Whether a word names a month in any language; quicker than to ask all of them. */
    public static boolean isMonthSomewhere(String word) {
        return Everywhere.MONTHS.contains(folded(word));
    }

    /** All languages, those with short tags first. */
    public static List<DateNames> all() {
        return Arrays.stream(ULocale.getAvailableLocales())
                .filter(locale -> locale.toLanguageTag().equals(locale.getLanguage()))
                .map(locale -> of(locale.getLanguage()))
                .flatMap(Optional::stream)
                .sorted(Comparator.comparing((DateNames names) -> names.language.length())
                        .thenComparing(names -> names.language))
                .toList();
    }

    /** Its tag of BCP 47. */
    public String language() {
        return language;
    }

    /** Its name in English. */
    public String name() {
        return new ULocale(language).getDisplayName(ULocale.ENGLISH);
    }

    /** Whether all words are names of months, whole or shortened. */
    public boolean knows(Collection<String> words, boolean whole) {
        Map<String, Integer> names = whole ? months : shortMonths;
        return words.stream().allMatch(word -> names.containsKey(folded(word)));
    }

    /** The month that a word names, from 1; empty where it names none. */
    public Optional<Integer> month(String word) {
        String folded = folded(word);
        return Optional.ofNullable(months.getOrDefault(folded, shortMonths.get(folded)));
    }

    /**
     * The same text with English names.
     *
     * @param wholeMonth whether months are named whole, as by MMMM
     * @param wholeDay whether days are, as by EEEE
     * @param point whether a point behind a name stays
     */
    String english(String text, boolean wholeMonth, boolean wholeDay, boolean point) {
        String composed = Normalizer.normalize(text, Normalizer.Form.NFC);
        StringBuilder english = new StringBuilder();
        for (int at = 0; at < composed.length(); ) {
            int end = end(composed, at);
            if (end == at) {
                english.append(composed.charAt(at++));
                continue;
            }
            String word = composed.substring(at, end);
            Integer month = (wholeMonth ? months : shortMonths).get(folded(word));
            Integer day = (wholeDay ? days : shortDays).get(folded(word));
            at = end;
            if (month != null && month <= 12) {
                english.append(Month.of(month).getDisplayName(style(wholeMonth), Locale.ENGLISH));
            } else if (day != null) {
                english.append(DayOfWeek.of((day + 5) % 7 + 1).getDisplayName(style(wholeDay), Locale.ENGLISH));
            } else {
                english.append(word);
                continue;
            }
            at += !point && at < composed.length() && composed.charAt(at) == '.' ? 1 : 0;
        }
        return english.toString();
    }

    private static TextStyle style(boolean whole) {
        return whole ? TextStyle.FULL : TextStyle.SHORT;
    }

    /** Without regard to case, and to the dot of an i, whose capital differs in Turkish. */
    private static String folded(String word) {
        String folded = UCharacter.foldCase(Normalizer.normalize(word, Normalizer.Form.NFD), true);
        return Normalizer.normalize(folded.replace("i\u0307", "i").replace('\u0131', 'i'), Normalizer.Form.NFC);
    }

    /** Where the letters that begin at a place end. */
    private static int end(String text, int from) {
        int at = from;
        while (at < text.length() && isOfWord(text.codePointAt(at))) {
            at += Character.charCount(text.codePointAt(at));
        }
        return at;
    }

    private static boolean isOfWord(int c) {
        int type = Character.getType(c);
        return Character.isLetter(c)
                || type == Character.NON_SPACING_MARK
                || type == Character.COMBINING_SPACING_MARK
                || c == 0x200c
                || c == 0x200d;
    }
}
