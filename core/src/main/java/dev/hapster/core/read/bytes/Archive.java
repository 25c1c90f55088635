package dev.hapster.core.read.bytes;

import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.SeekableByteChannel;
import java.util.ArrayList;
import java.util.Enumeration;
import java.util.List;
import java.util.zip.ZipException;
import org.apache.commons.compress.archivers.zip.ZipArchiveEntry;
import org.apache.commons.compress.archivers.zip.ZipFile;

/** What lies in a zip archive. Nothing is ever unpacked to a path that an archive names. */
public final class Archive {

    /** Bytes that an entry may unpack to, however small it is. */
    private static final long FREE = 1_000_000_000L;

    private static final int MOST_ENTRIES = 100_000;

    /**
     * @param name its path in the archive, with {@code /} between its pieces
     * @param size bytes, unpacked
     */
    public record Entry(String name, long size) {}

    private Archive() {}

    /**
     * @param file closed when this returns
     * @throws IOException with a sentence for people, where the archive cannot be looked into
     */
    public static List<Entry> entries(SeekableByteChannel file) throws IOException {
        List<Entry> entries = new ArrayList<>();
        try (ZipFile zip = index(file)) {
            for (Enumeration<ZipArchiveEntry> all = zip.getEntries(); all.hasMoreElements(); ) {
                ZipArchiveEntry one = all.nextElement();
                if (!one.isDirectory()) {
                    entries.add(new Entry(name(one), Math.max(0, one.getSize())));
                }
                if (entries.size() > MOST_ENTRIES) {
                    throw new IOException("it holds more than " + Reasons.grouped(MOST_ENTRIES) + " entries");
                }
            }
        } catch (IllegalArgumentException wrong) {
            throw new IOException(wrong.getMessage(), wrong);
        }
        return entries;
    }

    /** What an archive says of itself at its end. Closing it closes the file. */
    public static ZipFile index(SeekableByteChannel file) throws IOException {
        boolean whole = false;
        try {
            ZipFile zip = ZipFile.builder()
                    .setSeekableByteChannel(file)
                    .setIgnoreLocalFileHeader(true)
                    .get();
            whole = true;
            return zip;
        } finally {
            if (!whole) {
                file.close();
            }
        }
    }

    private static String name(ZipArchiveEntry entry) {
        return entry.getName().replace('\\', '/');
    }

    /**
     * The bytes of one entry. Closing the stream closes the archive.
     *
     * @param file closed with the stream, and where there is none
     * @throws FileRejectedException where they cannot be had
     */
    public static InputStream open(SeekableByteChannel file, String name) throws IOException, FileRejectedException {
        ZipFile zip;
        try {
            zip = index(file);
        } catch (IOException | IllegalArgumentException damaged) {
            throw new FileRejectedException(
                    Reasons.damaged("is in a zip archive that cannot be opened: it was cut off or damaged ("
                            + damaged.getMessage() + ")"));
        }
        boolean opened = false;
        try {
            ZipArchiveEntry entry = find(zip, name);
            if (entry == null) {
                throw new FileRejectedException(Reasons.gone());
            }
            if (entry.getGeneralPurposeBit().usesEncryption()) {
                throw new FileRejectedException(Reasons.encrypted("entry of a zip archive"));
            }
            InputStream in = zip.getInputStream(entry);
            opened = true;
            return new EntryInput(in, "is an entry of a zip archive", entry.getCompressedSize(), FREE, zip);
        } catch (ZipException wrong) {
            throw new FileRejectedException(
                    Reasons.damaged("is packed in a way that is not read here (" + wrong.getMessage() + ")"));
        } finally {
            if (!opened) {
                zip.close();
            }
        }
    }

    private static ZipArchiveEntry find(ZipFile zip, String name) {
        ZipArchiveEntry exact = zip.getEntry(name);
        if (exact != null) {
            return exact;
        }
        for (Enumeration<ZipArchiveEntry> all = zip.getEntries(); all.hasMoreElements(); ) {
            ZipArchiveEntry one = all.nextElement();
            if (!one.isDirectory() && name(one).equals(name)) {
                return one;
            }
        }
        return null;
    }
}
