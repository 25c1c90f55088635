package dev.hapster.core.read;

import dev.hapster.core.definition.read.Format;
import dev.hapster.core.read.bytes.Archive;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.read.workbook.XlsBook;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.SeekableByteChannel;
import java.util.Collections;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import org.apache.commons.compress.archivers.zip.ZipFile;
import org.apache.poi.poifs.filesystem.DirectoryNode;
import org.apache.poi.poifs.filesystem.POIFSFileSystem;

/** What a file is by its bytes, whatever its name says. */
public enum Signature {
    TEXT("text", EnumSet.of(Format.DELIMITED, Format.LINES, Format.FIXED, Format.JSON, Format.JSON_LINES, Format.XML)),
    XLSX("an xlsx workbook", EnumSet.of(Format.WORKBOOK)),
    XLS("an xls workbook", EnumSet.of(Format.WORKBOOK)),
    PARQUET("a Parquet file", EnumSet.of(Format.PARQUET)),
    XLSB("a binary workbook (xlsb)", Set.of()),
    OPEN_DOCUMENT("an OpenDocument file", Set.of()),
    ZIP("a zip archive", Set.of()),
    OLD_DOCUMENT("a document of an office program", Set.of()),
    PDF("a PDF document", Set.of()),
    PICTURE("a picture", Set.of()),
    PACKED("compressed twice", Set.of()),
    DATABASE("an SQLite database", Set.of()),
    PROGRAM("a program", Set.of());

    private static final int LOOK = 16;

    private final String noun;

    @SuppressWarnings("ImmutableEnumChecker") // made by Set.of
    private final Set<Format> formats;

    Signature(String noun, Set<Format> formats) {
        this.noun = noun;
        this.formats = formats;
    }

    /** In a sentence: a PDF document. */
    public String noun() {
        return noun;
    }

    /** Whether a file like this may be read so. */
    boolean suits(Format format) {
        return formats.contains(format);
    }

    /** @throws FileRejectedException where the file is known and cannot be read at all, such as an encrypted one */
    public static Signature of(Content content) throws IOException, FileRejectedException {
        byte[] start;
        try (InputStream in = content.stream()) {
            start = in.readNBytes(LOOK);
        } catch (Unpacked.DamagedException damaged) {
            throw new FileRejectedException(Reasons.damaged(damaged.getMessage()));
        }
        if (begins(start, 'P', 'K', 3, 4) || begins(start, 'P', 'K', 5, 6)) {
            return zip(content.seekable());
        }
        if (begins(start, 0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1)) {
            return ole(content.seekable());
        }
        return of(start);
    }

    private static Signature of(byte[] start) {
        return begins(start, 'P', 'A', 'R', '1')
                ? PARQUET
                : begins(start, 'P', 'A', 'R', 'E')
                        ? PARQUET
                        : begins(start, '%', 'P', 'D', 'F')
                                ? PDF
                                : begins(start, 0x89, 'P', 'N', 'G')
                                                || begins(start, 0xff, 0xd8, 0xff)
                                                || begins(start, 'G', 'I', 'F', '8')
                                        ? PICTURE
                                        : !Unpacked.format(start).isEmpty()
                                                ? PACKED
                                                : begins(start, 'S', 'Q', 'L', 'i', 't', 'e', ' ', 'f')
                                                        ? DATABASE
                                                        : begins(start, 0x7f, 'E', 'L', 'F')
                                                                        || begins(start, 'M', 'Z', 0x90)
                                                                ? PROGRAM
                                                                : TEXT;
    }

    private static Signature zip(SeekableByteChannel file) throws FileRejectedException, IOException {
        try (file;
                ZipFile zip = Archive.index(file)) {
            if (zip.getEntry("xl/workbook.bin") != null) {
                return XLSB;
            }
            if (zip.getEntry("xl/workbook.xml") != null
                    || (zip.getEntry("[Content_Types].xml") != null
                            && Collections.list(zip.getEntries()).stream()
                                    .anyMatch(entry -> entry.getName().endsWith("workbook.xml")))) {
                return XLSX;
            }
            if (zip.getEntry("[Content_Types].xml") != null) {
                return OLD_DOCUMENT;
            }
            return zip.getEntry("mimetype") != null && zip.getEntry("content.xml") != null ? OPEN_DOCUMENT : ZIP;
        } catch (IOException | IllegalArgumentException damaged) {
            throw new FileRejectedException(Reasons.damaged(
                    "begins like a zip archive or an xlsx workbook and cannot be opened: it was cut off or damaged ("
                            + damaged.getMessage() + ")"));
        }
    }

    private static Signature ole(SeekableByteChannel file) throws FileRejectedException {
        try (file;
                POIFSFileSystem files = XlsBook.documents(file)) {
            DirectoryNode root = files.getRoot();
            if (root.hasEntryCaseInsensitive("EncryptedPackage")) {
                throw new FileRejectedException(Reasons.encrypted("workbook"));
            }
            return List.of("Workbook", "Book").stream().anyMatch(root::hasEntryCaseInsensitive) ? XLS : OLD_DOCUMENT;
        } catch (IOException | RuntimeException damaged) {
            throw new FileRejectedException(Reasons.damaged(
                    "begins like an old workbook (xls) and cannot be opened: it was cut off or damaged ("
                            + damaged.getMessage() + ")"));
        }
    }

    private static boolean begins(byte[] start, int... bytes) {
        return Unpacked.begins(start, bytes);
    }
}
