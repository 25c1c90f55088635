package dev.hapster.service.api;

import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.FilesNamed;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.workspace.PreparedJob;
import jakarta.ws.rs.NotFoundException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Files that a job takes now, as a caller names them. */
public final class FilesOfJob {

    private FilesOfJob() {}

    /**
     * Those that are meant, in the order in which the job takes them.
     *
     * @param names of files, or patterns; all files where none is named
     * @throws NotFoundException where no file is called so
     * @throws QueryException where a plain name fits several
     */
    public static List<Candidate> named(PreparedJob prepared, List<String> names) throws QueryException {
        List<Candidate> taken = prepared.finding().taken();
        if (names.isEmpty()) {
            return taken;
        }
        Map<String, Candidate> bySource = new LinkedHashMap<>();
        taken.forEach(file -> bySource.putIfAbsent(prepared.sources().of(file), file));
        Set<String> meant = new LinkedHashSet<>();
        for (String name : names) {
            try {
                List<String> found = FileQuestions.named(name).among(bySource.keySet());
                if (found.isEmpty()) {
                    throw new NotFoundException("There is no file '" + name + "' among those that "
                            + prepared.job().name() + " takes");
                }
                meant.addAll(found);
            } catch (FilesNamed.AmbiguousException several) {
                throw new QueryException(several.getMessage());
            }
        }
        List<Candidate> wanted = new ArrayList<>();
        bySource.forEach((source, file) -> {
            if (meant.contains(source)) {
                wanted.add(file);
            }
        });
        return wanted;
    }
}
