package dev.hapster.core.find;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** For tests in which no file is looked into. */
enum Nothing implements Containers {
    INSIDE;

    @Override
    public List<Entry> entries(Path archive) throws IOException {
        throw new IOException("nothing is looked into here");
    }

    @Override
    public List<String> sheets(Path file, Optional<String> entry) throws IOException {
        throw new IOException("nothing is looked into here");
    }
}
