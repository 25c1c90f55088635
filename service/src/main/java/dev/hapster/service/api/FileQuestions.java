package dev.hapster.service.api;

import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.find.FilesNamed;
import dev.hapster.core.query.value.QueryException;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/** Which of the files that a job has dealt with a caller means. */
final class FileQuestions {

    private FileQuestions() {}

    /** A file within all jobs of a dataset. */
    static String key(LedgerEntry entry) {
        return entry.arrival().job() + "\n" + entry.arrival().source();
    }

    /**
     * The files that are called so, by their source or by their path, each as {@link #key}.
     *
     * @throws QueryException where the name is plain and several files have it
     */
    static Set<String> among(String file, Collection<LedgerEntry> entries) throws QueryException {
        FilesNamed named = named(file);
        try {
            List<String> sources = named.among(entries.stream()
                    .map(entry -> entry.arrival().source())
                    .collect(java.util.stream.Collectors.toSet()));
            Set<String> keys = new HashSet<>();
            for (LedgerEntry entry : entries) {
                if (sources.contains(entry.arrival().source())
                        || entry.file().toString().equals(file)) {
                    keys.add(key(entry));
                }
            }
            return keys;
        } catch (FilesNamed.AmbiguousException several) {
            throw new QueryException(several.getMessage());
        }
    }

    static FilesNamed named(String file) throws QueryException {
        try {
            return FilesNamed.of(file);
        } catch (IllegalArgumentException wrong) {
            throw new QueryException(wrong.getMessage());
        }
    }
}
