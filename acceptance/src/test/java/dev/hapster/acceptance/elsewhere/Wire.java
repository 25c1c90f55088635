package dev.hapster.acceptance.elsewhere;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.logging.Level;
import java.util.logging.Logger;

/** A way to a server on this machine, on which bytes get lost or stuck. */
public final class Wire implements AutoCloseable {

    private static final Logger LOG = Logger.getLogger(Wire.class.getName());

    private final ServerSocket listening;
    private final int server;
    private final Set<Socket> open = ConcurrentHashMap.newKeySet();
    private final AtomicInteger cuts = new AtomicInteger();
    private volatile long bytesToCut;
    private final AtomicInteger stalls = new AtomicInteger();
    private volatile boolean down;
    private volatile boolean slow;
    private volatile String answer;

    Wire(int server) throws IOException {
        this.server = server;
        listening = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
        thread(this::accept);
    }

    public int port() {
        return listening.getLocalPort();
    }

    /** Cuts connections, so many times, each after so many bytes from the server. */
    public void cut(int times, long bytes) {
        bytesToCut = bytes;
        cuts.set(times);
    }

    /** Lets the server fall silent in the midst of an answer, on so many connections. */
    public void stall(int times, long bytes) {
        bytesToCut = bytes;
        stalls.set(times);
    }

    /** Lets about a megabyte a second through. */
    public void slow(boolean now) {
        slow = now;
    }

    /** Nothing gets through, until it is up again. */
    public void down(boolean now) throws IOException {
        down = now;
        if (now) {
            drop();
        }
    }

    /** Ends all connections. */
    public void drop() throws IOException {
        for (Socket one : open) {
            one.close();
        }
    }

    /** What is answered to everything (HTTP) instead of asking the server; null asks it. */
    public void answer(String status) throws IOException {
        answer = status;
        drop();
    }

    /** How often connections were, or are still to be, disturbed. */
    public int left() {
        return Math.max(cuts.get(), stalls.get());
    }

    private static void thread(Runnable work) {
        Thread thread = new Thread(work, "wire");
        thread.setDaemon(true);
        thread.start();
    }

    private void accept() {
        while (!listening.isClosed()) {
            try {
                Socket near = listening.accept();
                if (down) {
                    near.close();
                    continue;
                }
                if (answer != null) {
                    thread(() -> tell(near));
                    continue;
                }
                Socket far = new Socket(InetAddress.getLoopbackAddress(), server);
                open.add(near);
                open.add(far);
                thread(() -> copy(near, far, false));
                thread(() -> copy(far, near, true));
            } catch (IOException closed) {
                LOG.log(Level.FINE, "A connection was not made", closed);
            }
        }
    }

    private void tell(Socket near) {
        try (near) {
            near.setSoTimeout(200);
            near.getInputStream().read(new byte[1 << 14]);
            near.getOutputStream()
                    .write(("HTTP/1.1 " + answer + "\r\nContent-Length: 0\r\nConnection: close\r\n\r\n")
                            .getBytes(StandardCharsets.US_ASCII));
            near.shutdownOutput();
        } catch (IOException gone) {
            LOG.log(Level.FINE, "Nobody waited for the answer", gone);
        }
    }

    private void copy(Socket from, Socket to, boolean answers) {
        try (from;
                to) {
            InputStream in = from.getInputStream();
            OutputStream out = to.getOutputStream();
            byte[] block = new byte[8192];
            long sent = 0;
            for (int count = in.read(block); count >= 0; count = in.read(block)) {
                sent += count;
                if (answers && sent > bytesToCut && cuts.getAndUpdate(left -> Math.max(0, left - 1)) > 0) {
                    return;
                }
                if (answers && sent > bytesToCut && stalls.getAndUpdate(left -> Math.max(0, left - 1)) > 0) {
                    Thread.sleep(60_000);
                }
                if (answers && slow) {
                    Thread.sleep(8);
                }
                out.write(block, 0, count);
                out.flush();
            }
        } catch (IOException | InterruptedException cut) {
            LOG.log(Level.FINE, "A connection ended", cut);
        } finally {
            open.remove(from);
            open.remove(to);
        }
    }

    @Override
    public void close() throws IOException {
        listening.close();
        drop();
    }
}
