package dev.hapster.service.work;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;

/**
 * A clock that a test sets: it stands at the moment that a file names ({@code 2025-03-30T01:00:00Z}), until the file
 * names another one. The file is replaced, never written in place.
 */
public final class SetClock extends Clock {

    private final Path file;

    public SetClock(Path file) {
        this.file = file;
    }

    @Override
    public Instant instant() {
        try {
            return Instant.parse(Files.readString(file).strip());
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }

    @Override
    public ZoneId getZone() {
        return ZoneOffset.UTC;
    }

    @Override
    public Clock withZone(ZoneId zone) {
        return Clock.fixed(instant(), zone);
    }
}
