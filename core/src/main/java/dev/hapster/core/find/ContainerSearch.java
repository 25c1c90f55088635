package dev.hapster.core.find;

import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.JobDef.Sheets;
import dev.hapster.core.find.Listing.Entry;
import dev.hapster.core.pattern.NamePattern;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Looks into the files of one place: into archives that a pattern speaks of, and into the workbooks that are taken. */
final class ContainerSearch {

    /** Characters that the name of an entry or a sheet may have. */
    private static final int LONGEST = 500;

    private final Place place;
    private final Containers insides;

    ContainerSearch(Place place, Containers insides) {
        this.place = place;
        this.insides = insides;
    }

    /**
     * The listing with what lies in the archives that the place's patterns name. An archive that cannot be looked into
     * is itself kept, as broken.
     */
    Listing archives(Listing listing) {
        List<NamePattern> archives = place.rules().stream()
                .filter(FindRule.Take.class::isInstance)
                .flatMap(rule -> ((FindRule.Take) rule).names().stream())
                .flatMap(name -> name.archive().stream())
                .toList();
        if (archives.isEmpty()) {
            return listing;
        }
        return listing.with(listing.entries.parallelStream()
                .flatMap(file -> {
                    boolean wanted = file.unusable().isEmpty()
                            && archives.stream().anyMatch(name -> name.matches(file.relative()));
                    return wanted ? inside(file).stream() : List.of(file).stream();
                })
                .toList());
    }

    private List<Entry> inside(Entry file) {
        List<Entry> all = new ArrayList<>();
        try {
            Set<String> names = new HashSet<>();
            for (Containers.Entry one : insides.entries(file.path())) {
                Optional<String> unusable = one.name().length() > LONGEST
                        ? Optional.of("its name in the archive is longer than " + LONGEST + " characters")
                        : names.add(one.name()) ? Optional.empty() : Optional.of("the archive holds this name twice");
                all.add(new Entry(
                        file.path(),
                        file.real(),
                        file.relative() + NamePattern.INSIDE + one.name(),
                        one.size(),
                        file.modified(),
                        file.birth(),
                        unusable,
                        Optional.of(one.name()),
                        false));
            }
            if (all.size() < place.most()) {
                all.add(new Entry(
                        file.path(),
                        file.real(),
                        file.relative(),
                        file.size(),
                        file.modified(),
                        file.birth(),
                        file.unusable()));
                return all;
            }
        } catch (IOException unreadable) {
            all.clear(); // whoever loads it will meet the same, and say so
        }
        return List.of(new Entry(
                file.path(),
                file.real(),
                file.relative(),
                file.size(),
                file.modified(),
                file.birth(),
                file.unusable(),
                Optional.empty(),
                true));
    }

    /** Sheets in place of the workbooks that are taken; a workbook that cannot be looked into stays as it is. */
    List<Candidate> sheets(List<Candidate> files, Sheets sheets, List<RuleCounts.Step> steps) {
        List<Candidate> all = files.parallelStream()
                .flatMap(file -> file.taken() ? sheets(file, sheets).stream() : List.of(file).stream())
                .toList();
        long before = files.stream().filter(Candidate::taken).count();
        long taken = all.stream().filter(Candidate::taken).count();
        if (before > 0) {
            steps.add(RuleCounts.Step.of("sheets", words(sheets), all.size() - files.size() + before, taken));
        }
        return all;
    }

    private List<Candidate> sheets(Candidate file, Sheets sheets) {
        List<String> names;
        try {
            names = insides.sheets(file.path(), file.entry());
        } catch (IOException unreadable) {
            return List.of(file); // whoever loads it will meet the same, and say so
        }
        List<Candidate> all = new ArrayList<>();
        for (int i = 0; i < names.size(); i++) {
            String name = names.get(i);
            Optional<NamePattern> skipped = sheets.skip().stream()
                    .filter(pattern -> pattern.matches(name))
                    .findFirst();
            Optional<NamePattern> match = sheets.names().stream()
                    .filter(pattern -> pattern.matches(name))
                    .findFirst();
            boolean named = (sheets.names().isEmpty() && sheets.positions().isEmpty())
                    || match.isPresent()
                    || sheets.positions().contains(i + 1)
                    || (i == names.size() - 1 && sheets.positions().contains(-1));
            boolean take = named && skipped.isEmpty() && name.length() <= LONGEST;
            String why = name.length() > LONGEST
                    ? "its name is longer than " + LONGEST + " characters"
                    : take
                            ? file.rule()
                            : skipped.isPresent()
                                    ? "skip_sheets " + skipped.get().words()
                                    : "no sheet pattern matches";
            all.add(file.sheet(
                    name,
                    take,
                    why,
                    match.filter(pattern -> take && !pattern.facts().isEmpty())
                            .map(pattern -> new Candidate.Named(pattern, name))));
        }
        return all.isEmpty() ? List.of(file) : all;
    }

    private static String words(Sheets sheets) {
        List<String> words =
                new ArrayList<>(sheets.names().stream().map(NamePattern::words).toList());
        sheets.positions().forEach(position -> words.add("position " + (position < 0 ? "last" : position.toString())));
        return "sheets " + (words.isEmpty() ? "all" : String.join(", ", words))
                + (sheets.skip().isEmpty()
                        ? ""
                        : ", skip "
                                + String.join(
                                        ", ",
                                        sheets.skip().stream()
                                                .map(NamePattern::words)
                                                .toList()));
    }
}
