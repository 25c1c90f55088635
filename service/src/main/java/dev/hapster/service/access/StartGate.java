package dev.hapster.service.access;

import io.quarkus.runtime.StartupEvent;
import io.quarkus.vertx.http.runtime.filters.Filters;
import io.vertx.core.Context;
import io.vertx.core.Promise;
import io.vertx.ext.web.RoutingContext;
import jakarta.annotation.Priority;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;

/**
 * Keeps calls waiting that come before the service has put its store in order, which takes a moment: what they would be
 * told is not known yet. That the process is alive is answered at once.
 */
@ApplicationScoped
class StartGate {

    /** Behind all else that a start does. */
    private static final int LAST = 10_000;

    private final Promise<Void> started = Promise.promise();

    void register(@Observes Filters filters) {
        filters.register(this::pass, 970);
    }

    void open(@Observes @Priority(LAST) StartupEvent start) {
        started.tryComplete();
    }

    private void pass(RoutingContext call) {
        if (started.future().isComplete() || call.normalizedPath().equals("/health/live")) {
            call.next();
            return;
        }
        Context own = call.vertx().getOrCreateContext();
        call.request().pause();
        started.future()
                .onComplete(over -> own.runOnContext(go -> {
                    call.request().resume();
                    call.next();
                }));
    }
}
