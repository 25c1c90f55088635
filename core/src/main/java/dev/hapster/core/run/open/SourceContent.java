package dev.hapster.core.run.open;

import dev.hapster.core.read.bytes.Archive;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.bytes.WatchedChannel;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.run.open.SourceStream.SourceException;
import java.io.Closeable;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.channels.SeekableByteChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Optional;

/**
 * The bytes of a file that was found, of an entry of an archive, or of the workbook that holds a sheet. Not
 * thread-safe.
 */
public final class SourceContent implements Content, Closeable {

    private final Opener opener;
    private final Path path;
    private final Optional<String> entry;
    private final Optional<String> sheet;
    private final String name;
    private SourceStream last;
    private Path spooled;
    private boolean direct;

    SourceContent(Opener opener, Path path, Optional<String> entry, Optional<String> sheet) {
        this.opener = opener;
        this.path = path;
        this.entry = entry;
        this.sheet = sheet;
        name = entry.map(inside -> inside.substring(inside.lastIndexOf('/') + 1))
                .orElseGet(() -> path.getFileName().toString());
    }

    @Override
    public String name() {
        return name;
    }

    private SourceStream raw() throws IOException, FileRejectedException {
        release();
        try {
            FileChannel file = opened();
            last = SourceStream.of(
                    entry.isPresent() ? Archive.open(file, entry.get()) : Channels.newInputStream(file),
                    opener.watch());
        } catch (SourceException | RemoteFault wrong) {
            throw wrong;
        } catch (IOException wrong) {
            throw new SourceException(wrong);
        }
        return last;
    }

    private SeekableByteChannel watched(FileChannel file) {
        return new WatchedChannel(file, opener.watch()::check);
    }

    /** @throws RemoteFault where another machine is at fault, and not the file */
    private FileChannel opened() throws SourceException, RemoteFault {
        try {
            return opener.roots().open(path);
        } catch (RemoteFault wrong) {
            if (wrong.isPassing()) {
                throw wrong;
            }
            throw new SourceException(wrong);
        } catch (IOException wrong) {
            throw new SourceException(wrong);
        }
    }

    @Override
    public InputStream stream() throws IOException, FileRejectedException {
        try {
            return Unpacked.of(raw());
        } catch (SourceException | RemoteFault unreadable) {
            throw unreadable;
        } catch (IOException damaged) {
            throw new FileRejectedException(Reasons.damaged(damaged.getMessage()));
        }
    }

    /** Whether the bytes are read as they lie there: neither packed nor in an archive. */
    public boolean isPlain() throws IOException, FileRejectedException {
        return entry.isEmpty() && !(stream() instanceof Unpacked);
    }

    /** The bytes from a place on, of a file that is {@link #isPlain plain}. Closes the stream given before. */
    public InputStream stream(long from) throws IOException {
        release();
        FileChannel file = opened();
        file.position(from);
        last = SourceStream.of(Channels.newInputStream(file), opener.watch());
        return last;
    }

    @Override
    public SeekableByteChannel seekable() throws IOException, FileRejectedException {
        direct = true;
        if (spooled != null) {
            return watched(FileChannel.open(spooled));
        }
        try (InputStream in = stream()) {
            if (entry.isEmpty() && !(in instanceof Unpacked)) {
                return watched(opened());
            }
            Files.createDirectories(opener.scratch());
            spooled = Files.createTempFile(opener.scratch(), "unpacked-", ".tmp");
            Files.copy(in, spooled, StandardCopyOption.REPLACE_EXISTING);
            return watched(FileChannel.open(spooled));
        } catch (SourceException unreadable) {
            throw unreadable;
        } catch (IOException wrong) {
            if (Unpacked.isDamage(wrong)) {
                throw new FileRejectedException(Reasons.damaged(wrong.getMessage()));
            }
            throw wrong;
        }
    }

    /** Bytes of the source read so far, for progress. */
    public long bytes() {
        return last == null ? 0 : last.bytes();
    }

    /** XXH3-128 of all bytes as they lie there, and of the sheet's name where one sheet is meant. */
    public String hash() throws IOException, FileRejectedException {
        SourceStream in = direct || last == null ? raw() : last;
        in.transferTo(OutputStream.nullOutputStream());
        return in.hash(sheet.orElse(""));
    }

    private void release() throws IOException {
        if (last != null) {
            last.close();
            last = null;
        }
    }

    @Override
    public void close() throws IOException {
        release();
        if (spooled != null) {
            Files.deleteIfExists(spooled);
        }
    }
}
