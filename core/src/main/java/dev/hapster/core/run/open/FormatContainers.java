package dev.hapster.core.run.open;

import dev.hapster.core.find.Containers;
import dev.hapster.core.read.Formats;
import dev.hapster.core.read.bytes.Archive;
import dev.hapster.core.reason.FileRejectedException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Looks into archives and workbooks, and remembers what lay in those that have not changed. Thread-safe. */
public final class FormatContainers implements Containers {

    private static final int MOST_REMEMBERED = 5_000;
    /** A file of so many entries is not worth remembering. */
    private static final int MOST_NAMES = 1_000;

    private record Key(Path file, Optional<String> entry, boolean sheets, long size, FileTime modified) {}

    private interface Look<T> {
        List<T> take() throws IOException, FileRejectedException;
    }

    private final Opener opener;
    private final Map<Key, List<?>> remembered = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<Key, List<?>> eldest) {
            return size() > MOST_REMEMBERED;
        }
    };

    public FormatContainers(Opener opener) {
        this.opener = opener;
    }

    @Override
    public List<Entry> entries(Path archive) throws IOException {
        return remember(archive, Optional.empty(), false, () -> Archive.entries(
                        opener.roots().open(archive))
                .stream()
                .map(one -> new Entry(one.name(), one.size()))
                .toList());
    }

    @Override
    public List<String> sheets(Path file, Optional<String> entry) throws IOException {
        return remember(file, entry, true, () -> {
            try (SourceContent content = opener.content(file, entry, Optional.empty())) {
                return Formats.sheets(content);
            }
        });
    }

    @SuppressWarnings("unchecked")
    private <T> List<T> remember(Path file, Optional<String> entry, boolean sheets, Look<T> look) throws IOException {
        BasicFileAttributes now = Files.readAttributes(file, BasicFileAttributes.class);
        Key key = new Key(file, entry, sheets, now.size(), now.lastModifiedTime());
        synchronized (remembered) {
            List<?> known = remembered.get(key);
            if (known != null) {
                return (List<T>) known;
            }
        }
        try {
            List<T> found = look.take();
            if (found.size() <= MOST_NAMES) {
                synchronized (remembered) {
                    remembered.put(key, found);
                }
            }
            return found;
        } catch (FileRejectedException wrong) {
            throw new IOException("it " + wrong.reason().sentence(), wrong);
        }
    }
}
