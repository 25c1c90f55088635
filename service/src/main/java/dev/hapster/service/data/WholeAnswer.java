package dev.hapster.service.data;

import io.vertx.core.http.HttpServerResponse;
import io.vertx.ext.web.RoutingContext;
import java.io.IOException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Rows as a stream that cannot be taken for whole where it is not: how many there will be stands in front of it, how
 * many there were behind it, and where something goes wrong in between the connection is broken off.
 */
public final class WholeAnswer {

    /** A header: how many rows the answer has. */
    public static final String ROWS = "Hapster-Rows";
    /** A trailer: how many rows were written. */
    public static final String WRITTEN = "Hapster-Rows-Written";

    /**
     * Bytes of parts up to which all of them are read before the first row is sent, so that what is wrong can be said.
     */
    public static final long READ_BEFORE = 100_000_000;

    /** An answer of which nothing is read for so long is given up. */
    private static final long MOST_UNREAD_MILLIS = 60_000;

    private static final Logger LOG = LoggerFactory.getLogger(WholeAnswer.class);

    private WholeAnswer() {}

    /** Writes rows, and returns how many. */
    public interface Rows {
        long write() throws IOException;
    }

    /** Writes rows of which nobody knows before how many there will be. */
    public static void write(RoutingContext call, Rows rows) throws IOException {
        write(call, -1, rows);
    }

    /**
     * Writes the rows of an answer.
     *
     * @param expected how many there are
     * @throws IOException where not all could be written; the connection is closed then, unless nothing was sent yet
     */
    public static void write(RoutingContext call, long expected, Rows rows) throws IOException {
        HttpServerResponse wire = call.response();
        long[] seen = {-1};
        long watch = call.vertx().setPeriodic(MOST_UNREAD_MILLIS, time -> {
            if (wire.writeQueueFull() && wire.bytesWritten() == seen[0]) {
                LOG.warn("An answer with rows was broken off: nobody has read of it for a while");
                wire.reset();
            }
            seen[0] = wire.bytesWritten();
        });
        boolean whole = false;
        try {
            long written = rows.write();
            if (expected >= 0 && written != expected) {
                throw new IOException("Of " + expected + " rows " + written + " were written");
            }
            wire.putTrailer(WRITTEN, Long.toString(written));
            whole = true;
        } finally {
            call.vertx().cancelTimer(watch);
            if (!whole && wire.headWritten() && !wire.closed()) {
                LOG.warn("An answer with rows was broken off before it was whole");
                wire.reset();
            }
        }
    }
}
