package dev.hapster.core.deliver;

import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.pattern.NamePattern;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * Where jobs search: what is delivered there would be loaded again. Immutable.
 *
 * @param all the places of all jobs
 */
public record Searches(List<Search> all) {

    public static final Searches NONE = new Searches(List.of());

    public Searches {
        all = List.copyOf(all);
    }

    /**
     * A place that a job searches.
     *
     * @param folder absolute
     */
    public record Search(String job, Path folder, Place place) {

        boolean finds(Path file) {
            if (!file.startsWith(folder) || file.getNameCount() - folder.getNameCount() - 1 > place.depth()) {
                return false;
            }
            String name = folder.relativize(file).toString();
            boolean taken = false;
            for (FindRule rule : place.rules()) {
                if (rule instanceof FindRule.Take take) {
                    taken |= matches(take.names(), name);
                } else if (rule instanceof FindRule.Skip skip && matches(skip.names(), name)) {
                    return false;
                }
            }
            return taken;
        }

        private static boolean matches(List<NamePattern> names, String name) {
            return names.stream().anyMatch(pattern -> pattern.matches(name));
        }
    }

    /** A job that would find a file. */
    Optional<Search> finding(Path file) {
        return all.stream().filter(search -> search.finds(file)).findFirst();
    }
}
