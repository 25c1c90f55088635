package dev.hapster.service.log;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectReader;
import dev.hapster.service.log.RunLogs.Lines;
import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;

/** Reads the file of a log, from any place in it, also while it is being written. */
final class LogFile {

    /** So much is read for each line that is asked for: most are shorter. */
    private static final int BYTES_A_LINE = 512;
    /** So much is read in any case; no line is longer, since its texts are shortened. */
    private static final int FEWEST_BYTES = 128 << 10;

    private LogFile() {}

    static boolean endsWithLine(Path file) throws IOException {
        try (RandomAccessFile bytes = new RandomAccessFile(file.toFile(), "r")) {
            if (bytes.length() == 0) {
                return true;
            }
            bytes.seek(bytes.length() - 1);
            return bytes.read() == '\n';
        }
    }

    /**
     * @param from where to begin, in bytes: at the beginning of a line, otherwise with the next one
     * @param limit of lines that are given
     * @param least those that matter less are passed over
     */
    static Lines read(Path file, ObjectReader json, long from, int limit, LogLevel least) throws IOException {
        try (FileChannel channel = FileChannel.open(file, StandardOpenOption.READ)) {
            long begin = Math.max(0, Math.min(from, channel.size()));
            long before = Math.max(0, begin - 1);
            ByteBuffer bytes = ByteBuffer.allocate(
                    (int) Math.min(Math.max(FEWEST_BYTES, (long) limit * BYTES_A_LINE), channel.size() - before));
            while (bytes.hasRemaining() && channel.read(bytes, before + bytes.position()) >= 0) {
                // until there is no more of it
            }
            bytes.flip();
            int at = (int) (begin - before);
            if (at > 0 && bytes.hasRemaining() && bytes.get(0) != '\n') {
                at = after(bytes, at); // somewhere within a line
            }
            List<LogLine> lines = new ArrayList<>();
            for (int next = after(bytes, at); next > at && lines.size() < limit; next = after(bytes, at)) {
                String line = new String(bytes.array(), at, next - 1 - at, StandardCharsets.UTF_8);
                at = next;
                add(line, json, least, lines);
            }
            boolean more = after(bytes, at) > at || before + bytes.limit() < channel.size();
            return new Lines(lines, before + at, more);
        }
    }

    private static void add(String line, ObjectReader json, LogLevel least, List<LogLine> lines) {
        try {
            LogLine read = json.readValue(line);
            if (read.matters(least)) {
                lines.add(read);
            }
        } catch (JsonProcessingException torn) {
            return; // a kill cut it off
        }
    }

    /** Behind the next line break; the same place where there is none. */
    private static int after(ByteBuffer bytes, int at) {
        for (int i = at; i < bytes.limit(); i++) {
            if (bytes.get(i) == '\n') {
                return i + 1;
            }
        }
        return at;
    }
}
