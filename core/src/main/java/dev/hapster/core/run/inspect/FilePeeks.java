package dev.hapster.core.run.inspect;

import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Finder;
import dev.hapster.core.find.Roots;
import dev.hapster.core.read.bytes.Archive;
import dev.hapster.core.read.preview.Peek;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.open.SourceContent;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;

/** Looks at the text, or the cells, of files as they lie there. Thread-safe. */
public final class FilePeeks {

    private final Finder finder;
    private final Roots roots;
    private final Opener opener;

    public FilePeeks(Finder finder, Roots roots, Opener opener) {
        this.finder = finder;
        this.roots = roots;
        this.opener = opener;
    }

    /**
     * A look at a file that lies in a place, at an entry of an archive or at a sheet, as {@link Candidate#relative}
     * names it.
     *
     * @param rules how the job reads it
     * @return empty where there is no such file
     * @throws IOException with a sentence for people, where it cannot be shown
     */
    public Optional<Looked> of(Place place, Read rules, String relative, long from, int count) throws IOException {
        Optional<Path> whole = finder.file(place, relative);
        if (whole.isPresent()) {
            return Optional.of(look(whole.get(), Optional.empty(), Optional.empty(), rules, from, count));
        }
        for (int mark = relative.indexOf('!'); mark > 0; mark = relative.indexOf('!', mark + 1)) {
            Optional<Path> file = finder.file(place, relative.substring(0, mark));
            if (file.isPresent()) {
                String inside = relative.substring(mark + 1);
                boolean entry = inside.startsWith("/");
                if (!entry) {
                    return Optional.of(look(file.get(), Optional.empty(), Optional.of(inside), rules, from, count));
                }
                String name = inside.substring(1);
                boolean isEntry = Archive.entries(roots.open(file.get())).stream()
                        .anyMatch(one -> one.name().equals(name));
                int sheet = isEntry ? -1 : name.lastIndexOf('!');
                return Optional.of(look(
                        file.get(),
                        Optional.of(sheet < 0 ? name : name.substring(0, sheet)),
                        sheet < 0 ? Optional.empty() : Optional.of(name.substring(sheet + 1)),
                        rules,
                        from,
                        count));
            }
        }
        return Optional.empty();
    }

    /** What was seen of a file. */
    public record Looked(Path path, long size, Peek content) {}

    private Looked look(Path path, Optional<String> entry, Optional<String> sheet, Read rules, long from, int count)
            throws IOException {
        try (SourceContent content = opener.content(path, entry, sheet)) {
            return new Looked(path, Files.size(path), Peek.of(content, entry.isEmpty(), rules, sheet, from, count));
        }
    }
}
