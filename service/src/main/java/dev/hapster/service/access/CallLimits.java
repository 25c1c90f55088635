package dev.hapster.service.access;

import io.netty.channel.Channel;
import io.netty.util.Attribute;
import io.netty.util.AttributeKey;
import io.netty.util.concurrent.ScheduledFuture;
import io.quarkus.vertx.http.runtime.filters.Filters;
import io.vertx.core.Vertx;
import io.vertx.core.buffer.Buffer;
import io.vertx.core.http.HttpHeaders;
import io.vertx.core.http.HttpMethod;
import io.vertx.core.http.HttpServerRequest;
import io.vertx.core.net.impl.ConnectionBase;
import io.vertx.ext.web.RoutingContext;
import io.vertx.ext.web.impl.RoutingContextInternal;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.ws.rs.ServiceUnavailableException;
import java.time.Duration;
import java.util.Set;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/**
 * Keeps slow and careless callers from taking what others need. The body of a call is gathered before anybody works on
 * it, so that half a body keeps no thread; it must be JSON, which no form of a foreign page can send, be whole in time,
 * and no larger than any definition. Of the answers that go on for long, only so many are written at a time.
 */
@ApplicationScoped
public class CallLimits {

    private static final int MOST_BYTES = 2 << 20;
    private static final long MOST_MILLIS = TimeUnit.SECONDS.toMillis(20);
    private static final Set<HttpMethod> CHANGING = Set.of(HttpMethod.POST, HttpMethod.PUT, HttpMethod.PATCH);

    /** The name that Vert.x gives to what closes a connection on which nothing moves. */
    private static final String IDLE = "idle";

    private static final AttributeKey<Integer> CALLS = AttributeKey.valueOf(CallLimits.class, "calls");
    /** What closes a connection where no other call comes. */
    private static final AttributeKey<ScheduledFuture<?>> CLOSING = AttributeKey.valueOf(CallLimits.class, "closing");

    private final Vertx vertx;
    private final Semaphore exports;
    private final Duration mostIdle;

    CallLimits(
            Vertx vertx,
            @ConfigProperty(name = "hapster.exports", defaultValue = "16") int exports,
            @ConfigProperty(name = "quarkus.http.idle-timeout") Duration mostIdle) {
        this.vertx = vertx;
        this.mostIdle = mostIdle;
        this.exports = new Semaphore(exports);
    }

    void register(@Observes Filters filters) {
        filters.register(this::mayTakeLong, 950);
        filters.register(this::gather, 900);
    }

    /**
     * A connection on which no call begins in time is closed, so that half a head keeps none, nor one that comes drop
     * by drop; but one that waits for its answer, however long that takes, stays. Runs on the connection's event loop.
     */
    private void mayTakeLong(RoutingContext call) {
        if (call.request().connection() instanceof ConnectionBase connection) {
            Channel channel = connection.channel();
            calls(channel, 1);
            if (channel.pipeline().get(IDLE) != null) {
                channel.pipeline().remove(IDLE); // it would close connections that wait for an answer
            }
            ScheduledFuture<?> closing = channel.attr(CLOSING).getAndSet(null);
            if (closing != null) {
                closing.cancel(false);
            }
            call.addEndHandler(over -> channel.eventLoop().execute(() -> {
                if (calls(channel, -1) == 0 && channel.isActive()) {
                    channel.attr(CLOSING)
                            .set(channel.eventLoop()
                                    .schedule(() -> close(channel), mostIdle.toMillis(), TimeUnit.MILLISECONDS));
                }
            }));
        }
        call.next();
    }

    /** Closes a connection; whether that ends well concerns nobody. */
    static void close(Channel channel) {
        channel.close().addListener(closed -> {});
    }

    /** Whether any call has come on a connection. */
    static boolean hasCalled(Channel channel) {
        return channel.attr(CALLS).get() != null;
    }

    /** Counts the calls that a connection waits for. */
    private static int calls(Channel channel, int more) {
        Attribute<Integer> waiting = channel.attr(CALLS);
        int count = (waiting.get() == null ? 0 : waiting.get()) + more;
        waiting.set(count);
        return count;
    }

    private void gather(RoutingContext call) {
        HttpServerRequest request = call.request();
        if (!CHANGING.contains(request.method())) {
            call.next();
            return;
        }
        String type = request.getHeader(HttpHeaders.CONTENT_TYPE);
        if (type == null || !type.strip().toLowerCase(java.util.Locale.ROOT).startsWith("application/json")) {
            end(call, 415, "Calls that change something are sent as JSON: Content-Type: application/json");
            return;
        }
        Buffer body = Buffer.buffer();
        long late = vertx.setTimer(MOST_MILLIS, timer -> {
            if (!request.isEnded()) {
                end(call, 408, "The body of the call was not there within " + MOST_MILLIS / 1000 + " s");
            }
        });
        request.exceptionHandler(gone -> vertx.cancelTimer(late));
        request.handler(piece -> {
            if (body.length() + piece.length() <= MOST_BYTES) {
                body.appendBuffer(piece);
            } else if (!call.response().ended()) {
                vertx.cancelTimer(late);
                end(call, 413, "A body has at most " + MOST_BYTES / (1 << 20) + " MiB; this one has more");
            }
        });
        request.endHandler(whole -> {
            vertx.cancelTimer(late);
            if (!call.response().ended()) {
                ((RoutingContextInternal) call).setBody(body);
                call.next();
            }
        });
    }

    /** Answers a call of which the rest is not waited for. */
    private static void end(RoutingContext call, int status, String detail) {
        call.response().putHeader(HttpHeaders.CONNECTION, HttpHeaders.CLOSE);
        CallerGuard.refuse(call, status, "call-not-taken", detail);
    }

    /**
     * Takes one of the places for answers that go on for long; it is free again once the answer ends, or whoever asked
     * is gone.
     *
     * @throws ServiceUnavailableException where all are taken
     */
    public void takeLongAnswer(RoutingContext call) {
        if (!exports.tryAcquire()) {
            throw new ServiceUnavailableException(
                    "As many exports as the service writes at a time are going on. Try again in a moment");
        }
        call.addEndHandler(over -> exports.release());
    }
}
