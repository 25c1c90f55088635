package dev.hapster.core.query.write;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.PipedInputStream;
import java.io.PipedOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.apache.commons.compress.archivers.zip.ZipArchiveEntry;
import org.apache.commons.compress.archivers.zip.ZipArchiveInputStream;

/**
 * Takes a workbook as it is written, and passes it on without what its sheets say of their size. The library writes a
 * sheet before it knows how large it becomes, and says of each that it is one cell; programs that believe it read one
 * cell. A sheet may be without (ECMA-376, 18.3.1.35). What is written is compressed on a thread of its own.
 */
final class SheetsWithoutSize extends OutputStream {

    private static final String SIZE = "<dimension ref=\"A1\"/>";
    /** Within so many bytes it stands, if at all. */
    private static final int BEGINNING = 4096;

    private static final int BUFFER = 1 << 16;

    private final PipedOutputStream in = new PipedOutputStream();
    private final Thread worker;
    private volatile IOException failure;

    /** @param out stays open; it belongs to whoever gave it */
    SheetsWithoutSize(OutputStream out) {
        PipedInputStream passed = new PipedInputStream(BUFFER);
        try {
            in.connect(passed);
        } catch (IOException impossible) {
            throw new IllegalStateException("A new pipe is not connected yet", impossible);
        }
        worker = new Thread(
                () -> {
                    try (passed) {
                        copy(passed, out);
                        passed.transferTo(OutputStream.nullOutputStream()); // the table of contents
                    } catch (IOException wrong) {
                        failure = wrong;
                    }
                },
                "workbook");
        worker.setDaemon(true);
        worker.start();
    }

    private static void copy(InputStream from, OutputStream to) throws IOException {
        ZipArchiveInputStream zip = new ZipArchiveInputStream(from, "UTF-8", true, true);
        ZipOutputStream made = new ZipOutputStream(to, StandardCharsets.UTF_8);
        for (ZipArchiveEntry entry = zip.getNextEntry(); entry != null; entry = zip.getNextEntry()) {
            made.putNextEntry(new ZipEntry(entry.getName()));
            if (entry.getName().startsWith("xl/worksheets/sheet")) {
                made.write(beginning(zip));
            }
            zip.transferTo(made);
            made.closeEntry();
        }
        made.finish();
    }

    private static byte[] beginning(InputStream sheet) throws IOException {
        ByteArrayOutputStream begin = new ByteArrayOutputStream();
        begin.write(sheet.readNBytes(BEGINNING));
        String text = begin.toString(StandardCharsets.ISO_8859_1); // a byte a character, whatever it is
        return text.replace(SIZE, "").getBytes(StandardCharsets.ISO_8859_1);
    }

    @Override
    public void write(int b) throws IOException {
        write(new byte[] {(byte) b}, 0, 1);
    }

    @Override
    public void write(byte[] bytes, int from, int length) throws IOException {
        try {
            in.write(bytes, from, length);
        } catch (IOException broken) {
            throw failure == null ? broken : failure;
        }
    }

    /** Waits until everything is passed on. */
    void finish() throws IOException {
        in.close();
        try {
            worker.join();
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new IOException("Interrupted while a workbook was written", stopped);
        }
        if (failure != null) {
            throw failure;
        }
    }
}
